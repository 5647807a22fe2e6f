// The tray of the Seams station: cutting and closing, joining, suggestions, the dial.
import { chosenIn, done, facePick, pickedEdges, value, written } from "../../bench/chosen";
import { seamFigures } from "../../bench/dial";
import { Refused } from "../../bench/doc";
import { reload, whenShown } from "../../bench/fragments";
import { pickLoop } from "../../bench/pointing";
import { $, at, attempt, body, chain, dial, doc, join, picks, suggestions, views } from "../../bench/state";
import type { Station } from "../../bench/station";
import { effect } from "../../bench/store";
import { showAs } from "../../bench/views";

/** An edit of edges, offered for the repeats of their parts afterwards. */
async function editEdges(kind: string, edges: number[]): Promise<void> {
  await doc.edit(kind, { edges });
  offerRepeats(kind, edges);
}

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

async function edgesByVerb(verb: string, angle = 0): Promise<void> {
  const of = verb === "around" ? { faces: facePick() } : verb === "borders" || verb === "above" ? { angle_deg: angle } : { edges: verb === "repeats" ? pickedEdges() : [picks.last >= 0 ? picks.last : pickedEdges()[0]!] };
  const r = await doc.pickEdges(verb, of);
  if (!r.edges.length) throw new Refused({ borders: "This model has no open borders.", above: `No edge bends by ${angle}° or more.` }[verb] ?? "Nothing is there to pick.", 422);
  picks.take(r.edges, "instead", { ring: r.closed ? "closed ring" : "ring", borders: "open borders", above: `bend ${angle}° and more`, around: "around the picked faces", repeats: "on all repeats" }[verb]);
  if (verb === "around") { picks.takeFaces([], "instead"); pick(false); }
}

/** Picks faces at this station, or edges. */
function pick(faces: boolean): void {
  at.seamFaces = faces;
  chain.toggle(false);
}

/** Shows whether edges or faces are picked, and the tools for them. */
function markPicks(): void {
  for (const b of document.querySelectorAll<HTMLElement>("[data-seampick]")) b.setAttribute("aria-pressed", String((b.dataset.seampick === "faces") === at.seamFaces));
  for (const el of document.querySelectorAll<HTMLElement>("[data-for]")) el.hidden = (el.dataset.for === "faces") !== at.seamFaces;
  body.dataset.picking = at.seamFaces ? "faces" : "edges";
}
effect(markPicks);
whenShown("suggest", () => {
  suggestions.shown();
  views.lines.brass("suggested", suggestions.edges());
});

const weight = (id: string): number => Math.max(0, Number($<HTMLInputElement>(id).value));

async function viewFrom(): Promise<void> {
  const [front, back, left, right, above, below] = ["front", "back", "left", "right", "above", "below"].map((n) => weight(`side-${n}`));
  await doc.edit("view-from", { sides: { front, back, left, right, above, below } });
  doc.exposure = null;
  if (at.show === "exposure") await showAs("exposure");
}

export const seams: Station = {
  help: "click an edge · Shift adds · Alt takes away · double click: loop, drag its ends · X chain to the pointer · B edges or faces",
  verbs: {
    cut: () => editEdges("cut", pickedEdges()),
    close: () => editEdges("close", pickedEdges()),
    hold: () => doc.edit("hold", { edges: pickedEdges(), held: true }),
    "let-go": () => doc.edit("hold", { edges: pickedEdges(), held: false }),
    "keep-whole": () => done(doc.edit("keep", { faces: facePick(), whole: true })),
    "let-cut": () => done(doc.edit("keep", { faces: facePick(), whole: false })),
    "hand-over": () => done(doc.edit("hand-over", { faces: facePick() })),
    "join-group": () => done(doc.edit("join-group", { faces: facePick(), limit: value("set-limit") })),
    loop: () => pickLoop(picks.last >= 0 ? picks.last : pickedEdges()[0]!, { shiftKey: true, altKey: false }),
    "carry-on": async () => { if (!picks.carryOn()) throw new Refused(picks.run ? "The loop cannot be carried on: beyond its ends no edge goes on straight enough." : "Pick a loop first: double click an edge.", 422); },
    chain: async () => chain.toggle(),
    join: async () => { if (join.active) await seams.verbs["join-take"]!(); else await join.start(pickedEdges()); },
    "join-take": async () => { const { edges } = await join.take(); offerRepeats("join", edges); },
    swap: () => join.swap(),
    whole: () => join.toggleWhole(),
    "turn-dial": () => doc.edit("dial", { dial: value("set-dial"), pack: true }),
    take: () => doc.edit("cut", { edges: suggestions.edges() }),
    "take-all": () => doc.edit("cut", { edges: suggestions.allEdges() }),
    adjust: async () => picks.take(suggestions.edges(), "instead", "suggested"),
    leave: async () => { suggestions.leave(); views.lines.brass("suggested", suggestions.edges()); },
    same: sameOnRepeats,
    "pick-edges": async () => pick(false),
    "pick-faces": async () => pick(true),
    "pick-other": async () => pick(!at.seamFaces),
    "save-picks": () => doc.edit("save-picks", { name: written("set-pickname"), edges: pickedEdges() }),
    "drop-picks": () => doc.edit("save-picks", { name: chosenIn("set-picks"), edges: [] }),
    view: viewFrom,
  },
  keys: { b: "pick-other" },
  clicks: { edgepick: (verb) => void attempt(() => edgesByVerb(verb, verb === "above" ? value("set-above") : 0)) },
  changes: {
    "set-path": () => { chain.shortest = chosenIn("set-path") === "shortest"; },
    "set-picks": () => {
      const set = doc.meta.picks.find((p) => p.name === chosenIn("set-picks"));
      if (!set) return;
      picks.take(set.edges, "instead", set.name);
      pick(false);
      $<HTMLInputElement>("set-pickname").value = set.name;
    },
  },
  inputs: { "set-dial": () => dial.turn("dial", { dial: value("set-dial") }, seamFigures, $("dial-figures")) },
  shown: () => {
    markPicks();
    showOffer();
    reload($("suggest"));
  },
  left: () => { chain.toggle(false); join.drop(); dial.drop(); at.seamFaces = false; },
};
