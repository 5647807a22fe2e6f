// The two states that a page compares, and how their faces are told.
import { Doc, Refused } from "../bench/doc";
import type { Show } from "../bench/view/scene";
import type { Pair } from "./pair";

const opened = (of: string): Doc => {
  const [id, mesh, map, seq] = of.split(" ");
  return new Doc(id!, mesh!, Number(map), Number(seq) >= 0 ? `seq=${seq}` : "");
};

/** The states before and after, which the page names. */
export const sides = (): [Doc, Doc] => [opened(document.body.dataset.before!), opened(document.body.dataset.after!)];

/** All faces of the part that a face belongs to, or of its shell where the parts are not known yet. */
export function partOf(doc: Doc, face: number): number[] {
  const own = doc.layout.facePart, out: number[] = [];
  own.forEach((p, f) => { if (p === own[face]) out.push(f); });
  return out;
}

/** Lets a choice of what is shown be made; those left out are not offered. */
export function listenShow(pair: Pair, without: readonly Show[] = []): void {
  const all = [...document.querySelectorAll<HTMLButtonElement>("[data-show]")], offered = all.filter((b) => !without.includes(b.dataset.show as Show));
  const paint = (show: Show): void => {
    for (const b of all) b.setAttribute("aria-pressed", String(b.dataset.show === show));
    pair.paint(show);
  };
  for (const b of all) b.hidden = !offered.includes(b);
  for (const b of offered) b.onclick = () => paint(b.dataset.show as Show);
  paint(offered[0]!.dataset.show as Show);
}

/** A choice of states is shown as soon as it is made. */
export function listenChoice(): void {
  for (const s of document.querySelectorAll<HTMLSelectElement>("#states select")) s.onchange = () => s.form!.submit();
}

/** Tells what went wrong; what the server did not say is said in these words. */
export function trouble(e: unknown, words: string): void {
  const el = document.getElementById("trouble")!;
  el.textContent = e instanceof Refused ? e.message : words;
  el.hidden = false;
  if (!(e instanceof Refused)) console.error(e);
}
