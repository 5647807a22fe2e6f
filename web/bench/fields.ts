// Fields for numbers: they take sums and units ("3/8 in", "2*12 mm"), step with the arrow keys,
// are scrubbed by their name, and let no number in that is not possible.
import { evaluate } from "./arithmetic";

const number = (s: string | undefined, usual: number): number => (s === undefined || s === "" ? usual : Number(s));

const shown = (x: number): string => String(Number(x.toPrecision(7)));

const before = new WeakMap<HTMLInputElement, string>();

function wrong(el: HTMLInputElement, why: string): void {
  el.setCustomValidity(why);
  el.toggleAttribute("aria-invalid", !!why);
  el.title = why || el.dataset.title || "";
}

/** The field says a number that is possible, or is marked with why not. */
function settle(el: HTMLInputElement): boolean {
  if (el.value.trim() === "" && el.dataset.num === "") return true;
  const x = evaluate(el.value, el.dataset.num ?? "", Number(before.get(el) ?? el.defaultValue));
  if (typeof x === "string") { wrong(el, x); return false; }
  const least = number(el.dataset.min, -Infinity), most = number(el.dataset.max, Infinity);
  el.value = shown(Math.max(least, Math.min(most, el.dataset.whole === undefined ? x : Math.round(x))));
  before.set(el, el.value);
  wrong(el, "");
  return true;
}

const isNumber = (t: EventTarget | null): t is HTMLInputElement => t instanceof HTMLInputElement && t.dataset.num !== undefined;

function step(el: HTMLInputElement, by: number): void {
  const x = Number(el.value), size = number(el.dataset.step, 0) || 10 ** Math.floor(Math.log10(Math.max(Math.abs(x), 1e-3)) - 1 + 1e-9);
  el.value = shown(Math.round((x + by * size) / size) * size);
  settle(el);
  el.dispatchEvent(new Event("input", { bubbles: true }));
}

export function listenFields(): void {
  document.addEventListener("focusin", (e) => { if (isNumber(e.target)) { before.set(e.target, e.target.value); e.target.dataset.title ??= e.target.title; } });
  document.addEventListener("change", (e) => {
    if (isNumber(e.target) && !settle(e.target)) e.stopImmediatePropagation(); // nobody hears of what is no number
  }, true);
  document.addEventListener("keydown", (e) => {
    const el = e.target, by = { ArrowUp: 1, ArrowDown: -1 }[e.key];
    if (!isNumber(el)) return;
    if (by) { e.preventDefault(); step(el, by * (e.shiftKey ? 10 : 1)); el.dispatchEvent(new Event("change", { bubbles: true })); }
    if (e.key === "Escape" && before.has(el)) { el.value = before.get(el)!; wrong(el, ""); }
  });
  listenScrubbing();
}

/** Dragging the name of a field changes its number. */
function listenScrubbing(): void {
  let of: { el: HTMLInputElement; x: number; moved: boolean } | null = null;
  document.addEventListener("pointerdown", (e) => {
    const t = e.target as HTMLElement, el = t.closest?.("label.set")?.querySelector<HTMLInputElement>("input[data-num]");
    if (!el || e.button !== 0 || t.closest("input, select, button")) return;
    of = { el, x: e.clientX, moved: false };
    before.set(el, el.value);
  });
  document.addEventListener("pointermove", (e) => {
    if (!of || !e.buttons) { of = null; return; }
    const by = Math.trunc((e.clientX - of.x) / 6);
    if (!by) return;
    of.moved = true;
    of.x += 6 * by;
    step(of.el, by * (e.shiftKey ? 10 : 1));
  });
  document.addEventListener("pointerup", (e) => {
    const was = of;
    of = null;
    if (!was?.moved) return;
    e.preventDefault();
    was.el.dispatchEvent(new Event("change", { bubbles: true }));
  });
}
