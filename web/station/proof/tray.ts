// The tray of the Proof station: the way to what was found. Its faces are picked, and seen in
// both views.
import { $, at, attempt, doc, live, picks, views } from "../../bench/state";
import { Refused } from "../../bench/doc";
import type { Station } from "../../bench/station";
import { choose } from "../../bench/tray";
import { hideParts } from "../../bench/views";

/** Leads to a finding, by its number in the report. */
function showFinding(i: number): void {
  const faces = doc.meta.findings[i] ?? [];
  at.finding = i;
  if (!faces.length) return;
  const here = new Set(faces.map((f) => doc.layout.facePart[f]!));
  if ([...here].some((p) => at.hidden.has(p))) hideParts(new Set([...at.hidden].filter((p) => !here.has(p))));
  choose(doc.layout.facePart[faces[0]!]!, faces[0]!, false);
  picks.clear();
  picks.takeFaces(faces, "instead");
  let seen = views.piece.lookAt(faces);
  if (!seen) { // nothing leads there from outside: what is around it goes aside
    hideParts(new Set(doc.meta.parts.map((_, p) => p).filter((p) => !here.has(p))));
    seen = views.piece.lookAt(faces);
    $("readout").textContent = "the place is closed in: all other parts are set aside, R shows them again";
  }
  document.body.dataset.seen = String(seen);
  views.sheet.zoomTo(faces.flatMap((f) => doc.corners(f)));
}

/** Goes there and shows what mending it would do. */
async function mendFinding(i: number, by: string, how: string): Promise<void> {
  const faces = doc.meta.findings[i] ?? [];
  showFinding(i);
  await live.start(by, { faces, ...(how ? (JSON.parse(how) as object) : {}) }, false);
}

let row = -1; // the finding that is chosen, by its place in the list

const rows = (): HTMLElement[] => [...document.querySelectorAll<HTMLElement>("#findings > li")];

/** The numbers in the report of what a row stands for. */
const numbers = (li: HTMLElement): number[] => li.querySelector<HTMLElement>(".finding")!.dataset.finding!.split(" ").map(Number);

/** Marks the finding that is chosen. */
function mark(i: number): void {
  row = i;
  const all = rows(), li = all[i];
  all.forEach((x, k) => x.querySelector(".finding")!.setAttribute("aria-pressed", String(k === i)));
  $("accept-what").textContent = li ? li.querySelector(".finding")!.textContent!.trim() : "Choose a finding first.";
}

/** Goes on to the next place where something is wrong, or back, over all rows that are shown. */
async function step(by: number): Promise<void> {
  const places = rows().flatMap((li, k) => (li.hidden ? [] : numbers(li).map((i) => ({ i, k }))));
  if (!places.length) throw new Refused("There is no finding to go to.", 422);
  const now = places.findIndex((p) => p.i === at.finding), to = places[(now < 0 && by < 0 ? 0 : now + by + places.length) % places.length]!;
  showFinding(to.i);
  mark(to.k);
  rows()[to.k]!.scrollIntoView({ block: "nearest" });
}

/** Mends a row where one looks, at the first of its places else. */
async function mendRow(li: HTMLElement): Promise<void> {
  const b = li.querySelector<HTMLElement>("[data-mend]"), places = numbers(li);
  if (b) await mendFinding(places.includes(at.finding) ? at.finding : places[0]!, b.dataset.by!, b.dataset.with ?? "");
}

/** Mends the finding that is chosen; it is not offered where nothing does. */
async function mendChosen(): Promise<void> {
  const li = rows()[row];
  if (li) await mendRow(li);
}

/** Leaves out what is not asked for. */
function filter(): void {
  const kind = (document.getElementById("finding-kind") as HTMLSelectElement | null)?.value ?? "", checked = (id: string): boolean => !!(document.getElementById(id) as HTMLInputElement | null)?.checked;
  const here = checked("finding-here"), fresh = checked("finding-new");
  for (const li of rows()) {
    const touches = numbers(li).some((i) => (doc.meta.findings[i] ?? []).some((f) => at.parts.has(doc.layout.facePart[f]!)));
    li.hidden = (kind !== "" && kind !== `!${li.dataset.severity}` && kind !== li.dataset.found) || (here && at.parts.size > 0 && !touches) || (fresh && li.dataset.new === undefined);
  }
}

/** Lets the chosen finding stay, or no longer. */
async function accept(withdraw: boolean): Promise<void> {
  const li = rows()[row];
  if (!li) throw new Refused("Choose a finding first.", 422);
  const findings = JSON.parse(li.dataset.places!) as unknown[];
  at.finding = -1; // they get other numbers
  await doc.edit("accept", withdraw ? { findings, withdraw: true } : { findings, reason: $<HTMLInputElement>("accept-reason").value });
}

export const proof: Station<"Proof"> = {
  help: "a finding leads to its place · drag orbits · Shift drag pans · wheel zooms · Home frames",
  kinds: ["faces"],
  shows: ["choose", "model", "view"],
  verbs: {
    accept: { asks: () => accept(false) },
    withdraw: () => accept(true),
    next: () => step(1),
    previous: () => step(-1),
    mend: mendChosen,
    mark: { edits: () => ["mark-findings", {}] },
    "forget-mark": { edits: () => ["mark-findings", { forget: true }] },
    compare: async () => location.assign(`/documents/${doc.id}/compare?map=${doc.meta.map}`),
    report: async () => location.assign(`/documents/${doc.id}/report?map=${doc.meta.map}`),
  },
  shown: () => { mark(rows().findIndex((li) => numbers(li).includes(at.finding))); filter(); },
  changes: { "finding-kind": filter, "finding-here": filter, "finding-new": filter },
  clicks: {
    mend: (_, el) => void attempt(() => mendRow(el.closest("li")!)),
    finding: (all, el) => {
      const list = all.split(" ").map(Number), i = rows().indexOf(el.closest("li")!);
      showFinding(list[(list.indexOf(at.finding) + 1) % list.length]!);
      mark(i);
    },
  },
};
