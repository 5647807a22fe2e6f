// What can be done, by button and by key.
import { Refused } from "./doc";
import { show } from "./html";
import { labelOf } from "./view/labels";
import { pickLoop } from "./pointing";
import { setupFaces, startSetup } from "../station/project/setupview";
import { $, at, chain, doc, join, live, picks, points, setup, shellsMeant, suggestions, views } from "./state";
import { choose, markFlowPicks, markSeamPicks, showOffer } from "./tray";
import { drawGrain, drawPicks, drawSetup, hideParts, showAs } from "./views";
import { copyShells, goTiling, makeMap, removeMap, setMap } from "./maps";
import { watch } from "./work";

/** What a field of the tray says; where the tray has none, what is usual. */
export const value = (id: string, usual = 0): number => Number((document.getElementById(id) as HTMLInputElement | null)?.value ?? usual);
export const chosenPart = (): number => {
  if (at.part >= 0) return at.part;
  throw new Refused("Choose a part first: click it on the card or on the model.", 422);
};
/** The chosen part, for verbs that take one only. */
export const onePart = (): number => {
  if (at.parts.size > 1) throw new Refused(`This takes one part, and ${at.parts.size} are chosen; let the others go with Shift on the card.`, 422);
  return chosenPart();
};
const facePick = (): number[] => {
  if (picks.faces.size) return [...picks.faces].sort((a, b) => a - b);
  throw new Refused(`Pick faces first: ${at.station === "Seams" && !at.seamFaces ? "press B to pick faces, then " : ""}click one on the model, Shift adds, a double click takes the whole part.`, 422);
};
/** How a mesh is read, by what the tray says. */
const reading = (): object => ({ tolerance: value("set-tolerance"), crease_deg: value("set-crease") });
const recognition = (): object => ({ ...reading(), detail: value("set-detail", 0.5) });
/** What the detail is turned for: the chosen parts, or all. */
export const detailed = (): object => ({ ...recognition(), ...(at.part >= 0 ? { parts: [...at.parts] } : {}) });
const done = async (e: Promise<void>): Promise<void> => { await e; picks.faces.clear(); drawPicks(); };

const shellFace = (): number => {
  if (at.parts.size > 1) onePart();
  if (at.face >= 0) return at.face;
  throw new Refused("Pick a shell or a part first.", 422);
};
const shellFaces = (): number[] => {
  const faces = shellsMeant();
  if (faces.length) return faces;
  throw new Refused("Pick a shell or a part first.", 422);
};
const pickedEdges = (): number[] => {
  if (picks.edges.size) return [...picks.edges];
  throw new Refused("Pick edges first: click one on the model or the sheet, double click for its loop.", 422);
};

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

/** Does what was offered: the same edit at the same places of all repeats. */
async function sameOnRepeats(): Promise<void> {
  if (!at.offer) return;
  const { kind, edges } = at.offer;
  const all = (await doc.pickEdges("repeats", { edges })).edges, known = new Set(edges);
  at.offer = null;
  showOffer();
  await doc.edit(kind, { edges: all.filter((e) => !known.has(e)) });
}

export async function edgesByVerb(verb: string, angle = 0): Promise<void> {
  const of = verb === "around" ? { faces: facePick() } : verb === "borders" || verb === "above" ? { angle_deg: angle } : { edges: verb === "repeats" ? pickedEdges() : [picks.last >= 0 ? picks.last : pickedEdges()[0]!] };
  const r = await doc.pickEdges(verb, of);
  if (!r.edges.length) throw new Refused({ borders: "This model has no open borders.", above: `No edge bends by ${angle}° or more.` }[verb] ?? "Nothing is there to pick.", 422);
  picks.take(r.edges, "instead", { ring: r.closed ? "closed ring" : "ring", borders: "open borders", above: `bend ${angle}° and more`, around: "around the picked faces", repeats: "on all repeats" }[verb]);
  if (verb === "around") { picks.faces.clear(); setSeamPicks(false); }
}

