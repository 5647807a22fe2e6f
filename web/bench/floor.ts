// How the two views share the room: side by side with a divider between them, swapped, or one alone.
import { $ } from "./state";

const floor = (): HTMLElement => document.querySelector<HTMLElement>(".floor")!;

/** One view has all the room, or both again. */
export function large(view: "piece" | "sheet"): void {
  const f = floor(), on = f.dataset.large !== view;
  if (on) f.dataset.large = view; else delete f.dataset.large;
  keep("large", on ? view : "");
}

/** Model and sheet change places. */
export function swap(): void {
  const on = floor().toggleAttribute("data-swapped");
  keep("swapped", on ? "yes" : "");
}

const keep = (name: string, value: string): void => { if (value) localStorage.setItem(name, value); else localStorage.removeItem(name); };

/** The sizes are as they were left; the divider is dragged, or moved by arrow keys. */
export function listenFloor(): void {
  const d = $("divider"), f = floor(), swapped = (): boolean => f.hasAttribute("data-swapped");
  const set = (px: number): void => { f.style.setProperty("--split", `${px}px`); d.setAttribute("aria-valuenow", String(Math.round((100 * px) / (innerWidth - 325)))); localStorage.setItem("split", String(px)); };
  const saved = Number(localStorage.getItem("split")), alone = localStorage.getItem("large");
  if (saved > 160 && saved < innerWidth - 520) set(saved);
  if (localStorage.getItem("swapped")) f.setAttribute("data-swapped", "");
  if (alone === "piece" || alone === "sheet") f.dataset.large = alone;
  d.onpointerdown = (e) => d.setPointerCapture(e.pointerId);
  d.onpointermove = (e) => { if (e.buttons) set(Math.max(160, Math.min(innerWidth - 490, e.clientX - 320))); };
  d.onkeydown = (e) => { const k = { ArrowLeft: -20, ArrowRight: 20 }[e.key]; if (k) set(Math.max(160, $(swapped() ? "sheet" : "piece").clientWidth + k)); };
}
