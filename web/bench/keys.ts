// Keys: which verb one means here, by the tables.
import { carry, views, attempt, join, live, setup, at } from "./state";
import { nudge } from "../station/sheet/tray";
import { tried } from "./forms";
import { unmet } from "./needs";
import { does, here, type Known } from "./verbs";

/** A key as the tables say it: C, Shift+Q, Ctrl+A, Esc, +. */
export function named(e: KeyboardEvent): string {
  const digit = /^Digit(\d)$/.exec(e.code)?.[1];
  const key = e.key === "Escape" ? "Esc" : digit && e.shiftKey ? digit : e.key.length === 1 ? e.key.toUpperCase() : e.key;
  const shift = e.shiftKey && (/^[A-Z0-9]$/.test(key) || key.length > 1) ? "Shift+" : "";
  return `${e.ctrlKey || e.metaKey ? "Ctrl+" : ""}${shift}${key}`;
}

/** Where what is typed is text, or a choice of a list by its first letters. */
const writes = (t: EventTarget | null): boolean =>
  t instanceof HTMLTextAreaElement || t instanceof HTMLSelectElement || (t instanceof HTMLInputElement && !["checkbox", "radio", "range", "button", "file"].includes(t.type));

let typed: EventTarget | null = null; // a field with something that nobody heard of yet

/** Whether Enter in a field says what was typed, so that what it gives is seen before it is taken. */
function wait(field: HTMLElement): boolean {
  if (typed !== field) return false;
  if (tried()) return true; // the browser tells of the change
  field.dispatchEvent(new Event("change", { bubbles: true }));
  return false;
}

/** The verb that a key means: the first that can be done, else the first. */
function meant(key: string): Known | undefined {
  const list = here().filter((k) => k.verb.key === key);
  const begun = list.find((k) => k.verb.takes === "begun" && !unmet(k.verb));
  return begun ?? list.find((k) => !unmet(k.verb)) ?? list[0];
}

/** Whether Enter presses what has the focus though something is shown: what belongs to that. */
const presses = (t: EventTarget | null): boolean => t instanceof Element && !!t.closest("#ghost .button, #tray button, .popover button, .popover a, summary");

export function listenKeys(): void {
  document.addEventListener("input", (e) => { typed = e.target; });
  document.addEventListener("change", (e) => { if (typed === e.target) typed = null; });
  document.addEventListener("keydown", (e) => {
    if (e.defaultPrevented || document.querySelector("dialog[open]")) return;
    const t = e.target, key = named(e);
    if (writes(t)) {
      if (key === "Esc") (t as HTMLElement).blur();
      else if (key !== "Ctrl+K" && (key !== "Enter" || !at.form || wait(t as HTMLElement))) return;
    }
    if (e.altKey) return;
    if (nudge(e)) { e.preventDefault(); return; }
    if (key === "L") { views.piece.freehand = views.sheet.freehand = true; return; }
    const shown = join.active || live.active || setup.active || at.form !== "";
    if (key === "Enter" && (!shown || presses(t))) return;
    const k = meant(key);
    if (!k) return;
    e.preventDefault();
    void attempt(() => does(k));
  });
  document.addEventListener("keyup", (e) => {
    if (e.key === "l" || e.key === "L") views.piece.freehand = views.sheet.freehand = false;
    if (e.key.startsWith("Arrow")) carry.released();
  });
}
