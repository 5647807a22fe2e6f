// Moving chosen shells: by dragging, with something to snap to, and by arrow keys, whose steps
// are one edit when they end.
import { across } from "../../bench/units";
import type { Doc } from "../../bench/doc";
import type { Guides } from "../../bench/view/guides";
import type { Sheet } from "../../bench/view/sheet";
import { around, type Box, type Shells } from "./shells";
import { snapped, type Ground, type SnapTo } from "./snap";

const pause = 350; // ms after the last arrow key was let go of

export class Carry {
  snap: SnapTo = "borders";
  stepPx = 64;
  /** Lines to which a drag snapped. */
  guides: Guides = {};
  private nudged: { dx: number; dy: number; timer: number } | null = null;

  constructor(private readonly doc: Doc, private readonly shells: Shells, private readonly sheet: () => Sheet, private readonly attempt: (what: () => Promise<unknown>) => Promise<void>) {}

  /** Begins to drag the chosen shells. */
  begin(): { move: (du: number, dv: number, pixel: number, e: PointerEvent) => void; end: () => void } {
    const ids = this.shells.ids(), box = this.shells.box()!, ground = this.ground(ids);
    let shift: [number, number] = [0, 0];
    return {
      move: (du, dv, pixel, e) => {
        const s = snapped(e.altKey ? "nothing" : this.snap, box, e.shiftKey ? (Math.abs(du) > Math.abs(dv) ? [du, 0] : [0, dv]) : [du, dv], 7 * pixel, ground);
        shift = s.shift;
        this.guides = { ...(s.u === undefined ? {} : { u: s.u }), ...(s.v === undefined ? {} : { v: s.v }) };
        this.sheet().carry({ shells: ids, dx: shift[0], dy: shift[1] });
      },
      end: () => {
        this.guides = {};
        if (shift[0] || shift[1]) void this.drop(shift[0], shift[1]); else this.sheet().carry(null);
      },
    };
  }

  private async drop(dx: number, dy: number): Promise<void> {
    const faces = this.shells.seeds();
    await this.attempt(() => this.doc.edit("move", { faces, shift: { X: dx, Y: dy } }));
    this.sheet().carry(null);
  }

  /** One step by an arrow key; as long as it is held, and for others that follow at once, it is one edit. */
  nudge(du: number, dv: number): void {
    const n = (this.nudged ??= { dx: 0, dy: 0, timer: 0 });
    n.dx += du;
    n.dy += dv;
    this.sheet().carry({ shells: this.shells.ids(), dx: n.dx, dy: n.dy });
    clearTimeout(n.timer);
  }

  /** The arrow key was let go of. */
  released(): void { if (this.nudged) this.nudged.timer = window.setTimeout(() => this.settle(), pause); }

  /** Ends a run of steps. */
  settle(): void {
    const n = this.nudged;
    if (!n) return;
    this.nudged = null;
    clearTimeout(n.timer);
    if (n.dx || n.dy) void this.drop(n.dx, n.dy); else this.sheet().carry(null);
  }

  private ground(away: ReadonlySet<number>): Ground {
    const { size, settings } = this.doc.meta, boxes: Box[] = [];
    for (let s = 0; s < this.shells.count; s++) if (!away.has(s)) boxes.push(this.shells.boxOf(s));
    return { boxes, padding: settings.sheet.padding / size, margin: settings.sheet.margin / size, pixel: 1 / size, step: this.stepPx / size, across: across(settings.sheet) };
  }
}

/** The box around what is carried as it is shown. */
export function shownBox(shells: Shells, sheet: Sheet): Box | null {
  return around([...shells.ids()].map((s) => {
    const x = shells.boxOf(s), [dx, dy] = sheet.carried(s);
    return { l: x.l + dx, b: x.b + dy, r: x.r + dx, t: x.t + dy };
  }));
}
