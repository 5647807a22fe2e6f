// What the bench is about at the moment, shared by its modules: the document, what is
// chosen and picked, the views, and how trouble is told. All of it can be watched.
import { Card } from "./card";
import { store } from "./store";
import { Chain } from "../station/seams/chain";
import type { Laid } from "./view/laid";
import { Foretold } from "./foretold";
import { Doc, Refused } from "./doc";
import type { Handles } from "./view/handles";
import { Join } from "../station/seams/join";
import type { Lines } from "./view/lines";
import { Picks } from "./picks";
import type { Piece } from "./view/piece";
import type { Faces, Show } from "./view/scene";
import type { Sheet } from "./view/sheet";
import type { Kind } from "./station";
import type { ProjectionFrame } from "../station/project/frame";
import { Trial } from "./trial";
import { Points } from "../station/flow/points";
import { Setup } from "../station/project/setup";
import { Suggestions } from "../station/seams/suggest";
import { Carry } from "../station/sheet/carry";
import { Shells } from "../station/sheet/shells";

export const $ = <T extends HTMLElement>(id: string): T => document.getElementById(id) as T;
export const body = document.body;
export const doc = new Doc(body.dataset.document!, body.dataset.hash!, Number(body.dataset.map), body.dataset.past);

export const at = store({
  station: "Parts",
  part: -1, // chosen
  parts: new Set<number>() as ReadonlySet<number>, // it and those chosen with Shift
  face: -1, // clicked last
  whole: false, // whether parts were chosen on the card, with all their shells
  show: "parts" as Show,
  finding: -1, // shown last
  hovered: -1, // face under the pointer
  hot: -1, // edge under the pointer
  hidden: new Set<number>() as ReadonlySet<number>, // parts set aside
  aside: new Set<number>() as ReadonlySet<number>, // faces set aside besides
  working: false, // whether long work that was asked for here is under way
  worn: 0, // counts what was done to cloths
  seeThrough: false,
  kinds: {} as Readonly<Record<string, Kind>>, // what a click picks at stations where somebody chose
  drawing: false, // whether a stroke on the model is the grain
  form: "", // the verb whose settings the tray shows
  material: false, // whether it is set for a whole material
  sense: false, // whether a grain that is set goes one way only
  locked: true, // whether proportions stay when shells are scaled by numbers
  andPack: false, // whether all are packed when densities are set
  each: false, // whether each of several shells turns about its own middle
  tag: [0, 0] as [number, number], // where the note of what is picked stands
  /** What was done to edges last, if the same can be done to the repeats of their parts. */
  offer: null as { kind: string; edges: number[]; more: number; revision: number } | null,
});

export const faceHidden = (f: number): boolean => at.aside.has(f) || at.hidden.has(doc.layout.facePart[f]!);

/** The views, there once the document is loaded. */
export const views = { handles: [] as Handles[] } as { cloths: Laid; piece: Piece; sheet: Sheet; lines: Lines; frame: ProjectionFrame; handles: Handles[]; onStroke: Piece["stroke"] };

export const both = (f: (v: Faces) => void): void => { f(views.piece.faces); f(views.sheet.faces); views.piece.touch(); views.sheet.touch(); };

let used = false; // a page that was only opened shows no focus
for (const kind of ["keydown", "pointerdown"]) document.addEventListener(kind, () => { used = true; }, { capture: true, once: true });

/** Keys go to the view that is worked in. */
export const focusView = (): void => { if (used) $(at.station === "Sheet" ? "sheet-canvas" : "piece-canvas").focus({ preventScroll: true }); };

export function trouble(e: unknown): void {
  $("banner-text").textContent = e instanceof Refused ? e.message : "Something went wrong in the page; reload it. Nothing is lost.";
  $("banner-copy").hidden = !(e instanceof Refused && e.sealed === doc.meta?.map);
  const again = e instanceof Refused ? e.again : null;
  $("banner-again").hidden = !again;
  $("banner-again").onclick = () => { if (again) void attempt(again); };
  $("banner").hidden = false;
  if (!(e instanceof Refused)) console.error(e);
}

export async function attempt(what: () => Promise<unknown>): Promise<void> {
  $("banner").hidden = true;
  $("saved").textContent = "saving";
  try { await what(); } catch (e) { trouble(e); }
  if (doc.meta) $("saved").textContent = `saved ${doc.meta.saved}`;
}

export const picks = new Picks(doc);
export const chain = new Chain(doc, picks);
export const join = new Join(doc, picks, $("ghost"));
export const points = new Points(doc);
export const setup = new Setup(doc);
export const live = new Trial(doc, $("ghost"));
export const foretold = new Foretold(doc);
export const suggestions = new Suggestions(doc, () => document.getElementById("suggest"));
export const shells = new Shells(doc);
export const carry = new Carry(doc, shells, () => views.sheet, attempt);
export const card = new Card(() => at.parts);
