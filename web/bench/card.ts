// The route card in the page: which rows are chosen, folded or filtered out.
import { morph } from "./html";
import type { Card as CardPatch } from "../wire/wire";

const $ = <T extends HTMLElement>(id: string): T => document.getElementById(id) as T;

export class Card {
  private readonly unfolded = new Set<string>(); // parts whose repeats are shown

  constructor(private readonly chosen: () => ReadonlySet<number>) {}

  /** Shows the rows that changed, or all anew. */
  take(p: CardPatch): void {
    if (p.whole !== undefined) { morph($("card"), p.whole); this.came(); return; }
    document.querySelectorAll(".card thead .todo").forEach((el, i) => morph(el, p.sums[i] ?? ""));
    for (const [part, row] of Object.entries(p.rows ?? {})) {
      const old = document.getElementById(`row-${part}`);
      if (old) morph(old, row, "outerMorph");
    }
  }

  private order = new Map<string, number>(); // rows as they came

  /**
   * The card comes along with the page, before anything is known here: whether it has to be asked for again,
   * since it tells of another state than this one.
   */
  first(revision: number): boolean {
    this.awaited = revision;
    return $("card").querySelector("table") !== null && this.came();
  }
  private awaited = 0; // the state that the first card is to tell of

  /** All rows stand there anew; true if they are those of an older state than is awaited. */
  came(): boolean {
    const older = this.awaited > Number($("card").querySelector<HTMLElement>("table")?.dataset.revision);
    this.awaited = 0;
    this.order = new Map(rows().map((r, i) => [r.dataset.part!, i]));
    return older;
  }

  fold(part: string): void {
    if (!this.unfolded.delete(part)) this.unfolded.add(part);
    this.filter();
  }

  /** Brings the row of a part into view. */
  reveal(part: number): void { document.getElementById(`row-${part}`)?.scrollIntoView({ block: "nearest" }); }

  mark(station: string): void {
    for (const b of document.querySelectorAll<HTMLElement>(".card thead button")) b.toggleAttribute("aria-current", b.dataset.station === station);
    for (const r of rows()) r.classList.toggle("chosen", this.chosen().has(Number(r.dataset.part)));
    this.filter();
  }

  /** Hides rows that are not asked for, and repeats that are folded under their first; brings the rest into the order that is asked for. */
  filter(): void {
    const words = $<HTMLInputElement>("filter").value.toLowerCase(), state = $<HTMLSelectElement>("card-state").value;
    const all = rows(), marked = (r: HTMLElement): boolean => !state || r.dataset.marks!.split(" ").some((m) => states[state]!.includes(m));
    for (const r of all) {
      const folded = r.dataset.of !== undefined && !this.unfolded.has(r.dataset.of) && !this.chosen().has(Number(r.dataset.part));
      r.hidden = words || state ? !(r.dataset.name!.includes(words) && marked(r)) : folded;
    }
    for (const b of document.querySelectorAll<HTMLElement>("[data-fold]")) b.setAttribute("aria-expanded", String(this.unfolded.has(b.dataset.fold!)));
    this.sort(all);
    $("card-none").hidden = all.length === 0 || all.some((r) => !r.hidden);
  }

  private sort(all: HTMLElement[]): void {
    const by = orders[$<HTMLSelectElement>("card-sort").value]!, at = (r: HTMLElement): number => this.order.get(r.dataset.part!) ?? 0, want = [...all].sort((a, b) => by(a, b) || at(a) - at(b));
    if (want.some((r, i) => r !== all[i])) all[0]!.parentElement!.append(...want);
  }

  /** Arrow keys go from cell to cell of the rows that are shown; true if there was one. */
  arrow(from: HTMLElement, key: string): boolean {
    const cell = from.closest<HTMLElement>("td, th"), row = cell?.closest<HTMLElement>("tr");
    if (!cell || !row) return false;
    const shown = rows().filter((r) => !r.hidden), [dx, dy] = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[key] as [number, number];
    const x = [...row.children].indexOf(cell) + dx, to = shown[shown.indexOf(row) + dy]?.children[x]?.querySelector<HTMLElement>(".partname, .cell");
    to?.focus();
    return !!to;
  }
}

const rows = (): HTMLElement[] => [...document.querySelectorAll<HTMLElement>(".card tbody tr")];

/** Marks of the cells that a choice of states asks for. */
const states: Record<string, string[]> = { todo: ["open", "wrong"], wrong: ["wrong"], look: ["open", "wrong", "suggested", "hand"], hand: ["hand"], signed: ["signed"] };

type Order = (a: HTMLElement, b: HTMLElement) => number;
const many = (r: HTMLElement, of: string[]): number => r.dataset.marks!.split(" ").filter((m) => of.includes(m)).length;
const orders: Record<string, Order> = {
  "": () => 0,
  name: (a, b) => a.dataset.called!.localeCompare(b.dataset.called!, undefined, { numeric: true }),
  shape: (a, b) => a.dataset.reads!.localeCompare(b.dataset.reads!),
  faces: (a, b) => Number(b.dataset.faces) - Number(a.dataset.faces),
  error: (a, b) => Number(b.dataset.error) - Number(a.dataset.error),
  todo: (a, b) => many(b, states.todo!) - many(a, states.todo!),
  look: (a, b) => many(b, states.look!) - many(a, states.look!),
};
