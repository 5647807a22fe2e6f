// The tray of the Sheet station: what the sheet is made for, with what that costs, and shells
// laid by hand. Packing is a verb of all stations.
import { chosenIn, value } from "../../bench/chosen";
import { sheetFigures } from "../../bench/dial";
import { Refused } from "../../bench/doc";
import { $, at, attempt, body, carry, card, dial, doc, live, shells, shellsMeant, views } from "../../bench/state";
import type { Station } from "../../bench/station";
import { batch, effect } from "../../bench/store";
import { loadTray } from "../../bench/tray";
import type { Outline } from "../../bench/view/region";
import { inside } from "../../bench/view/region";
import { verdigris } from "../../bench/view/lines";
import type { Pointed } from "../../bench/view/piece";
import { shownBox } from "./carry";
import { chosenWords, drawBorders, drawGuides } from "./drawshells";
import { fields, moveBy, read, shown, unitSize, type Field, type NumberUnit } from "./numbers";
import type { Like } from "./shells";
import type { SnapTo } from "./snap";

/** The settings of the sheet as the tray says them. */
function settings(pack: boolean): object {
  return {
    sheet: { size: value("sheet-size"), padding: value("sheet-padding"), margin: value("sheet-margin"), tiles: value("sheet-tiles") },
    turns: chosenIn("sheet-turns"), grain_on_v: chosenIn("sheet-grain") === "v", repeats: chosenIn("sheet-repeats"), pack,
  };
}

/** One of them is another: what packing by them would give is counted. */
function count(): void {
  if (doc.meta.shells.length) dial.turn("set-sheet", settings(true), sheetFigures, $("sheet-figures"));
}

const here = (): boolean => at.station === "Sheet";

/** Chooses shells, and with them their parts. */
export function chooseShells(list: Iterable<number>, how: "instead" | "besides" | "without" | "toggle", face = -1): void {
  const was = at.part;
  batch(() => {
    if (!shells.ids().size) at.about = "place";
    shells.take(list, how);
    followShells(face);
  });
  card.reveal(at.part);
  if (at.part !== was) loadTray();
}

/** The parts of the chosen shells are those that are chosen. */
function followShells(face: number): void {
  const ids = [...shells.ids()], parts = new Set(ids.map((s) => doc.meta.shells[s]!.part).filter((p) => p >= 0));
  const last = ids.at(-1) ?? -1;
  at.part = last < 0 ? -1 : doc.meta.shells[last]!.part;
  at.parts = parts;
  at.whole = false;
  at.face = last < 0 ? -1 : face >= 0 && doc.layout.faceShell[face] === last ? face : shells.facesOf(last)[0]!;
  if (!ids.length) at.about = "pack";
}

/** A shell was clicked, in either view. */
export function clickShell(p: Pointed, e: { shiftKey: boolean; altKey: boolean }): void {
  const s = doc.layout.faceShell[p.face]!;
  if (s < 0) throw new Refused("This face is not mapped; flatten it first.", 422);
  chooseShells([s], e.altKey ? "without" : e.shiftKey ? "toggle" : "instead", p.face);
}

let fitting = false; // the next region is one to fit into

/** A region was drawn on the sheet. */
export function regionOnSheet(o: Outline, e: { shiftKey: boolean; altKey: boolean }): void {
  const xs = o.map((p) => p[0]), ys = o.map((p) => p[1]), box = { l: Math.min(...xs), r: Math.max(...xs), b: Math.min(...ys), t: Math.max(...ys) };
  if (fitting) {
    fitting = false;
    const [l, t] = views.sheet.place(box.l, box.b), [r, b] = views.sheet.place(box.r, box.t);
    void attempt(() => doc.edit("fit-into", { faces: shellsMeant(), box: { Min: { X: l, Y: b }, Max: { X: r, Y: t } } }));
    return;
  }
  chooseShells(shells.within((x, y) => inside(o, x, y), (c) => views.sheet.screenOf(c), box), e.altKey ? "without" : e.shiftKey ? "besides" : "instead");
}

