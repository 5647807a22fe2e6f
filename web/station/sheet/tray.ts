// The tray of the Sheet station: what the sheet is made for, with what that costs; shells laid
// by hand; density. Packing is a verb of all stations.
import { across } from "../../bench/units";
import { chosenIn, shellFaces, value } from "../../bench/chosen";
import { sheetFigures } from "../../bench/dial";
import { Refused } from "../../bench/doc";
import { $, at, attempt, body, carry, dial, doc, live, shells, shellsMeant, views } from "../../bench/state";
import type { Station } from "../../bench/station";
import { effect } from "../../bench/store";
import { drawGuides } from "../../bench/view/guides";
import { verdigris } from "../../bench/view/lines";
import { shownBox } from "./carry";
import { chooseShells, fitNext } from "./choose";
import { densityWords, planNeed, verbs as densities, writeDensity } from "./densities";
import { chosenWords, drawBorders, drawDensities, drawStacks } from "./drawshells";
import { fields, moveBy, read, shown, unitSize, type Field, type NumberUnit } from "./numbers";
import type { Like } from "./shells";
import type { SnapTo } from "./snap";

/** The settings of the sheet as the tray says them. */
function settings(pack: boolean): object {
  return {
    sheet: { size: value("sheet-size"), padding: value("sheet-padding"), margin: value("sheet-margin"), tiles: value("sheet-tiles"), wide: chosenIn("sheet-shape") === "wide" },
    turns: chosenIn("sheet-turns"), grain_on_v: chosenIn("sheet-grain") === "v", repeats: chosenIn("sheet-repeats"), pack,
  };
}

/** One of them is another: what packing by them would give is counted. */
function count(): void {
  if (doc.meta.shells.length) dial.turn("set-sheet", settings(true), sheetFigures, $("sheet-figures"));
}

const here = (): boolean => at.station === "Sheet";
let border: number[] = [];

/** Draws what is chosen, stacks and densities over the sheet. */
export function drawChosen(g: CanvasRenderingContext2D): void {
  drawStacks(g, doc, views.sheet, shells);
  if (!here()) return;
  if (border.length) drawBorders(g, doc, views.sheet, border);
  if (at.about === "density") drawDensities(g, doc, views.sheet, shells);
  drawGuides(g, views.sheet, carry.guides);
}

const unit = (): NumberUnit => (chosenIn("place-unit") || "px") as NumberUnit;
const field = (f: Field): HTMLInputElement | null => document.getElementById(`place-${f}`) as HTMLInputElement | null;

/** Writes place and size of what is chosen into the tray. */
export function writeNumbers(): void {
  const x = shownBox(shells, views.sheet), one = unitSize(unit(), doc, [...shells.ids()][0] ?? -1);
  for (const f of fields) {
    const el = field(f);
    if (el && el !== document.activeElement) { el.value = x ? shown(read(f, x) / one) : ""; el.disabled = !x; }
  }
}

/** A number of place or size was set. */
async function setNumber(f: Field): Promise<void> {
  const x = shells.box(), el = field(f)!;
  el.blur();
  if (!x) return;
  const by = moveBy(f, Number(el.value) * unitSize(unit(), doc, [...shells.ids()][0]!), x, at.locked);
  if (!by) { writeNumbers(); return; }
  const params = { faces: shellsMeant(), ...by };
  if ("scale_v" in by) await live.start("move", params, false); else await doc.edit("move", params);
}

/** What is chosen, in the views and in the tray. */
function showChosen(): void {
  shells.watch();
  void [doc.meta, at.station, at.about];
  border = here() ? shells.border() : [];
  views.piece.faces.setLines("shells", border, { color: verdigris, width: 4, order: 5 });
  views.piece.touch();
  views.sheet.touchOver();
  body.dataset.chosen = String(here() ? shells.ids().size : 0);
  sayWaiting();
  markTray();
}

/** How many wait on the rack, beside the sheet. */
function sayWaiting(): void {
  const n = shells.waiting(), el = $("rack-note");
  el.hidden = !n;
  el.textContent = `rack ${n}`;
  body.dataset.waiting = String(n);
}

