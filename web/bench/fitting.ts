// The verbs that fit what is picked right now, beside the suggestion of the tray: groups with a
// word over each, as many as have room; the rest is in the palette.
import { groups } from "../verbs/verbs";
import { html, keep, nothing, type Markup } from "./html";
import { kind } from "./kinds";
import { unmet, watchNeeds } from "./needs";
import { at, focusView, foretold, picks, points, shells } from "./state";
import { stations } from "./station";
import { effect, store } from "./store";
import { all, foretell, here, type Known } from "./verbs";

const columns = 2, lines = 6; // of a column, with a word over each group

interface Group { says: string; verbs: Known[] }

const many = (n: number, one: string, more: string): string => (n === 1 ? one : `${n} ${more}`);

/** What stands over a group, by what it is about now. */
function over(takes: string): string {
  switch (takes) {
    case "points": return many(points.picked.size, "Picked point", "picked points");
    case "edges": return many(picks.edges.size, "Picked edge", "picked edges");
    case "faces": return many(picks.faces.size, "Picked face", "picked faces");
    case "shells": return at.station === "Sheet" ? many(shells.ids().size, "Chosen shell", "chosen shells") : at.parts.size > 1 || at.whole ? "Their shells" : "Its shell";
    case "parts": return many(at.parts.size, "Chosen part", "chosen parts");
    default: return groups.find((g) => g.takes === takes)!.says;
  }
}

/** The verbs that can be done now, what is picked first. */
function fitting(): Group[] {
  const now = here().filter(({ verb: v }) => !v.rare && (!v.of || v.of.includes(kind())) && !unmet(v));
  return stations[at.station]!.shows.map((takes) => ({ says: over(takes), verbs: now.filter((k) => k.verb.takes === takes) })).filter((g) => g.verbs.length);
}

/** Groups whose verbs may go on in the next column. */
const picked = ["points", "edges", "faces", "shells", "parts", "model"];

/** Groups laid into columns as they have room: what does not fit is left to the palette. */
function layOut(list: Group[]): Group[][] {
  const out: Group[][] = [];
  let room = 0;
  const put = (says: string, verbs: Known[]): Known[] => {
    if (room < 2) { if (out.length === columns) return []; out.push([]); room = lines; }
    out.at(-1)!.push({ says, verbs: verbs.slice(0, room - 1) });
    const left = verbs.slice(room - 1);
    room -= 1 + Math.min(verbs.length, room - 1);
    return left;
  };
  for (const g of list) {
    const left = put(g.says, g.verbs);
    if (left.length && picked.includes(g.verbs[0]!.verb.takes)) put(g.says, left);
  }
  return out;
}

const button = ({ verb: v }: Known): Markup => html`<button data-do="${v.name}" title="${v.what}" class="flex h-5 w-full items-center gap-2 text-left font-head text-[14px]/5 font-semibold hover:bg-pick"><span class="min-w-0 flex-1 truncate">${v.says}</span>${v.key ? html`<kbd class="flex-none text-[11px] font-normal text-soft">${v.key}</kbd>` : nothing}</button>`;

/** While somebody is about to click none of them moves away from under the pointer. */
const pointer = store({ within: false });

function draw(): void {
  if (pointer.within) return;
  watchNeeds();
  void [at.whole, at.drawing];
  const el = document.getElementById("fitting")!, kinds = stations[at.station]!.kinds, held = (document.activeElement as HTMLElement | null)?.closest<HTMLElement>("#fitting [data-do]")?.dataset.do; // the same element may be of another verb now
  const pick = kinds.length > 1 ? html`<span class="flex gap-1" role="group" aria-label="A click picks">${kinds.map((k) => html`<button class="chip h-5!" data-do="kind-${k}" aria-pressed="${String(k === kind() && !at.drawing)}">${k}</button>`)}</span>` : nothing;
  keep(el, html`<div class="grid min-h-0 flex-1 grid-cols-2 gap-x-4 overflow-hidden">${layOut(fitting()).map((c) => html`<div class="min-w-0">${c.map((g) => html`<h3 class="border-b border-rule font-head text-[12px]/[18px] font-medium text-soft first-letter:uppercase">${g.says}</h3><div role="group" aria-label="${g.says}">${g.verbs.map(button)}</div>`)}</div>`)}</div><p class="flex items-center justify-between gap-2 text-[13px]">${pick}<button class="link ml-auto" data-do="palette">all ${all().length} verbs <kbd>Ctrl+K</kbd></button></p>`);
  const focused = document.activeElement as HTMLElement;
  if (held && focused.dataset.do !== held) { // Enter would do another verb than the one it was
    const again = el.querySelector<HTMLElement>(`[data-do="${held}"]`);
    if (again) again.focus(); else { focused.blur(); focusView(); }
  }
  document.body.dataset.picking = kind();
}

/** Begins to keep the verbs in line with what is picked. */
export function watchFitting(): void {
  effect(draw);
  const el = document.getElementById("fitting")!;
  el.addEventListener("pointerenter", () => { pointer.within = true; });
  for (const kind of ["pointerleave", "click"]) el.addEventListener(kind, () => { pointer.within = false; });
  document.addEventListener("keydown", () => { pointer.within = false; }, true);
  const of = (e: Event): string | undefined => (e.target as HTMLElement).closest<HTMLElement>("[data-do]")?.dataset.do;
  for (const kind of ["pointerover", "focusin"] as const) el.addEventListener(kind, (e) => { const name = of(e); if (name) foretell(name); else foretold.drop(); });
  for (const kind of ["pointerleave", "focusout"] as const) el.addEventListener(kind, () => foretold.drop());
}