/** The pointer goes down on the sheet: chosen shells are dragged, others are chosen first. */
export function gripShell(p: Pointed | null, e: PointerEvent): ReturnType<typeof carry.begin> | null {
  if (!here() || !p || fitting) return null;
  const s = doc.layout.faceShell[p.face]!;
  if (s < 0) return null;
  let begun: ReturnType<typeof carry.begin> | null = null;
  return {
    move: (du, dv, pixel, m) => {
      if (!begun) {
        if (!shells.ids().has(s)) chooseShells([s], e.shiftKey ? "besides" : "instead", p.face);
        begun = carry.begin();
      }
      begun.move(du, dv, pixel, m);
      writeNumbers();
    },
    end: () => begun?.end(),
  };
}

let border: number[] = [];

/** Draws what is chosen over the sheet. */
export function drawChosen(g: CanvasRenderingContext2D): void {
  if (!here()) return;
  if (border.length) drawBorders(g, doc, views.sheet, border);
  drawGuides(g, views.sheet, carry.guides);
}

const unit = (): NumberUnit => (chosenIn("place-unit") || "px") as NumberUnit;
const field = (f: Field): HTMLInputElement | null => document.getElementById(`place-${f}`) as HTMLInputElement | null;

/** Writes place and size of what is chosen into the tray. */
function writeNumbers(): void {
  const x = shownBox(shells, views.sheet), one = unitSize(unit(), doc, [...shells.ids()][0] ?? -1);
  for (const f of fields) {
    const el = field(f);
    if (el && el !== document.activeElement) { el.value = x ? shown(read(f, x) / one) : ""; el.disabled = !x; }
  }
}

/** A number of place or size was set. */
async function setNumber(f: Field): Promise<void> {
  const x = shells.box(), el = field(f)!;
  if (!x) return;
  const by = moveBy(f, Number(el.value) * unitSize(unit(), doc, [...shells.ids()][0]!), x, at.locked);
  if (!by) { writeNumbers(); return; }
  const params = { faces: shellsMeant(), ...by };
  if ("scale_v" in by) await live.start("move", params, false); else await doc.edit("move", params);
}

/** What is chosen, in the views and in the tray. */
function showChosen(): void {
  shells.watch();
  void [doc.meta, at.station];
  border = here() ? shells.border() : [];
  views.piece.faces.setLines("shells", border, { color: verdigris, width: 4, order: 5 });
  views.piece.touch();
  views.sheet.touchOver();
  body.dataset.chosen = String(here() ? shells.ids().size : 0);
  markTray();
}