/** Whether all that are chosen are locked. */
function areLocked(): boolean {
  const locked = new Set(doc.meta.locked.map((f) => doc.layout.faceShell[f]!)), ids = [...shells.ids()];
  return ids.length > 0 && ids.every((s) => locked.has(s));
}

/** The tray shows what fits: packing, shells laid by hand, or density. */
function markTray(): void {
  for (const b of document.querySelectorAll<HTMLElement>("[data-about]")) b.setAttribute("aria-pressed", String(b.dataset.about === at.about));
  for (const el of document.querySelectorAll<HTMLElement>("[data-aboutfor]")) el.hidden = el.dataset.aboutfor !== at.about;
  for (const [on, which] of [[at.locked, "#place-lock"], [at.each, "#place-each"], [at.andPack, "#density-pack"], [areLocked(), "[data-do=hold]"]] as const) for (const el of document.querySelectorAll(which)) el.setAttribute("aria-pressed", String(on));
  const words = chosenWords(shells, doc), say = (id: string, what: string): void => { const el = document.getElementById(id); if (el) el.textContent = what; };
  say("place-lead", words || "Click a shell, or draw a rectangle on empty ground.");
  say("density-lead", densityWords());
  for (const b of document.querySelectorAll<HTMLButtonElement>("[data-needs=shells] button, button[data-needs=shells]")) b.disabled = !words;
  const snap = document.getElementById("place-snap") as HTMLSelectElement | null;
  if (snap) snap.value = carry.snap;
  body.dataset.tray = at.about;
  writeNumbers();
  writeDensity();
}

/** Begins to keep the station in line with what is chosen. */
export function watchShells(): void { effect(showChosen); }

const arrows: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };

/** An arrow key moves what is chosen by a pixel, with Shift by the padding; false where nothing is. */
export function nudge(e: KeyboardEvent): boolean {
  const by = arrows[e.key];
  if (!by || !here() || !shells.ids().size) return false;
  const { size, settings: s } = doc.meta, step = (e.shiftKey ? Math.max(1, s.sheet.padding) : 1) / size;
  carry.nudge(by[0] * step, by[1] * step);
  writeNumbers();
  return true;
}

/** Shells of the chosen parts, or the one that was clicked elsewhere, are those that are chosen. */
function takeChosen(): void {
  if (at.whole || at.parts.size > 1) shells.takeParts(at.parts);
  else if (at.face >= 0 && doc.layout.faceShell[at.face]! >= 0) shells.take([doc.layout.faceShell[at.face]!], "instead");
  else shells.clear();
}

/** Parts were chosen on the card while the sheet is worked on. */
export function chosenOnCard(): void {
  takeChosen();
  if (at.about !== "density") at.about = shells.ids().size ? "place" : "pack";
}

const align = (by: string) => () => doc.edit("align", { faces: shellFaces(), by });
const turned = (degrees: number) => () => doc.edit("move", { faces: shellFaces(), shift: { X: 0, Y: 0 }, turn_deg: degrees, ...(at.each ? { each: true } : {}) });
const like = (what: Like) => async () => chooseShells(shells.like(what), "instead");
const sizes = (): object => (chosenIn("pack-sizes") ? { sizes: chosenIn("pack-sizes") } : {});
const how = (): object => {
  const blocks = chosenIn("pack-blocks");
  return { ...sizes(), ...(blocks ? { blocks, ...(blocks === "picked" ? { picked: shellFaces() } : {}) } : {}) };
};
const aside = (): Promise<void> => {
  const list = [...shells.ids()].map((s) => doc.meta.shells[s]!), boxes = [...shells.ids()].map((s) => shells.boxOf(s));
  const apart = list.some((s, i) => s.above && boxes[i]!.l >= across(doc.meta.settings.sheet));
  return doc.edit("offset-stack", { faces: shellFaces(), tiles: apart ? 0 : doc.meta.settings.sheet.tiles });
};