export function setSeamPicks(faces: boolean): void {
  at.seamFaces = faces;
  chain.toggle(false);
  markSeamPicks();
}

function setFlowPicks(what: typeof at.flow): void {
  at.flow = what;
  markFlowPicks();
  drawGrain();
}

const chosenIn = (id: string): string => (document.getElementById(id) as HTMLSelectElement | null)?.value ?? "";

/** What flattening the chosen shell means with what the tray says. */
function flattening(): Record<string, unknown> {
  const method = chosenIn("set-method");
  return { faces: shellFaces(), ...(method ? { method } : {}) };
}

const pickedPoints = (): number[] => {
  if (points.picked.size) return [...points.picked].sort((a, b) => a - b);
  throw new Refused("Pick points first: click one on the sheet or on the model, Shift adds.", 422);
};

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
  const parts = at.parts.size ? [...at.parts] : [chosenPart()];
  return at.material ? { materials: [...new Set(parts.map((p) => doc.meta.parts[p]!.material))] } : { parts };
}

async function refreshJigs(): Promise<void> {
  await startSetup();
  drawSetup();
}

const weight = (id: string): number => Math.max(0, Number($<HTMLInputElement>(id).value));

/** Takes a part apart or unites it, and keeps what is at the clicked place chosen. */
async function regroup(kind: "split" | "unite"): Promise<void> {
  const params = foretold[kind]!(), face = at.face >= 0 ? at.face : doc.layout.facePart.indexOf(at.part);
  await doc.edit(kind, params);
  choose(doc.layout.facePart[face]!, face, false);
}

/** Edits that are shown while their button is pointed at. */
export const foretold: Record<string, () => object> = { split: () => ({ part: onePart() }), unite: () => ({ ...reading(), part: onePart() }) };