/** The tray shows what fits: packing, or shells laid by hand. */
function markTray(): void {
  for (const b of document.querySelectorAll<HTMLElement>("[data-about]")) b.setAttribute("aria-pressed", String(b.dataset.about === at.about));
  for (const el of document.querySelectorAll<HTMLElement>("[data-aboutfor]")) el.hidden = el.dataset.aboutfor !== at.about;
  for (const [id, on] of [["place-lock", at.locked], ["place-each", at.each]] as const) document.getElementById(id)?.setAttribute("aria-pressed", String(on));
  const lead = document.getElementById("place-lead"), words = chosenWords(shells, doc);
  if (lead) lead.textContent = words || "Click a shell, or draw a rectangle on empty ground.";
  for (const b of document.querySelectorAll<HTMLButtonElement>("[data-needs=shells] button, button[data-needs=shells]")) b.disabled = !words;
  const snap = document.getElementById("place-snap") as HTMLSelectElement | null;
  if (snap) snap.value = carry.snap;
  body.dataset.tray = at.about;
  writeNumbers();
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

const align = (by: string) => () => doc.edit("align", { faces: shellsMeant(), by });
const turned = (degrees: number) => () => doc.edit("move", { faces: shellsMeant(), shift: { X: 0, Y: 0 }, turn_deg: degrees, ...(at.each ? { each: true } : {}) });
const chooseLike = (like: Like) => async () => { const was = new Set(shells.ids()); shells.takeLike(like); const now = shells.ids(); chooseShells(now, "instead"); if (!was.size && now.size) at.about = "place"; };

export const sheet: Station = {
  help: "click a shell · Shift adds · drag it · arrows nudge · rectangle on empty ground, L freehand · right button moves the view",
  verbs: {
    lanes: async () => { views.sheet.frame(); await live.start("lanes", { pack: true }, false); },
    divide: async () => { views.sheet.frame(); await live.start("lanes", { faces: shellsMeant(), pieces: value("set-lanes", 2), pack: true }, false); },
    "set-sheet": () => doc.edit("set-sheet", settings(doc.meta.shells.length > 0)),
    "set-only": () => doc.edit("set-sheet", settings(false)),
    "align-left": align("left"), "align-middle-u": align("middle-u"), "align-right": align("right"),
    "align-bottom": align("bottom"), "align-middle-v": align("middle-v"), "align-top": align("top"),
    "gaps-u": () => doc.edit("distribute", { faces: shellsMeant(), along: "u" }),
    "gaps-v": () => doc.edit("distribute", { faces: shellsMeant(), along: "v" }),
    row: () => doc.edit("distribute", { faces: shellsMeant(), along: "u", gap_px: doc.meta.settings.sheet.padding }),
    column: () => doc.edit("distribute", { faces: shellsMeant(), along: "v", gap_px: doc.meta.settings.sheet.padding }),
    "fit-sheet": () => doc.edit("fit-into", { faces: shellsMeant() }),
    "fit-draw": async () => { fitting = true; $("readout").textContent = "draw the rectangle on the sheet; Esc leaves it"; },
    "to-pixels": () => doc.edit("to-raster", { faces: shellsMeant() }),
    "to-rack": () => doc.edit("to-rack", { faces: shellsMeant() }),
    turn: turned(90),
    "turn-on": turned(15),
    "turn-back": turned(-15),
    "turn-by": () => turned(value("place-turn"))(),
    flip: () => doc.edit("move", { faces: shellsMeant(), shift: { X: 0, Y: 0 }, flip: true, ...(at.each ? { each: true } : {}) }),
    lock: async () => { at.locked = !at.locked; markTray(); },
    each: async () => { at.each = !at.each; markTray(); },
    "like-all": chooseLike("all"), "like-part": chooseLike("part"), "like-material": chooseLike("material"),
    "like-size": chooseLike("size"), "like-rack": chooseLike("rack"), "like-invert": chooseLike("invert"),
  },
  keys: { d: "lanes", ".": "turn-on", ",": "turn-back", a: "like-all", i: "like-invert", b: "to-rack" },
  clicks: { about: (v) => { at.about = v as typeof at.about; markTray(); } },
  inputs: Object.fromEntries(["size", "tiles", "padding", "margin", "turns", "grain", "repeats"].map((id) => [`sheet-${id}`, count])),
  changes: {
    "place-unit": writeNumbers,
    "place-snap": (el) => { carry.snap = el.value as SnapTo; },
    "place-step": (el) => { carry.stepPx = Math.max(1, Number(el.value) || 64); },
    ...Object.fromEntries(fields.map((f) => [`place-${f}`, () => void attempt(() => setNumber(f))])),
  },
  shown: markTray,
  entered: () => {
    if (at.whole || at.parts.size > 1) shells.takeParts(at.parts);
    else if (at.face >= 0 && doc.layout.faceShell[at.face]! >= 0) shells.take([doc.layout.faceShell[at.face]!], "instead");
    else shells.clear();
    at.about = shells.ids().size ? "place" : "pack";
  },
  left: () => { carry.settle(); fitting = false; },
  drop: () => {
    if (fitting) { fitting = false; return true; }
    if (!shells.ids().size) return false;
    shells.clear();
    at.about = "pack";
    return false;
  },
};
