// Points of the sheet: picking them, dragging them by hand with a falloff, snapping. A
// point is a corner that stands for all corners that lie with it.
import { Watched } from "../../bench/store";
import type { Doc, Ghost } from "../../bench/doc";
import { drawGuides, type Guides } from "../../bench/view/guides";
import type { Sheet } from "../../bench/view/sheet";

export class Points extends Watched {
  readonly picked = new Set<number>();
  snap = true;
  ghost: Ghost | null = null;
  /** Lines along which a dragged point snapped, on the sheet: u or v. */
  guides: Guides = {};
  onDrop: (corners: number[], shift: { X: number; Y: number }, reach: number) => Promise<void> = () => Promise.resolve();
  reach: () => number = () => 0;
  private drag: { corner: number; u: number; v: number; shift: { X: number; Y: number } } | null = null;
  private asking: AbortController | null = null;
  private again = false;

  constructor(private readonly doc: Doc) { super(); }

  hot = -1; // under the pointer
  /** A point is under the pointer, or none. */
  hover(corner: number): void {
    if (corner === this.hot) return;
    this.hot = corner;
    this.changed();
  }

  clear(): void { this.take([]); }

  /** Picks these points and no others, each by the lowest corner of it. */
  take(corners: Iterable<number>): void {
    this.picked.clear();
    for (const c of corners) this.picked.add(c);
    this.changed();
  }

  /** Dragged points snap, or no longer. */
  toggleSnap(): void { this.snap = !this.snap; this.changed(); }

  /** The lowest corner of the point a corner belongs to. */
  point(corner: number): number {
    return this.cornersAt(corner)[0] ?? corner;
  }

  /** All corners of the point a corner belongs to. */
  cornersAt(corner: number): number[] {
    const { cornerPoint } = this.doc.mesh, { uv, faceShell } = this.doc.layout, shell = faceShell[this.doc.cornerFace[corner]!]!;
    return this.cornersOf(cornerPoint[corner]!).filter((c) => faceShell[this.doc.cornerFace[c]!] === shell && Math.abs(uv[2 * c]! - uv[2 * corner]!) + Math.abs(uv[2 * c + 1]! - uv[2 * corner + 1]!) < 2e-6);
  }

  private byPoint: number[][] | null = null;
  private cornersOf(point: number): number[] {
    if (!this.byPoint) {
      this.byPoint = [];
      this.doc.mesh.cornerPoint.forEach((p, c) => (this.byPoint![p] ??= []).push(c));
    }
    return this.byPoint[point] ?? [];
  }

  /** The point of a face that is nearest to a place in a picture; -1 if none is near. */
  near(face: number, screen: (corner: number) => [number, number], x: number, y: number, within = 12): number {
    let best = -1, least = within;
    for (const c of this.doc.corners(face)) {
      const [cx, cy] = screen(c);
      const d = Math.hypot(cx - x, cy - y);
      if (d < least) { least = d; best = c; }
    }
    return best < 0 || !this.doc.layout.mapped[face] ? -1 : this.point(best);
  }

  click(corner: number, how: { shiftKey: boolean; altKey: boolean }): void {
    if (how.altKey) this.picked.delete(corner);
    else {
      if (!how.shiftKey && !this.picked.has(corner)) this.picked.clear();
      this.picked.add(corner);
    }
    this.changed();
  }

  /** Starts to drag a point, with all that are picked if it is one of them. */
  begin(corner: number): void {
    if (!this.picked.has(corner)) { this.picked.clear(); this.picked.add(corner); this.changed(); }
    const uv = this.doc.layout.uv;
    this.drag = { corner, u: uv[2 * corner]!, v: uv[2 * corner + 1]!, shift: { X: 0, Y: 0 } };
  }

