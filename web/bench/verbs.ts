// What can be done at all stations, by button and by key.
import { chosenPart, done, facePick, flattening, shellFaces } from "./chosen";
import { $, at, chain, doc, join, live, picks, points, setup, views } from "./state";
import { copyShells, makeMap, removeMap, setMap } from "./maps";
import { send } from "./painted";
import { copyMap, seal, unseal } from "./seal";
import { show } from "./html";
import { stations } from "./station";
import { choose } from "./tray";
import { hideParts } from "./views";
import { watch } from "./work";

const turned = (degrees: number): Promise<void> => doc.edit("move", { faces: shellFaces(), shift: { X: 0, Y: 0 }, turn_deg: degrees });

/** Lets go of what was begun last, else of what is picked, else of what is chosen. */
async function drop(): Promise<void> {
  if (join.active) join.drop();
  else if (live.active) live.drop();
  else if (setup.active) { setup.drop(); const faces = setup.faces; await setup.load(faces); show($("setup-lead"), setup.lead()); }
  else if (points.picked.size) points.clear();
  else if (chain.active) chain.toggle(false);
  else if (stations[at.station]!.drop?.()) return;
  else if (at.station !== "Sheet" && (picks.edges.size || picks.faces.size)) picks.clear();
  else choose(-1, -1, false);
}

const common: Record<string, () => Promise<unknown>> = {
  run: async () => { await watch(await doc.run()); await doc.refresh(); views.sheet.frame(); },
  drop,
  clear: () => doc.edit("clear", { faces: [] }),
  flatten: () => doc.edit("flatten", flattening()),
  pack: () => stations.Sheet!.verbs.pack!(),
  "part-off": () => done(doc.edit(at.station === "Seams" ? "shell-off" : "part-off", { faces: facePick() })),
  turn: () => turned(90),
  "turn-on": () => turned(15),
  "turn-back": () => turned(-15),
  flip: () => doc.edit("move", { faces: shellFaces(), shift: { X: 0, Y: 0 }, flip: true }),
  alone: async () => { chosenPart(); hideParts(new Set(doc.meta.parts.map((_, i) => i).filter((i) => !at.parts.has(i)))); },
  aside: async () => { chosenPart(); hideParts(new Set([...at.hidden, ...at.parts])); },
  everything: async () => hideParts(new Set()),
  "live-stop": async () => live.stop(),
  "live-take": () => done(live.take()),
  worst: async () => { const f = live.ghost?.worst; if (f !== undefined) { at.hovered = f; views.piece.frame(doc.layout.facePart[f]!); views.sheet.touchOver(); } },
  "make-map": makeMap,
  "set-map": setMap,
  "remove-map": removeMap,
  "copy-shells": copyShells,
  send,
  seal,
  unseal,
  "copy-map": copyMap,
};

/** What a button or a key does by its name: at this station, at all, or at the one it belongs to. */
export function verb(name: string): () => Promise<unknown> {
  const own = stations[at.station]!.verbs[name] ?? common[name] ?? Object.values(stations).map((s) => s.verbs[name]).find((v) => v);
  if (!own) throw new Error(`nobody knows the verb ${name}`);
  return own;
}

/** Keys that mean the same at all stations. */
const keys: Record<string, string> = { c: "cut", v: "close", e: "flatten", k: "pack", t: "turn", o: "flip", g: "loop", p: "part-off", q: "alone", w: "aside", r: "everything", x: "chain", j: "join", y: "carry-on", h: "hand-over", Escape: "drop" };

/** What a key does here, if anything. */
export const keyed = (key: string): string | undefined => stations[at.station]!.keys?.[key] ?? keys[key];

/** Picks faces by what is picked, or by what they are. */
export async function facesByVerb(name: string, angle: number): Promise<void> {
  const from = name === "unmapped" || name === "invert" ? [...picks.faces] : facePick();
  picks.takeFaces(await doc.pickFaces(name, from, angle), "instead");
}
