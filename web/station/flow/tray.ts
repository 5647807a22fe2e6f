// The tray of the Flow station: flattening, straightening and relaxing shells, points by hand,
// grain, words on parts.
import { chosenIn, chosenPart, done, facePick, flattening, pickedEdges, pickedPoints, shellFace, shellFaces, someParts, value, written } from "../../bench/chosen";
import { Refused } from "../../bench/doc";
import { goTiling } from "../../bench/maps";
import { at, body, doc, live, picks, points, shellsMeant } from "../../bench/state";
import type { Station } from "../../bench/station";
import { effect } from "../../bench/store";
import { labelOf } from "../../bench/view/labels";
import { drawGrain, drawPoints } from "../../bench/views";
import { offerTrueUp } from "./offer";

/** What truing up means with what the tray says; picked edges stand for their loops. */
function truing(): Record<string, unknown> {
  const mode = chosenIn("set-true"), axis = chosenIn("set-along");
  const picked = mode === "picked" ? { edges: pickedEdges() } : {};
  return { faces: shellFaces(), axis, tolerance: value("set-tolerated"), within_deg: value("set-within"), ...(mode ? { mode } : {}), ...picked };
}

function relaxing(): Record<string, unknown> {
  const where = chosenIn("set-where"), axis = chosenIn("set-along"), method = chosenIn("set-method") === "even" ? { method: "even" } : {};
  if (where === "around") return { corners: pickedPoints(), reach: value("set-reach"), axis, ...method };
  return { faces: [shellFace()], hold_border: where === "inside", axis, ...method };
}

/** What a grain is set for: the chosen parts, or all of their materials. */
export function grained(): { parts: number[] } | { materials: string[] } {
  const parts = someParts();
  return at.material ? { materials: [...new Set(parts.map((p) => doc.meta.parts[p]!.material))] } : { parts };
}

/** Shows what is picked at this station, and the tools for it. */
function markPicks(): void {
  points.watch();
  for (const b of document.querySelectorAll<HTMLElement>("[data-flowpick]")) b.setAttribute("aria-pressed", String(b.dataset.flowpick === at.flow));
  for (const el of document.querySelectorAll<HTMLElement>("[data-flowfor]")) el.hidden = el.dataset.flowfor !== at.flow;
  for (const [id, on] of [["flow-snap", points.snap], ["flow-sense", at.sense], ["flow-material", at.material]] as const) document.getElementById(id)?.setAttribute("aria-pressed", String(on));
  body.dataset.flow = at.flow;
}
effect(markPicks);

const seamFaces = (): number[] => pickedEdges().flatMap((e) => [doc.edgeFaces[2 * e]!, doc.edgeFaces[2 * e + 1]!]).filter((f) => f >= 0);

/** Carries over in a tiling map: over the picked seams, else over those of the material clicked last. */
async function carryTiling(): Promise<void> {
  const all = !picks.edges.size, { facePart } = doc.layout;
  const material = (f: number): string | undefined => doc.meta.parts[facePart[f]!]?.material;
  const of = all ? material(shellFace()) : undefined;
  await goTiling(all ? [...facePart.keys()].filter((f) => material(f) === of) : seamFaces());
  await flow.verbs[all ? "carry-material" : "carry-over"]!();
}

export const flow: Station = {
  help: "click a point · Shift adds · drag it, Alt without snapping · B edges, faces",
  verbs: {
    "flatten-all": () => doc.edit("flatten", {}),
    watch: () => live.start("flatten", flattening()),
    relax: () => live.start("relax", relaxing()),
    "true-up": () => live.start("true-up", truing()),
    "true-all": () => doc.edit("true-up", {}),
    pin: () => doc.edit("pin", { corners: pickedPoints(), pinned: true }),
    unpin: () => doc.edit("pin", { corners: points.picked.size ? pickedPoints() : doc.meta.pins, pinned: false }),
    fill: () => live.start("fill", { faces: facePick() }, false),
    "clear-picked": () => doc.edit("clear", { faces: facePick() }),
    "set-grain": () => doc.edit("grain", { ...grained(), of: chosenIn("set-grain"), ...(at.sense ? { sense: true } : {}), ...(chosenIn("set-grain") === "chain" ? { edges: pickedEdges() } : {}) }),
    label: () => done(doc.edit("label", { faces: facePick(), word: written("set-word") })),
    "turn-label": async () => {
      const l = labelOf(doc, at.face);
      if (!l) throw new Refused("Click a face of a label first.", 422);
      await doc.edit("label", { faces: l.faces, word: l.word, quarters: ((l.quarters ?? 0) + 1) % 4 });
    },
    "whole-material": async () => { at.material = !at.material; },
    "one-way": async () => { at.sense = !at.sense; },
    "carry-over": () => live.start("carry-over", { edges: pickedEdges(), ...(at.face >= 0 ? { from: at.face } : {}) }, false),
    "carry-material": () => live.start("carry-over", { material: true, from: shellFace() }, false),
    "carry-tiling": carryTiling,
    "draw-grain": async () => { chosenPart(); at.flow = at.flow === "grain" ? "points" : "grain"; },
    "by-loops": () => doc.edit("orient", { faces: shellsMeant() }),
    "by-edge": () => doc.edit("orient", { faces: [shellFace()], edges: pickedEdges() }),
    "to-pixels": () => live.start("snap", { faces: shellFaces() }, false),
    unmirror: () => doc.edit("orient", { mirrored: true }),
    "turn-by": () => doc.edit("move", { faces: shellFaces(), shift: { X: 0, Y: 0 }, turn_deg: value("set-degrees") }),
    "pick-points": async () => { at.flow = "points"; },
    "pick-flow-edges": async () => { at.flow = "edges"; },
    "pick-flow-faces": async () => { at.flow = "faces"; },
    "pick-next": async () => { at.flow = ({ points: "edges", edges: "faces", faces: "points", grain: "points" } as const)[at.flow]; },
    snap: async () => points.toggleSnap(),
  },
  keys: { b: "pick-next", n: "watch", i: "relax", u: "true-up", d: "pin", ".": "turn-on", ",": "turn-back" },
  shown: () => { markPicks(); drawPoints(); drawGrain(); void offerTrueUp(); },
  left: () => points.clear(),
};

