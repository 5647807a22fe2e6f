// The tray of the Sheet station: what the sheet is made for, with what that costs; shells laid
// by hand; density. Packing is a verb of all stations.
import { across } from "../../bench/units";
import { chosenIn, shellFaces, value, shellsMeant } from "../../bench/chosen";
import { closeForm } from "../../bench/forms";
import { Refused } from "../../bench/doc";
import { $, at, attempt, body, carry, doc, live, shells, views } from "../../bench/state";
import type { Station } from "../../bench/station";
import { effect } from "../../bench/store";
import { drawGuides } from "../../bench/view/guides";
import { verdigris } from "../../bench/view/lines";
import { shownBox } from "./carry";
import { chooseShells, fitNext } from "./choose";
import { densityButtons, densityWords, planNeed, verbs as densities, writeDensity } from "./densities";
import { chosenWords, drawBorders, drawDensities, drawStacks } from "./drawshells";
import { fields, moveBy, read, shown, unitSize, type Field, type NumberUnit } from "./numbers";
import type { SnapTo } from "./snap";

/** The settings of the sheet as the tray says them. */
function settings(pack: boolean): object {
  return {
    sheet: { size: value("sheet-size"), padding: value("sheet-padding"), margin: value("sheet-margin"), tiles: value("sheet-tiles"), wide: chosenIn("sheet-shape") === "wide" },
    turns: chosenIn("sheet-turns"), grain_on_v: chosenIn("sheet-grain") === "v", repeats: chosenIn("sheet-repeats"), pack,
  };
}

const here = (): boolean => at.station === "Sheet";
let border: number[] = [];

/** Draws what is chosen, stacks and densities over the sheet. */
export function drawChosen(g: CanvasRenderingContext2D): void {
  drawStacks(g, doc, views.sheet, shells);
  if (!here()) return;
  if (border.length) drawBorders(g, doc, views.sheet, border);
  if (at.form === "density" || at.form === "density-all") drawDensities(g, doc, views.sheet, shells);
  drawGuides(g, views.sheet, carry.guides);
}

const unit = (): NumberUnit => (chosenIn("place-unit") || "px") as NumberUnit;
const field = (f: Field): HTMLInputElement | null => document.getElementById(`place-${f}`) as HTMLInputElement | null;

