// What can be done at all stations.
import { choosing, setButtons } from "./choosing";
import { chosenPart, done, facePick, flattening, severalFaces, shellFaces, someParts } from "./chosen";
import { closeForm, leaveForm, takeForm } from "./forms";
import { line, Refused } from "./doc";
import { kind } from "./kinds";
import { $, at, chain, doc, join, live, picks, points, setup, shells, views } from "./state";
import { copyShells, makeMap, removeMap, setMap } from "./maps";
import { send } from "./painted";
import { openPalette } from "./palette";
import { copyMap, seal, unseal } from "./seal";
import { show } from "./html";
import { stations, type Act, type Does } from "./station";
import { choose, goTo } from "./tray";
import { again } from "./verbs";
import { openFirst } from "./first";
import { openHelp } from "./helping";
import type { VerbsOf } from "../verbs/verbs";
import { large, swap } from "./floor";
import { clip, follow, goToPick, parallel } from "./framing";
import { hideParts, showAs } from "./views";
import { watch } from "./work";
import { goBack } from "./worklog";
import type { Show } from "./view/scene";

/** The faces that are picked, or of the chosen shells; none where parts are meant, as by one click. */
const facesSeen = (): number[] => (kind() === "shells" ? shells.faces() : severalFaces());

/** Shows picked faces, chosen shells or chosen parts only. */
async function alone(): Promise<void> {
  const faces = new Set(facesSeen());
  if (faces.size) { hideParts(new Set(), new Set([...doc.layout.facePart.keys()].filter((f) => !faces.has(f)))); return; }
  chosenPart();
  hideParts(new Set(doc.meta.parts.map((_, i) => i).filter((i) => !at.parts.has(i))));
}

/** Takes them out of the picture. */
async function aside(): Promise<void> {
  const faces = facesSeen();
  if (!faces.length) chosenPart();
  hideParts(faces.length ? at.hidden : new Set([...at.hidden, ...at.parts]), new Set([...at.aside, ...faces]));
}

const turned = (degrees: number): Act => ({ edits: () => ["move", { faces: shellFaces(), shift: { X: 0, Y: 0 }, turn_deg: degrees, ...(at.each ? { each: true } : {}) }] });

/** Lets go of what was begun last, else of what is picked, else of what is chosen. */
async function drop(): Promise<void> {
  if (join.active) join.drop();
  else if (live.active || at.form) leaveForm();
  else if (at.drawing) at.drawing = false;
  else if (setup.active) { setup.leave(); show($("setup-lead"), setup.lead()); }
  else if (chain.active) chain.toggle(false);
  else if (points.picked.size) points.clear();
  else if (stations[at.station]!.drop?.()) return;
  else if (at.station !== "Sheet" && (picks.edges.size || picks.faces.size)) picks.clear();
  else choose(-1, -1, false);
}

/** Takes what is shown: a join, a ghost, what a form says, a projection. */
async function take(): Promise<void> {
  if (join.active) { await byInner("join-take"); return; }
  if (live.active) { await done(live.take()); closeForm(); return; }
  if (await takeForm()) return;
  if (setup.active && at.station === "Project") { await (stations.Project!.verbs.lay as Does)(); return; }
  throw new Refused("Nothing is shown that could be taken.", 422);
}

const byInner = (name: string): Promise<unknown> => stations.Seams!.inner![name]!();
const open = (id: string): Does => async () => { const d = $<HTMLDetailsElement>(id); d.open = !d.open; if (d.open) d.querySelector("summary")!.focus(); };
const shows = (what: Show): Does => () => showAs(what);
const station = (name: string): Does => async () => goTo(name);

export const everywhere: Record<VerbsOf[""], Act> = {
  ...choosing,
  drop,
  run: async () => { await watch(await doc.run()); await doc.renew(); views.sheet.frame(); },
  clear: { edits: () => ["clear", { faces: [] }] },
  "clear-picked": { edits: () => ["clear", { faces: facePick() }] },
  flatten: { edits: () => ["flatten", flattening()] },
  "part-off": { edits: () => [at.station === "Seams" ? "shell-off" : "part-off", { faces: facePick() }], after: () => picks.takeFaces([], "instead") },
  turn: turned(90),
  "turn-on": turned(15),
  "turn-back": turned(-15),
  flip: { edits: () => ["move", { faces: shellFaces(), shift: { X: 0, Y: 0 }, flip: true, ...(at.each ? { each: true } : {}) }] },
  likewise: { tries: () => ["likewise", { part: chosenPart(), ...(at.parts.size > 1 ? { to: [...at.parts].filter((p) => p !== at.part) } : {}) }] },
  sign: { edits: () => ["sign", { parts: someParts() }] },
  "sign-here": { edits: () => ["sign", { parts: someParts(), stations: [at.station] }] },
  unsign: { edits: () => ["sign", { parts: someParts(), withdraw: true }] },
  "sign-all": { edits: () => ["sign", {}] },
  undo: () => doc.undo(),
  redo: () => doc.redo(),
  again,
  alone,
  aside,
  everything: async () => hideParts(new Set()),
  through: async () => { at.seeThrough = !at.seeThrough; },
  frame: async () => { views.piece.frame(at.part); views.sheet.frame(); },
  "go-there": async () => goToPick(),
  parallel: async () => parallel(),
  "clip-more": async () => clip(0.05),
  "clip-less": async () => clip(-0.05),
  unclip: async () => clip(-1),
  follow: async () => follow(),
  "large-piece": async () => large("piece"),
  "large-sheet": async () => large("sheet"),
  "swap-views": async () => swap(),
  "from-front": async () => views.piece.lookFrom(0, 0),
  "from-side": async () => views.piece.lookFrom(Math.PI / 2, 0),
  "from-above": async () => views.piece.lookFrom(0, 1.55),
  "show-parts": shows("parts"), "show-cloth": shows("cloth"), "show-stretch": shows("stretch"), "show-area": shows("area"),
  "show-density": shows("density"), "show-grain": shows("grain"), "show-exposure": shows("exposure"), "show-painted": shows("painted"),
  "shown-take": take,
  "shown-stop": async () => live.stop(),
  "shown-swap": () => byInner("join-swap"),
  first: openFirst,
  palette: async () => openPalette(),
  help: async () => openHelp(),
  "to-parts": station("Parts"), "to-project": station("Project"), "to-seams": station("Seams"), "to-flow": station("Flow"), "to-sheet": station("Sheet"), "to-proof": station("Proof"),
  filter: async () => $("filter").focus(),
  worklog: async () => $("worklog-open").click(),
  maps: open("maps"),
  sealing: open("seal"),
  deliver: async () => $("deliver-open").click(),
};

/** What buttons do that stand in lists, dialogs and forms. */
export const inside: Record<string, Does> = {
  ...setButtons,
  "help-close": async () => $<HTMLDialogElement>("help").close(),
  worst: async () => { const f = live.ghost?.worst; if (f !== undefined) { at.hovered = f; views.piece.frame(doc.layout.facePart[f]!); views.sheet.touchOver(); } },
  "make-map": makeMap,
  "set-map": setMap,
  "remove-map": removeMap,
  "copy-shells": copyShells,
  send,
  "go-back": goBack,
  "give-up": async () => { line.givenUp++; },
  seal,
  unseal,
  "copy-map": copyMap,
};
