// The route card in the page: which rows are chosen, folded or filtered out.
import { morph } from "./html";
import type { Card as CardPatch } from "../wire/wire";

const $ = <T extends HTMLElement>(id: string): T => document.getElementById(id) as T;

export class Card {
  private readonly unfolded = new Set<string>(); // parts whose repeats are shown

  constructor(private readonly chosen: () => ReadonlySet<number>) {}

  /** Shows the rows that changed, or all anew. */
  take(p: CardPatch): void {
    if (p.whole !== undefined) { morph($("card"), p.whole); return; }
    document.querySelectorAll(".card thead .todo").forEach((el, i) => { el.textContent = String(p.to_do[i] ?? ""); });
    for (const [part, row] of Object.entries(p.rows ?? {})) {
      const old = document.getElementById(`row-${part}`);
      if (old) morph(old, row, "outerMorph");
    }
  }

  fold(part: string): void {
    if (!this.unfolded.delete(part)) this.unfolded.add(part);
    this.filter();
  }

  /** Brings the row of a part into view. */
  reveal(part: number): void { document.getElementById(`row-${part}`)?.scrollIntoView({ block: "nearest" }); }

  mark(station: string): void {
    for (const b of document.querySelectorAll<HTMLElement>(".card thead button")) b.toggleAttribute("aria-current", b.dataset.station === station);
    for (const r of document.querySelectorAll<HTMLElement>(".card tbody tr")) r.classList.toggle("chosen", this.chosen().has(Number(r.dataset.part)));
    this.filter();
  }

  /** Hides rows that are not asked for, and repeats that are folded under their first. */
  filter(): void {
    const words = $<HTMLInputElement>("filter").value.toLowerCase();
    for (const r of document.querySelectorAll<HTMLElement>(".card tbody tr")) {
      const folded = r.dataset.of !== undefined && !this.unfolded.has(r.dataset.of) && !this.chosen().has(Number(r.dataset.part));
      r.hidden = words ? !r.dataset.name!.includes(words) : folded;
    }
    for (const b of document.querySelectorAll<HTMLElement>("[data-fold]")) b.setAttribute("aria-expanded", String(this.unfolded.has(b.dataset.fold!)));
  }
}
