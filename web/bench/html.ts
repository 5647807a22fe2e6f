// HTML from pieces: every value put into it is text unless it is such HTML itself, so that
// no name of a part or an object ever becomes markup.
import htmx from "htmx.org";

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

/** Shows a fragment that our server rendered; what is the same stays the same elements, so
 * that focus is kept and no click falls between two of them. */
export function morph(el: Element, fragment: string, swap: "innerMorph" | "outerMorph" = "innerMorph"): void { void htmx.swap({ target: el, text: fragment, swap }); }
