// The tray of the Seams station: cutting and closing, joining, suggestions, the dial.
import { facePick, pickedEdges, value } from "../../bench/chosen";
import { Refused } from "../../bench/doc";
import { reload, whenShown } from "../../bench/fragments";
import { pickKind } from "../../bench/kinds";
import { pickLoop } from "../../bench/pointing";
import { $, at, chain, doc, join, picks, suggestions, views } from "../../bench/state";
import type { Act, Station } from "../../bench/station";
import { showAs } from "../../bench/views";

/** An edit of the picked edges, offered for the repeats of their parts afterwards. */
const editing = (kind: string): Act => {
  let edges: number[] = [];
  return { edits: () => { edges = pickedEdges(); return [kind, { edges }]; }, after: () => offerRepeats(kind, edges) };
};

function offerRepeats(kind: string, edges: number[]): void {
  let more = 0;
  for (const e of edges) for (const f of [doc.edgeFaces[2 * e]!, doc.edgeFaces[2 * e + 1]!]) if (f >= 0) more = Math.max(more, doc.meta.parts[doc.layout.facePart[f]!]?.repeats ?? 0);
  at.offer = more > 0 ? { kind, edges, more, revision: doc.meta.revision } : null;
  showOffer();
}

/** Offers to do the same elsewhere, unless something else was done since. */
function showOffer(): void {
  const el = document.getElementById("offer");
  if (!el) return;
  if (at.offer && at.offer.revision !== doc.meta.revision) at.offer = null;
  el.hidden = !at.offer;
  if (at.offer) el.textContent = `Do the same on ${at.offer.more} like it`;
}

/** Does what was offered: the same edit at the same places of all repeats. */
async function sameOnRepeats(): Promise<void> {
  if (!at.offer) return;
  const { kind, edges } = at.offer;
  const all = (await doc.pickEdges("repeats", { edges })).edges, known = new Set(edges);
  at.offer = null;
  showOffer();
  await doc.edit(kind, { edges: all.filter((e) => !known.has(e)) });
}

/** Edges by a verb, with what they are called. */
async function pickBy(verb: string, of: { edges?: number[]; angle_deg?: number }, called: string, none: string): Promise<void> {
  const r = await doc.pickEdges(verb, of);
  if (!r.edges.length) throw new Refused(none, 422);
  picks.take(r.edges, "instead", verb === "ring" && r.closed ? "closed ring" : called);
}

/** The edge that was picked last. */
const last = (): number => (picks.last >= 0 ? picks.last : pickedEdges()[0]!);

function chains(shortest: boolean): void {
  chain.shortest = shortest;
  chain.toggle();
}

whenShown("suggest", () => {
  suggestions.shown();
  views.lines.brass("suggested", suggestions.edges());
});

const letFaces = (): void => picks.takeFaces([], "instead");

async function takeJoin(): Promise<void> {
  const { edges } = await join.take();
  offerRepeats("join", edges);
}

const weight = (id: string): number => Math.max(0, Number($<HTMLInputElement>(id).value));

async function viewFrom(): Promise<void> {
  const [front, back, left, right, above, below] = ["front", "back", "left", "right", "above", "below"].map((n) => weight(`side-${n}`));
  await doc.edit("view-from", { sides: { front, back, left, right, above, below } });
  doc.exposure = null;
  if (at.show === "exposure") await showAs("exposure");
}

export const seams: Station<"Seams"> = {
  help: "click an edge · Shift adds · Alt takes away · double click: loop, drag its ends · B edges or faces",
  kinds: ["edges", "faces"],
  shows: ["edges", "faces", "choose", "model", "view"],
  verbs: {
    cut: editing("cut"),
    close: editing("close"),
    join: async () => { if (join.active) await takeJoin(); else { await join.start(pickedEdges()); } },
    hold: { edits: () => ["hold", { edges: pickedEdges(), held: true }] },
    "let-go": { edits: () => ["hold", { edges: pickedEdges(), held: false }] },
    same: sameOnRepeats,
    "keep-whole": { edits: () => ["keep", { faces: facePick(), whole: true }], after: letFaces },
    "let-cut": { edits: () => ["keep", { faces: facePick(), whole: false }], after: letFaces },
    "hand-over": { edits: () => ["hand-over", { faces: facePick() }], after: letFaces },
    "join-group": { tries: () => ["join-group", { faces: facePick(), limit: value("set-limit", 1.02) }] },
    loop: () => pickLoop(last(), { shiftKey: true, altKey: false }),
    "carry-on": async () => { if (!picks.carryOn()) throw new Refused(picks.run ? "The loop cannot be carried on: beyond its ends no edge goes on straight enough." : "Pick a loop first: double click an edge.", 422); },
    ring: () => pickBy("ring", { edges: [last()] }, "ring", "No face beside it has four sides."),
    chain: async () => chains(false),
    "chain-short": async () => chains(true),
    borders: () => pickBy("borders", {}, "open borders", "This model has no open borders."),
    above: { asks: () => pickBy("above", { angle_deg: value("set-above", 30) }, `bend ${value("set-above", 30)}° and more`, `No edge bends by ${value("set-above", 30)}° or more.`) },
    "turn-dial": { tries: () => ["dial", { dial: value("set-dial"), pack: true }] },
    view: { asks: viewFrom },
    "take-all": () => doc.edit("cut", { edges: suggestions.allEdges() }),
  },
  inner: {
    "join-take": takeJoin,
    "join-swap": () => join.swap(),
    whole: () => join.toggleWhole(),
    "suggested-take": () => doc.edit("cut", { edges: suggestions.edges() }),
    "suggested-adjust": async () => { pickKind("edges"); picks.take(suggestions.edges(), "instead", "suggested"); },
    "suggested-leave": async () => { suggestions.leave(); views.lines.brass("suggested", suggestions.edges()); },
  },
  shown: () => {
    showOffer();
    reload($("suggest"));
  },
  left: () => { chain.toggle(false); join.drop(); },
};
