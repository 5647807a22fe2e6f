// The tray of the Proof station: the way to what was found. Its faces are picked, and seen in
// both views.
import { $, at, attempt, doc, live, picks, views } from "../../bench/state";
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
async function mendFinding(i: number, by: string): Promise<void> {
  const faces = doc.meta.findings[i] ?? [];
  showFinding(i);
  await live.start(by, { faces, ...(by === "density" ? { as_all: true } : {}) }, false);
}

export const proof: Station = {
  help: "a finding leads to its place · drag orbits · Shift drag pans · wheel zooms · Home frames",
  verbs: {},
  clicks: {
    mend: (i, el) => void attempt(() => mendFinding(Number(i), el.dataset.by!)),
    finding: (all) => {
      const list = all.split(" ").map(Number);
      showFinding(list[(list.indexOf(at.finding) + 1) % list.length]!);
    },
  },
};
