// HTML from pieces: every value put into it is text unless it is such HTML itself, so that
// no name of a part or an object ever becomes markup.

/** HTML that may be shown as it is. */
export class Markup {
  constructor(readonly text: string) {}
}

type Value = string | number | boolean | null | undefined | Markup | Value[];

const marks: Record<string, string> = { "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;", "'": "&#39;" };

function written(v: Value): string {
  if (v instanceof Markup) return v.text;
  if (Array.isArray(v)) return v.map(written).join("");
  if (v === null || v === undefined || v === false) return "";
  return String(v).replace(/[&<>"']/g, (c) => marks[c]!);
}

/** A template of HTML; false and nothing are left out, lists are written one after the other. */
export function html(parts: TemplateStringsArray, ...values: Value[]): Markup {
  return new Markup(parts.reduce((text, p, i) => text + p + (i < values.length ? written(values[i]) : ""), ""));
}

/** Pieces with something between them. */
export function joined(list: Value[], between: string): Markup { return new Markup(list.map(written).join(between)); }

/** Shows HTML in place of what an element held. */
export function show(el: Element, what: Markup): void { el.innerHTML = what.text; }

/** Shows a fragment that our server rendered. */
export function showFragment(el: Element, fragment: string): void { el.innerHTML = fragment; }

/** Puts a row that our server rendered in place of another; focus within it stays where it was. */
export function replaceRow(selector: string, fragment: string): void {
  const old = document.querySelector(selector);
  if (!old) return;
  const box = document.createElement("template");
  box.innerHTML = fragment;
  const row = box.content.querySelector("tr");
  if (!row) return;
  const focus = [...old.querySelectorAll("button")].indexOf(document.activeElement as HTMLButtonElement);
  old.replaceWith(row);
  if (focus >= 0) row.querySelectorAll("button")[focus]?.focus();
}