export const verbs: Record<string, () => Promise<unknown>> = {
  run: async () => { await watch(await doc.run()); await doc.refresh(); views.sheet.frame(); },
  recognise: () => doc.edit("recognise", recognition()),
  "recognise-part": () => doc.edit("recognise", { ...recognition(), parts: at.parts.size ? [...at.parts] : [chosenPart()] }),
  "turn-detail": () => doc.edit("detail", detailed()),
  split: () => regroup("split"),
  unite: () => regroup("unite"),
  merge: () => doc.edit("merge", { parts: [...at.parts] }),
  "part-off": () => done(doc.edit(at.station === "Seams" ? "shell-off" : "part-off", { faces: facePick() })),
  assign: () => done(doc.edit("assign", { faces: facePick(), to: onePart() })),
  lock: () => doc.edit("lock", { parts: [...at.parts], locked: true }),
  unlock: () => doc.edit("lock", { parts: [...at.parts], locked: false }),
  give: () => doc.edit("give-to-repeats", { part: onePart() }),
  stack: () => doc.edit("give-to-repeats", { part: onePart(), stacked: true }),
  "follow-mirror": () => doc.edit("follow-mirror", {}),
  alone: async () => { chosenPart(); hideParts(new Set(doc.meta.parts.map((_, i) => i).filter((i) => !at.parts.has(i)))); },
  aside: async () => { chosenPart(); hideParts(new Set([...at.hidden, ...at.parts])); },
  everything: async () => hideParts(new Set()),
  clear: () => doc.edit("clear", { faces: [] }),
  flatten: () => doc.edit("flatten", flattening()),
  "flatten-all": () => doc.edit("flatten", {}),
  pack: () => doc.edit("pack", {}),
  "make-map": makeMap,
  "set-map": setMap,
  "remove-map": removeMap,
  "copy-shells": copyShells,
  lanes: async () => { views.sheet.frame(); await live.start("lanes", document.getElementById("set-lanes") ? { faces: shellsMeant(), pieces: value("set-lanes"), pack: true } : { pack: true }, false); },
  turn: () => doc.edit("move", { faces: shellFaces(), shift: { X: 0, Y: 0 }, turn_deg: 90 }),
  flip: () => doc.edit("move", { faces: shellFaces(), shift: { X: 0, Y: 0 }, flip: true }),
  drop: async () => {
    if (join.active) join.drop();
    else if (live.active) live.drop();
    else if (setup.active) { setup.drop(); const faces = setup.faces; await setup.load(faces); show($("setup-lead"), setup.lead()); }
    else if (points.picked.size) points.clear();
    else if (chain.active) chain.toggle(false);
    else if (picks.edges.size || picks.faces.size) picks.clear();
    else choose(-1, -1, false);
  },

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
  join: async () => { if (join.active) await verbs["join-take"]!(); else await join.start(pickedEdges()); },
  "join-take": async () => { const { edges } = await join.take(); offerRepeats("join", edges); },
  swap: () => join.swap(),
  whole: () => join.toggleWhole(),
  "turn-dial": () => doc.edit("dial", { dial: value("set-dial"), pack: true }),
  take: () => doc.edit("cut", { edges: suggestions.edges() }),
  "take-all": () => doc.edit("cut", { edges: suggestions.allEdges() }),
  adjust: async () => picks.take(suggestions.edges(), "instead", "suggested"),
  leave: async () => { suggestions.leave(); views.lines.brass("suggested", suggestions.edges()); },
  same: sameOnRepeats,

  lay: async () => { await setup.lay(); picks.faces.clear(); drawPicks(); },
  "lock-size": async () => setup.lock(),
  "mirror-map": async () => setup.change({ flip: !setup.current?.flip }),
  apart: async () => setup.change({ apart: !setup.current?.apart }),
  "lay-jig": async () => {
    const jig = setup.jigs.find((j) => String(j.id) === $<HTMLSelectElement>("set-jig").value), faces = setupFaces();
    if (!jig) throw new Refused("Keep a projection as a jig first.", 422);
    if (!faces.length) throw new Refused("Pick faces first, or choose a part: they get the size and the up of the jig.", 422);
    await setup.layByJig(jig, faces);
    picks.faces.clear();
    drawPicks();
  },
  "jig-tiling": async () => { await goTiling(setupFaces()); await refreshJigs(); await verbs["lay-jig"]!(); },
  "keep-jig": async () => {
    if (!setup.current) throw new Refused("Set a projection up first: choose a part or pick faces.", 422);
    await doc.keepJig($<HTMLInputElement>("set-jigname").value, setup.current);
    await refreshJigs();
  },
  "drop-jig": async () => { await doc.dropJig(Number($<HTMLSelectElement>("set-jig").value)); await refreshJigs(); },

  watch: () => live.start("flatten", flattening()),
  "live-stop": async () => live.stop(),
  "live-take": () => done(live.take()),
  relax: () => live.start("relax", relaxing()),
  "true-up": () => live.start("true-up", truing()),
  "true-all": () => doc.edit("true-up", {}),
  worst: async () => { const f = live.ghost?.worst; if (f !== undefined) { at.hovered = f; views.piece.frame(doc.layout.facePart[f]!); views.sheet.touchOver(); } },
  pin: () => doc.edit("pin", { corners: pickedPoints(), pinned: true }),
  unpin: () => doc.edit("pin", { corners: points.picked.size ? pickedPoints() : doc.meta.pins, pinned: false }),
  fill: () => live.start("fill", { faces: facePick() }, false),
  "clear-picked": () => doc.edit("clear", { faces: facePick() }),
  "set-grain": () => doc.edit("grain", { ...grained(), of: chosenIn("set-grain"), ...(at.sense ? { sense: true } : {}), ...(chosenIn("set-grain") === "chain" ? { edges: pickedEdges() } : {}) }),
  label: () => done(doc.edit("label", { faces: facePick(), word: $<HTMLInputElement>("set-word").value.trim() })),
  "turn-label": async () => {
    const l = labelOf(doc, at.face);
    if (!l) throw new Refused("Click a face of a label first.", 422);
    await doc.edit("label", { faces: l.faces, word: l.word, quarters: ((l.quarters ?? 0) + 1) % 4 });
  },
  "whole-material": async () => { at.material = !at.material; markFlowPicks(); },
  "one-way": async () => { at.sense = !at.sense; markFlowPicks(); },
  "carry-material": () => live.start("carry-over", { material: true, from: shellFace() }, false),
  "draw-grain": async () => { chosenPart(); setFlowPicks(at.flow === "grain" ? "points" : "grain"); },
  "by-loops": () => doc.edit("orient", { faces: shellsMeant() }),
  "by-edge": () => doc.edit("orient", { faces: [shellFace()], edges: pickedEdges() }),
  "to-pixels": () => live.start("snap", { faces: shellFaces() }, false),
  "carry-over": () => live.start("carry-over", { edges: pickedEdges(), ...(at.face >= 0 ? { from: at.face } : {}) }, false),
  "carry-tiling": async () => {
    await goTiling(pickedEdges().flatMap((e) => [doc.edgeFaces[2 * e]!, doc.edgeFaces[2 * e + 1]!]).filter((f) => f >= 0));
    await verbs["carry-over"]!();
  },
  unmirror: () => doc.edit("orient", { mirrored: true }),
  "turn-on": () => doc.edit("move", { faces: shellFaces(), shift: { X: 0, Y: 0 }, turn_deg: 15 }),
  "turn-back": () => doc.edit("move", { faces: shellFaces(), shift: { X: 0, Y: 0 }, turn_deg: -15 }),
  "turn-by": () => doc.edit("move", { faces: shellFaces(), shift: { X: 0, Y: 0 }, turn_deg: value("set-degrees") }),
  "pick-points": async () => setFlowPicks("points"),
  "pick-flow-edges": async () => setFlowPicks("edges"),
  "pick-flow-faces": async () => setFlowPicks("faces"),
  snap: async () => { points.snap = !points.snap; markFlowPicks(); },

  "pick-edges": async () => setSeamPicks(false),
  "pick-faces": async () => setSeamPicks(true),
  "pick-other": async () => { if (at.station === "Seams") setSeamPicks(!at.seamFaces); else if (at.station === "Flow") setFlowPicks(({ points: "edges", edges: "faces", faces: "points", grain: "points" } as const)[at.flow]); },
  "save-picks": async () => { await doc.edit("save-picks", { name: $<HTMLInputElement>("set-pickname").value.trim(), edges: pickedEdges() }); },
  "drop-picks": () => doc.edit("save-picks", { name: $<HTMLSelectElement>("set-picks").value, edges: [] }),
  view: async () => {
    const [front, back, left, right, above, below] = ["front", "back", "left", "right", "above", "below"].map((n) => weight(`side-${n}`));
    await doc.edit("view-from", { sides: { front, back, left, right, above, below } });
    doc.exposure = null;
    if (at.show === "exposure") await showAs("exposure");
  },
};

export async function facesByVerb(verb: string): Promise<void> {
  const angle = verb === "facing" ? value("set-angle", 20) : value("set-crease", Number(doc.meta.settings.crease_deg));
  const from = verb === "unmapped" || verb === "invert" ? [...picks.faces] : facePick();
  const faces = await doc.pickFaces(verb, from, angle);
  picks.faces.clear();
  for (const f of faces) picks.faces.add(f);
  drawPicks();
}

/** Keys that mean something else at a station. */
export const stationKeys: Record<string, Record<string, string>> = { Parts: { a: "split", u: "unite" }, Sheet: { d: "lanes" } };
export const keys: Record<string, string> = { c: "cut", v: "close", e: "flatten", k: "pack", t: "turn", o: "flip", g: "loop", p: "part-off", q: "alone", w: "aside", r: "everything", x: "chain", j: "join", b: "pick-other", y: "carry-on", h: "hand-over", n: "watch", i: "relax", u: "true-up", d: "pin", ".": "turn-on", ",": "turn-back", Escape: "drop" };
