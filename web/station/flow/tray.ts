// The tray of the Flow station: flattening, straightening and relaxing shells, points by hand,
// grain, words on parts.
import { chosenIn, chosenPart, done, facePick, flattening, pickedEdges, pickedPoints, shellFace, shellFaces, someParts, value, written } from "../../bench/chosen";
import { Refused } from "../../bench/doc";
import { goTiling } from "../../bench/maps";
import { $, at, body, doc, live, picks, points } from "../../bench/state";
import type { Station } from "../../bench/station";
import { effect } from "../../bench/store";
import { labelOf } from "../../bench/view/labels";
import { drawGrain, drawPoints } from "../../bench/views";
import { compareWays, takeWay } from "./ways";
import { leaveOffer, offerTrueUp, takeOffer } from "./offer";

/** What truing up means with what the form says; picked edges stand for their loops. */
function truing(edges: number[] | null): Record<string, unknown> {
  const mode = edges ? "picked" : chosenIn("set-true");
  return { faces: shellFaces(), axis: chosenIn("set-along"), tolerance: value("set-tolerated", 1.15), within_deg: value("set-within", 20), ...(mode ? { mode } : {}), ...(edges ? { edges } : {}) };
}

const evenly = (): object => (chosenIn("set-method") === "even" ? { method: "even" } : {});

/** What a grain is set for: the chosen parts, or all of their materials. */
export function grained(): { parts: number[] } | { materials: string[] } {
  const parts = someParts();
  return at.material ? { materials: [...new Set(parts.map((p) => doc.meta.parts[p]!.material))] } : { parts };
}

/** Shows what is set for grain and dragging. */
function markSet(): void {
  for (const [id, on] of [["flow-sense", at.sense], ["flow-material", at.material]] as const) document.getElementById(id)?.setAttribute("aria-pressed", String(on));
  body.dataset.flow = at.drawing ? "grain" : "";
}
effect(markSet);

const seamFaces = (): number[] => pickedEdges().flatMap((e) => [doc.edgeFaces[2 * e]!, doc.edgeFaces[2 * e + 1]!]).filter((f) => f >= 0);

/** Carrying a pattern over the picked seams, or over all of the material clicked last. */
const carried = (all: boolean): [string, object] => ["carry-over", all ? { material: true, from: shellFace() } : { edges: pickedEdges(), ...(at.face >= 0 ? { from: at.face } : {}) }];

/** Carries over in a tiling map: over the picked seams, else over those of the material clicked last. */
async function carryTiling(): Promise<void> {
  const all = !picks.edges.size, { facePart } = doc.layout;
  const material = (f: number): string | undefined => doc.meta.parts[facePart[f]!]?.material;
  const of = all ? material(shellFace()) : undefined;
  await goTiling(all ? [...facePart.keys()].filter((f) => material(f) === of) : seamFaces());
  await live.start(...carried(all), false);
}

/** The word of the clicked face stands a quarter turn on. */
function turned(): [string, object] {
  const l = labelOf(doc, at.face);
  if (!l) throw new Refused("Click a face of a word first.", 422);
  return ["label", { faces: l.faces, word: l.word, quarters: ((l.quarters ?? 0) + 1) % 4 }];
}

const grain = (): object => ({ ...grained(), of: chosenIn("set-grain"), ...(at.sense ? { sense: true } : {}), ...(chosenIn("set-grain") === "chain" ? { edges: pickedEdges() } : {}) });

export const flow: Station<"Flow"> = {
  help: "click a point · Shift adds · drag it, Alt without snapping · B edges, faces",
  kinds: ["points", "edges", "faces"],
  shows: ["points", "edges", "faces", "shells", "parts", "model", "choose", "view"],
  verbs: {
    pin: { edits: () => ["pin", { corners: pickedPoints(), pinned: true }] },
    unpin: { edits: () => ["pin", { corners: points.picked.size ? pickedPoints() : doc.meta.pins, pinned: false }] },
    "relax-around": { tries: () => ["relax", { corners: pickedPoints(), reach: value("set-reach"), axis: chosenIn("set-relaxed"), ...evenly() }], steps: true },
    "carry-over": { tries: () => carried(false) },
    "carry-tiling": carryTiling,
    "carry-material": { tries: () => carried(true) },
    "by-edge": { edits: () => ["orient", { faces: [shellFace()], edges: pickedEdges() }] },
    "true-picked": { tries: () => ["true-up", truing(pickedEdges())], steps: true },
    fill: { tries: () => ["fill", { faces: facePick() }] },
    label: { asks: () => done(doc.edit("label", { faces: facePick(), word: written("set-word") })) },
    "turn-label": { edits: turned },
    "true-up": { tries: () => ["true-up", truing(null)], steps: true },
    relax: { tries: () => ["relax", { faces: [shellFace()], hold_border: chosenIn("set-where") === "inside", axis: chosenIn("set-relaxed"), ...evenly() }], steps: true },
    watch: { before: () => void compareWays(), tries: () => ["flatten", flattening()], steps: true },
    "set-grain": { asks: () => doc.edit("grain", grain()) },
    "draw-grain": async () => { chosenPart(); at.drawing = !at.drawing; },
    "by-loops": { edits: () => ["orient", { faces: shellFaces() }] },
    "turn-by": { asks: () => doc.edit("move", { faces: shellFaces(), shift: { X: 0, Y: 0 }, turn_deg: value("set-degrees") }) },
    "to-pixels": { tries: () => ["snap", { faces: shellFaces() }] },
    "true-all": { tries: () => ["true-up", {}] },
    "orient-all": { edits: () => ["orient", { faces: [] }] },
    "flatten-all": { tries: () => ["flatten", {}] },
    unmirror: { edits: () => ["orient", { mirrored: true }] },
    snap: async () => { points.toggleSnap(); $("readout").textContent = points.snap ? "dragged points snap" : "dragged points do not snap"; },
    reach: { asks: async () => {} },
  },
  inner: {
    "whole-material": async () => { at.material = !at.material; },
    "one-way": async () => { at.sense = !at.sense; },
    "offer-take": takeOffer,
    "offer-leave": async () => leaveOffer(),
  },
  clicks: { way: takeWay },
  shown: () => { markSet(); drawPoints(); drawGrain(); void offerTrueUp(); },
  left: () => { points.clear(); at.drawing = false; },
};