/** Writes place and size of what is chosen into the tray. */
export function writeNumbers(): void {
  const x = shownBox(shells, views.sheet), one = unitSize(unit(), doc, [...shells.ids()][0] ?? -1);
  for (const f of fields) {
    const el = field(f);
    if (el && (el !== document.activeElement || !el.value)) { el.value = x ? shown(read(f, x) / one) : ""; el.disabled = !x; }
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
  void [doc.meta, at.station, at.form];
  border = here() ? shells.border() : [];
  views.piece.faces.setLines("shells", border, { color: verdigris, width: 4, order: 5 });
  views.piece.touch();
  views.sheet.touchOver();
  body.dataset.chosen = String(here() ? shells.ids().size : 0);
  sayWaiting();
  markTray();
  if (at.form === "need") queueMicrotask(planNeed);
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

/** The tray shows what fits: how the sheet is packed, or the chosen shells by their numbers. */
function markTray(): void {
  const words = chosenWords(shells, doc), say = (id: string, what: string): void => { const el = document.getElementById(id); if (el) el.textContent = what; };
  for (const el of document.querySelectorAll<HTMLElement>("#tray [data-shells]")) el.hidden = (el.dataset.shells === "some") !== !!words;
  for (const [on, which] of [[at.locked, "#place-lock"], [at.each, "#place-each"], [at.andPack, "#density-pack"], [areLocked(), "#place-hold"]] as const) for (const el of document.querySelectorAll(which)) el.setAttribute("aria-pressed", String(on));
  say("place-lead", words);
  say("density-lead", densityWords());
  for (const [id, v] of [["place-snap", carry.snap], ["place-step", String(carry.stepPx)]] as const) { const el = document.getElementById(id) as HTMLInputElement | null; if (el) el.value = v; }
  body.dataset.tray = words ? "place" : "pack";
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
export const chosenOnCard = takeChosen;

const align = (by: string) => () => doc.edit("align", { faces: shellFaces(), by });
const distribute = (along: "u" | "v", close = false) => () => doc.edit("distribute", { faces: shellFaces(), along, ...(close ? { gap_px: doc.meta.settings.sheet.padding } : {}) });
const sizes = (): object => (chosenIn("pack-sizes") ? { sizes: chosenIn("pack-sizes") } : {});
const how = (): object => {
  const blocks = chosenIn("pack-blocks");
  return { ...sizes(), ...(blocks ? { blocks, ...(blocks === "picked" ? { picked: shellFaces() } : {}) } : {}) };
};
const aside = (): [string, object] => {
  const list = [...shells.ids()].map((s) => doc.meta.shells[s]!), boxes = [...shells.ids()].map((s) => shells.boxOf(s));
  const apart = list.some((s, i) => s.above && boxes[i]!.l >= across(doc.meta.settings.sheet));
  return ["offset-stack", { faces: shellFaces(), tiles: apart ? 0 : doc.meta.settings.sheet.tiles }];
};

/** Lays what was never laid, or what waits; what lies by hand stays. */
async function pack(): Promise<void> {
  if (!doc.meta.placed) await doc.edit("pack", how());
  else if (shells.waiting()) await doc.edit("pack", { rack: true, ...sizes() });
  else throw new Refused("What was laid by hand stays, and nothing waits on the rack. “Pack all anew” lays all.", 422);
}

const whole = (): void => views.sheet.frame();

export const sheet: Station<"Sheet"> = {
  help: "click a shell · Shift adds · drag it · arrows nudge · drag on empty ground: rectangle, L freehand",
  kinds: ["shells"],
  shows: ["shells", "model", "choose", "view"],
  verbs: {
    ...densities,
    lanes: { before: whole, tries: () => ["lanes", { pack: true }] },
    divide: { before: whole, tries: () => ["lanes", { faces: shellFaces(), pieces: value("set-lanes", 2), pack: true }] },
    "set-sheet": { tries: () => ["set-sheet", settings(doc.meta.shells.length > 0)] },
    align: { asks: async () => {} },
    fit: { asks: async () => {} },
    "to-rack": { edits: () => ["to-rack", { faces: shellFaces() }] },
    "into-room": { edits: () => ["pack", { faces: shellFaces(), ...sizes() }] },
    fill: { edits: () => ["pack", { rack: true, ...sizes() }] },
    pack,
    improve: { tries: () => ["improve", {}], steps: true },
    "pack-all": { before: whole, tries: () => ["pack", how()] },
    arrange: { before: whole, tries: () => ["arrange", { from: chosenIn("arrange-from") }] },
    hold: { edits: () => ["lock-shells", { faces: shellFaces(), locked: !areLocked() }] },
    stack: { tries: () => ["stack", { faces: shellFaces() }] },
    unstack: { edits: () => ["unstack", { faces: shellFaces() }] },
    spread: { edits: () => ["unstack", { faces: shellFaces(), spread: true }] },
    offset: { edits: aside },
    "turn-by": { asks: () => doc.edit("move", { faces: shellFaces(), shift: { X: 0, Y: 0 }, turn_deg: value("place-turn"), ...(at.each ? { each: true } : {}) }) },
    need: { asks: async () => {} },
    racked: async () => chooseShells(shells.like("rack"), "instead"),
    "drag-to": { asks: async () => {} },
  },
  inner: {
    ...densityButtons,
    "set-only": async () => { await doc.edit("set-sheet", settings(false)); closeForm(); },
    "align-left": align("left"), "align-middle-u": align("middle-u"), "align-right": align("right"),
    "align-bottom": align("bottom"), "align-middle-v": align("middle-v"), "align-top": align("top"),
    "gaps-u": distribute("u"), "gaps-v": distribute("v"), row: distribute("u", true), column: distribute("v", true),
    "fit-sheet": () => doc.edit("fit-into", { faces: shellFaces() }),
    "fit-draw": async () => { shellFaces(); closeForm(); fitNext(true); $("readout").textContent = "draw the rectangle on the sheet; Esc leaves it"; },
    "to-pixels": () => doc.edit("to-raster", { faces: shellFaces() }),
    lock: async () => { at.locked = !at.locked; markTray(); },
    each: async () => { at.each = !at.each; markTray(); },
    "density-pack": async () => { at.andPack = !at.andPack; markTray(); },
  },
  changes: {
    "place-unit": writeNumbers,
    "density-per": writeDensity,
    "place-snap": (el) => { carry.snap = el.value as SnapTo; },
    "place-step": (el) => { carry.stepPx = Math.max(1, Number(el.value) || 64); },
    ...Object.fromEntries(fields.map((f) => [`place-${f}`, () => void attempt(() => setNumber(f))])),
  },
  shown: markTray,
  entered: takeChosen,
  left: () => { carry.settle(); fitNext(false); },
  drop: () => {
    if (fitNext(false)) return true;
    if (shells.ids().size) shells.clear();
    return false;
  },
};