  /** The pointer is somewhere else: by how much, in units of the sheet, and what a pixel is there. */
  move(du: number, dv: number, pixel: number, free: boolean): void {
    const d = this.drag;
    if (!d) return;
    let u = d.u + du, v = d.v + dv;
    this.guides = {};
    if (this.snap && !free) {
      const near = 7 * pixel, { uv, faceShell } = this.doc.layout;
      let bestU = near, bestV = near, toU = u, toV = v;
      const own = this.doc.mesh.cornerPoint[d.corner]!;
      for (let c = 0; c < uv.length / 2; c++) {
        if (faceShell[this.doc.cornerFace[c]!]! < 0 || this.doc.mesh.cornerPoint[c] === own) continue;
        const eu = Math.abs(uv[2 * c]! - u), ev = Math.abs(uv[2 * c + 1]! - v);
        if (eu > 40 * pixel && ev > 40 * pixel) continue;
        if (eu < bestU && ev < 300 * pixel) { bestU = eu; toU = uv[2 * c]!; this.guides.u = toU; }
        if (ev < bestV && eu < 300 * pixel) { bestV = ev; toV = uv[2 * c + 1]!; this.guides.v = toV; }
      }
      u = toU;
      v = toV;
      const size = this.doc.meta.size; // whole pixels of the texture, where they can be told apart
      if (1 / size > 3 * pixel) {
        if (this.guides.u === undefined) u = Math.round(u * size) / size;
        if (this.guides.v === undefined) v = Math.round(v * size) / size;
      }
    }
    d.shift = { X: u - d.u, Y: v - d.v };
    void this.ask();
  }

  private async ask(): Promise<void> {
    if (this.asking) { this.again = true; return; }
    const d = this.drag;
    if (!d) return;
    this.asking = new AbortController();
    try {
      const g = await this.doc.ghost("nudge", { corners: [...this.picked], shift: d.shift, reach: this.reach() }, this.asking.signal);
      if (this.drag) { this.ghost = g; this.changed(); }
    } catch { /* a way that is not possible shows no ghost */ }
    this.asking = null;
    if (this.again) { this.again = false; void this.ask(); }
  }

  async end(): Promise<void> {
    const d = this.drag;
    this.drag = null;
    this.guides = {};
    this.again = false;
    this.asking?.abort();
    this.ghost = null;
    if (d && (d.shift.X || d.shift.Y)) await this.onDrop([...this.picked], d.shift, this.reach());
    this.changed();
  }

  /** Draws picked points, pins, and guides over the sheet. */
  draw(g: CanvasRenderingContext2D, sheet: Sheet, shown: boolean): void {
    const spot = (c: number): [number, number] => sheet.screenOf(c);
    const css = getComputedStyle(document.body), ink = css.getPropertyValue("--ink").trim(), white = css.getPropertyValue("--white").trim();
    for (const c of this.doc.meta.pins) { // a map pin is known from elsewhere: a nail seen from above
      const [x, y] = spot(c);
      g.lineWidth = 1.5;
      g.strokeStyle = ink;
      g.fillStyle = white;
      g.beginPath(); g.arc(x, y, 5, 0, 7); g.fill(); g.stroke();
      g.beginPath(); g.moveTo(x - 3.5, y - 3.5); g.lineTo(x + 3.5, y + 3.5); g.moveTo(x + 3.5, y - 3.5); g.lineTo(x - 3.5, y + 3.5); g.stroke();
    }
    if (!shown) return;
    if (this.hot >= 0) {
      const [x, y] = spot(this.hot);
      g.strokeStyle = "#14756B";
      g.lineWidth = 2;
      g.strokeRect(x - 5.5, y - 5.5, 11, 11);
    }
    g.fillStyle = "#14756B";
    g.strokeStyle = white;
    g.lineWidth = 1.5;
    const moved = new Map<number, number>();
    (this.ghost?.corners ?? []).forEach((c, i) => moved.set(c, i));
    for (const c of this.picked) {
      const i = moved.get(c);
      const [x, y] = i === undefined ? spot(c) : sheet.screen(this.ghost!.uv![2 * i]!, this.ghost!.uv![2 * i + 1]!);
      g.beginPath(); g.rect(x - 4.5, y - 4.5, 9, 9); g.fill(); g.stroke();
    }
    drawGuides(g, sheet, this.guides);
  }
}