export const sheet: Station = {
  help: "click a shell · Shift adds · drag it · arrows nudge · rectangle on empty ground, L freehand · right button moves the view",
  verbs: {
    ...densities,
    lanes: async () => { views.sheet.frame(); await live.start("lanes", { pack: true }, false); },
    divide: async () => { views.sheet.frame(); await live.start("lanes", { faces: shellFaces(), pieces: value("set-lanes", 2), pack: true }, false); },
    "set-sheet": () => doc.edit("set-sheet", settings(doc.meta.shells.length > 0)),
    "set-only": () => doc.edit("set-sheet", settings(false)),
    "align-left": align("left"), "align-middle-u": align("middle-u"), "align-right": align("right"),
    "align-bottom": align("bottom"), "align-middle-v": align("middle-v"), "align-top": align("top"),
    "gaps-u": () => doc.edit("distribute", { faces: shellFaces(), along: "u" }),
    "gaps-v": () => doc.edit("distribute", { faces: shellFaces(), along: "v" }),
    row: () => doc.edit("distribute", { faces: shellFaces(), along: "u", gap_px: doc.meta.settings.sheet.padding }),
    column: () => doc.edit("distribute", { faces: shellFaces(), along: "v", gap_px: doc.meta.settings.sheet.padding }),
    "fit-sheet": () => doc.edit("fit-into", { faces: shellFaces() }),
    "fit-draw": async () => { shellFaces(); fitNext(true); $("readout").textContent = "draw the rectangle on the sheet; Esc leaves it"; },
    "to-pixels": () => doc.edit("to-raster", { faces: shellFaces() }),
    "to-rack": () => doc.edit("to-rack", { faces: shellFaces() }),
    "into-room": () => doc.edit("pack", { faces: shellFaces(), ...sizes() }),
    fill: () => doc.edit("pack", { rack: true, ...sizes() }),
    pack: async () => {
      if (!doc.meta.placed) await doc.edit("pack", how());
      else if (shells.waiting()) await doc.edit("pack", { rack: true, ...sizes() });
      else throw new Refused("What was laid by hand stays, and nothing waits on the rack. Pack all anew from the tray of the sheet.", 422);
    },
    improve: () => live.start("improve", {}),
    "pack-all": () => doc.edit("pack", how()),
    hold: () => doc.edit("lock-shells", { faces: shellFaces(), locked: !areLocked() }),
    stack: () => live.start("stack", { faces: shellFaces() }, false),
    unstack: () => doc.edit("unstack", { faces: shellFaces() }),
    spread: () => doc.edit("unstack", { faces: shellFaces(), spread: true }),
    offset: aside,
    turn: turned(90),
    "turn-on": turned(15),
    "turn-back": turned(-15),
    "turn-by": () => turned(value("place-turn"))(),
    flip: () => doc.edit("move", { faces: shellFaces(), shift: { X: 0, Y: 0 }, flip: true, ...(at.each ? { each: true } : {}) }),
    lock: async () => { at.locked = !at.locked; markTray(); },
    each: async () => { at.each = !at.each; markTray(); },
    "density-pack": async () => { at.andPack = !at.andPack; markTray(); },
    "like-all": like("all"), "like-invert": like("invert"),
  },
  keys: { d: "lanes", n: "improve", ".": "turn-on", ",": "turn-back", a: "like-all", i: "like-invert", b: "to-rack", f: "into-room" },
  clicks: { about: (v) => { at.about = v as typeof at.about; if (v === "density") planNeed(); } },
  inputs: Object.fromEntries(["size", "shape", "tiles", "padding", "margin", "turns", "grain", "repeats"].map((id) => [`sheet-${id}`, count])),
  changes: {
    "arrange-from": (el) => { const from = el.value; el.value = ""; void attempt(() => live.start("arrange", { from }, false)); },
    "choose-like": (el) => { const what = el.value as Like; el.value = ""; void attempt(like(what)); },
    "place-unit": writeNumbers,
    "density-per": writeDensity,
    "place-snap": (el) => { carry.snap = el.value as SnapTo; },
    "place-step": (el) => { carry.stepPx = Math.max(1, Number(el.value) || 64); },
    ...Object.fromEntries(fields.map((f) => [`place-${f}`, () => void attempt(() => setNumber(f))])),
  },
  shown: () => { markTray(); if (at.about === "density") planNeed(); },
  entered: takeChosen,
  left: () => { carry.settle(); fitNext(false); },
  drop: () => {
    if (fitNext(false)) return true;
    if (!shells.ids().size) return false;
    shells.clear();
    if (at.about === "place") at.about = "pack";
    return false;
  },
};
