// Choosing shells with the pointer, in both views, and dragging those that are chosen.
import { Refused } from "../../bench/doc";
import { at, attempt, carry, card, doc, shells, views } from "../../bench/state";
import { batch } from "../../bench/store";
import { loadTray } from "../../bench/tray";
import type { Pointed } from "../../bench/view/piece";
import { inside, type Outline } from "../../bench/view/region";

type How = "instead" | "besides" | "without" | "toggle";

/** Chooses shells, and with them their parts. */
export function chooseShells(list: Iterable<number>, how: How, face = -1): void {
  const was = at.part;
  batch(() => {
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
}

const how = (e: { shiftKey: boolean; altKey: boolean }, more: How): How => (e.altKey ? "without" : e.shiftKey ? more : "instead");

/** A shell was clicked, in either view. */
export function clickShell(p: Pointed, e: { shiftKey: boolean; altKey: boolean }): void {
  const s = doc.layout.faceShell[p.face]!;
  if (s < 0) throw new Refused("This face is not mapped; flatten it first.", 422);
  chooseShells([s], how(e, "toggle"), p.face);
}

let fitting = false; // the next region is one to fit into

/** The next region that is drawn on the sheet is one to fit what is chosen into. */
export function fitNext(yes: boolean): boolean {
  const was = fitting;
  fitting = yes;
  return was;
}

/** A region was drawn on the sheet. */
export function regionOnSheet(o: Outline, e: { shiftKey: boolean; altKey: boolean }): void {
  const xs = o.map((p) => p[0]), ys = o.map((p) => p[1]), box = { l: Math.min(...xs), r: Math.max(...xs), b: Math.min(...ys), t: Math.max(...ys) };
  if (fitNext(false)) {
    const [l, t] = views.sheet.place(box.l, box.b), [r, b] = views.sheet.place(box.r, box.t);
    void attempt(() => doc.edit("fit-into", { faces: shells.seeds(), box: { Min: { X: l, Y: b }, Max: { X: r, Y: t } } }));
    return;
  }
  chooseShells(shells.within((x, y) => inside(o, x, y), (c) => views.sheet.screenOf(c), box), how(e, "besides"));
}

/** Shells of faces were framed on the model. */
export function regionOnPiece(faces: number[], e: { shiftKey: boolean; altKey: boolean }): void {
  chooseShells(new Set(faces.map((f) => doc.layout.faceShell[f]!)), how(e, "besides"));
}

/** The pointer goes down on the sheet: chosen shells are dragged, others are chosen first. */
export function gripShell(p: Pointed | null, e: PointerEvent, moved: () => void): ReturnType<typeof carry.begin> | null {
  if (!p || fitting) return null;
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
      moved();
    },
    end: () => begun?.end(),
  };
}
