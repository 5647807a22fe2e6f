// The sheet: the map in the plane, with rulers, and the rack below it. What is dragged is
// shown at once; the server computes.
import * as THREE from "three";
import type { Doc } from "../doc";
import type { Pointed } from "./piece";
import { rectangle, showOutline, type Outline } from "./region";
import { type Layers, Faces, nearestEdge } from "./scene";
import { Touched } from "./touched";
import { across } from "../units";

/** Shells on their way to another place. */
interface Away { shells: ReadonlySet<number>; dx: number; dy: number }

/** What is done while the pointer is down. */
interface Held { move: (du: number, dv: number, pixel: number, e: PointerEvent) => void; end: (e: PointerEvent) => void }

export class Sheet extends Touched {
  readonly faces: Faces;
  private readonly renderer: THREE.WebGLRenderer;
  private readonly camera = new THREE.OrthographicCamera(0, 1, 1, 0, -1, 1);
  private eye = { x: 0.5, y: 0.5, scale: 300, framed: false, still: false }; // middle of what is shown, pixels per sheet unit
  private before: { was: string; x: number; y: number; scale: number } | null = null; // what was seen until it was zoomed out to a ghost
  private framedWide = 1;
  private framedRack = false; // something waited on the rack when it was framed
  private dirtyOver = true;
  private away: Away | null = null;
  /** Drawn over the shells, in pixels of the canvas. */
  readonly overlays: ((g: CanvasRenderingContext2D, screen: (u: number, v: number) => [number, number]) => void)[] = [];
  /** Takes over the pointer where something is to be dragged: asked when its left button goes down. */
  grab: (p: Pointed | null, e: PointerEvent) => Held | null = () => null;
  /** Whether a drag on empty ground draws a region; elsewhere it moves the view. */
  frames: () => boolean = () => false;
  /** Whether a region is drawn freehand now. */
  freehand = false;
  /** Called with the outline of a region when it is done. */
  onRegion: (o: Outline, e: PointerEvent) => void = () => {};
  private panning = false; // by the space key

  constructor(private readonly canvas: HTMLCanvasElement, private readonly over: HTMLCanvasElement, private readonly svg: SVGSVGElement, private readonly doc: Doc, cloth: Layers) {
    super();
    this.renderer = new THREE.WebGLRenderer({ canvas, antialias: true, alpha: true, preserveDrawingBuffer: true });
    this.faces = new Faces(doc, cloth, false, (c) => this.corner(c));
    new ResizeObserver(() => this.resize()).observe(canvas);
    this.listen();
  }

  private corner(c: number): [number, number, number] {
    const uv = this.doc.layout.uv;
    const moved = this.away?.shells.has(this.doc.layout.faceShell[this.doc.cornerFace[c]!]!) ? this.away : null;
    return [uv[2 * c]! + (moved?.dx ?? 0), uv[2 * c + 1]! + (moved?.dy ?? 0), 0];
  }

  private hidden: (face: number) => boolean = () => false;
  /** Faces that are not in the picture. */
  private readonly left = (face: number): boolean => this.doc.layout.mapped[face] === 0 || this.hidden(face);

  /** Leaves faces out of the picture and out of reach of the pointer. */
  hide(hidden: (face: number) => boolean): void {
    this.hidden = hidden;
    this.faces.setPlaces(this.left);
    this.touch();
  }

  /** Takes over a new layout. */
  update(): void {
    this.away = this.before = null; // what was on its way is there, or must be dragged on
    this.faces.setPlaces(this.left);
    const other = !this.eye.framed || this.framedWide !== across(this.doc.meta.settings.sheet) || this.eye.still && this.framedRack !== this.rackDepth() < 0;
    if (other && this.canvas.clientWidth > 0) this.frame();
    this.touch();
  }

  /** How far the rack reaches below the sheet, in sheets; 0 where nothing waits on it. */
  private rackDepth(): number {
    const { uv, mapped } = this.doc.layout;
    let low = 0;
    for (let c = 0; c < uv.length / 2; c++) if (mapped[this.doc.cornerFace[c]!]) low = Math.min(low, uv[2 * c + 1]!);
    return Math.max(low, -1.5);
  }

  /** Shows the same stretch of its sheet as another view, from now on both ways. */
  join(other: Sheet): void {
    this.eye = other.eye;
    this.link(other);
  }

  /** Shows shells elsewhere until they are there, or are shown at their place again. */
  carry(away: Away | null): void {
    this.away = away;
    this.faces.setPlaces(this.left);
    this.touch();
  }

  /** How far the shells are from their place that are shown elsewhere. */
  carried(shell: number): [number, number] { return this.away?.shells.has(shell) ? [this.away.dx, this.away.dy] : [0, 0]; }

  private resize(): void {
    const { clientWidth: w, clientHeight: h } = this.canvas;
    if (w === 0 || h === 0) return;
    const ratio = Math.min(devicePixelRatio, 2);
    this.renderer.setPixelRatio(ratio);
    this.renderer.setSize(w, h, false);
    this.over.width = w * ratio;
    this.over.height = h * ratio;
    this.faces.resize(w, h);
    if (!this.eye.framed || this.eye.still) this.frame();
    this.touch();
  }

  /** Frames the sheet and whatever waits on the rack. */
  frame(): void {
    const low = this.rackDepth(), wide = across(this.doc.meta.settings.sheet);
    this.framedWide = wide;
    this.framedRack = low < 0;
    this.eye.scale = this.whole(low);
    this.eye.x = wide / 2 - 14 / this.eye.scale; // room for the ruler
    this.eye.y = (1 + low) / 2;
    this.eye.framed = this.eye.still = true;
    this.touch();
  }

  /** The scale at which the sheet and the rack fill the picture. */
  private whole(low = this.rackDepth()): number {
    const { clientWidth: w, clientHeight: h } = this.canvas;
    return Math.min((w - 66) / (across(this.doc.meta.settings.sheet) + 0.02), (h - 44) / (1.02 - low));
  }

  /** Frames what waits on the rack. */
  frameRack(): void {
    const { uv, mapped } = this.doc.layout, racked: number[] = [];
    for (let c = 0; c < uv.length / 2; c++) if (mapped[this.doc.cornerFace[c]!] && uv[2 * c + 1]! < 0) racked.push(c);
    this.zoomTo(racked, 0.9);
  }

  /** Whether some of a few faces lie in the picture; true too where none is mapped. */
  sees(faces: number[]): boolean {
    const { clientWidth: w, clientHeight: h } = this.canvas, mapped = faces.filter((f) => this.doc.layout.mapped[f]);
    return !mapped.length || mapped.some((f) => this.doc.corners(f).some((c) => { const [x, y] = this.screenOf(c); return x >= 0 && y >= 0 && x <= w && y <= h; }));
  }

  /** Moves so that some corners are in the middle, as near as it is. */
  center(corners: number[]): void {
    const { uv } = this.doc.layout, of = corners.filter((c) => this.doc.layout.mapped[this.doc.cornerFace[c]!]);
    if (!of.length) return;
    this.eye.still = false;
    this.eye.x = of.reduce((s, c) => s + uv[2 * c]!, 0) / of.length;
    this.eye.y = of.reduce((s, c) => s + uv[2 * c + 1]!, 0) / of.length;
    this.touch();
  }

  /** Zooms to some corners, with room around them, but out no farther than to all there is. */
  zoomTo(corners: number[], share = 0.5): void {
    const { clientWidth: w, clientHeight: h } = this.canvas;
    const { uv, mapped } = this.doc.layout;
    let l = Infinity, r = -Infinity, b = Infinity, t = -Infinity;
    for (const c of corners) {
      if (!mapped[this.doc.cornerFace[c]!]) continue;
      l = Math.min(l, uv[2 * c]!); r = Math.max(r, uv[2 * c]!); b = Math.min(b, uv[2 * c + 1]!); t = Math.max(t, uv[2 * c + 1]!);
    }
    if (!(r >= l)) return;
    const scale = Math.min(60000, Math.min(w / Math.max(r - l, 0.04), h / Math.max(t - b, 0.04)) * share);
    if (scale < this.whole()) return this.frame();
    this.eye.still = false;
    this.eye.x = (l + r) / 2;
    this.eye.y = (b + t) / 2;
    this.eye.scale = scale;
    this.touch();
  }

  /** Zooms out until places of the sheet are in view, if they are not; nobody moved, so it is framed again when the rack fills or empties. What is shown for now is looked back from. */
  reveal(uv: ArrayLike<number>, forNow = false): void {
    const { clientWidth: w, clientHeight: h } = this.canvas;
    let l = this.eye.x - w / 2 / this.eye.scale, r = l + w / this.eye.scale, b = this.eye.y - h / 2 / this.eye.scale, t = b + h / this.eye.scale;
    const was = [l, r, b, t].join();
    for (let i = 0; i < uv.length; i += 2) { l = Math.min(l, uv[i]! - 0.02); r = Math.max(r, uv[i]! + 0.02); b = Math.min(b, uv[i + 1]! - 0.02); t = Math.max(t, uv[i + 1]! + 0.02); }
    if (was === [l, r, b, t].join()) return;
    const { x, y, scale } = this.before?.was === this.looking() ? this.before : this.eye;
    this.eye.scale = Math.min(w / (r - l), h / (t - b));
    this.eye.x = (l + r) / 2;
    this.eye.y = (b + t) / 2;
    this.before = forNow ? { was: this.looking(), x, y, scale } : null;
    this.touch();
  }

  /** Looks again at what was seen before a ghost was revealed, unless somebody has moved meanwhile. */
  lookBack(): void {
    if (!this.before) return;
    const { was, x, y, scale } = this.before;
    this.before = null;
    if (was !== this.looking()) return;
    Object.assign(this.eye, { x, y, scale });
    this.touch();
  }

  private looking(): string { return [this.eye.x, this.eye.y, this.eye.scale].join(); }

  /** How often the picture was drawn: another one, other places. */
  drawn = 0;

  /** Asks for the layer over the shells alone to be drawn again. */
  touchOver(): void { this.dirtyOver = true; Touched.onTouch(); }

  draw(): void {
    if ((!this.dirty && !this.dirtyOver) || !this.faces.sized) return;
    const { clientWidth: w, clientHeight: h } = this.canvas;
    if (this.dirty) this.drawShells(w, h);
    this.dirty = this.dirtyOver = false;
    this.rulers(w, h);
    const g = this.over.getContext("2d")!;
    for (const o of this.overlays) o(g, (u, v) => this.screen(u, v));
  }

  private drawShells(w: number, h: number): void {
    this.drawn++;
    Object.assign(this.camera, { left: this.eye.x - w / 2 / this.eye.scale, right: this.eye.x + w / 2 / this.eye.scale, bottom: this.eye.y - h / 2 / this.eye.scale, top: this.eye.y + h / 2 / this.eye.scale });
    this.camera.updateProjectionMatrix();
    this.faces.zoom(this.eye.scale);
    this.renderer.render(this.faces.scene, this.camera);
  }

  /** Where a corner lies in the picture; far outside if it is not mapped. */
  screenOf(corner: number): [number, number] {
    const { uv, mapped } = this.doc.layout;
    return mapped[this.doc.cornerFace[corner]!] ? this.screen(uv[2 * corner]!, uv[2 * corner + 1]!) : [-1e4, -1e4];
  }

  /** Where a point that an edge ends at lies, on one of its shells. */
  spot(edge: number, point: number): [number, number] | null {
    const { edgeCorners, edgeFaces, layout, mesh } = this.doc;
    if (!layout.mapped[edgeFaces[2 * edge]!]) return null;
    const c = [edgeCorners[2 * edge]!, edgeCorners[2 * edge + 1]!].find((k) => mesh.cornerPoint[k] === point);
    return c === undefined ? null : this.screen(layout.uv[2 * c]!, layout.uv[2 * c + 1]!);
  }

  /** The place on the sheet that is drawn at a pixel. */
  place(px: number, py: number): [number, number] {
    return [this.eye.x + (px - this.canvas.clientWidth / 2) / this.eye.scale, this.eye.y - (py - this.canvas.clientHeight / 2) / this.eye.scale];
  }

  screen(u: number, v: number): [number, number] {
    return [this.canvas.clientWidth / 2 + (u - this.eye.x) * this.eye.scale, this.canvas.clientHeight / 2 - (v - this.eye.y) * this.eye.scale];
  }

  private rulers(w: number, h: number): void {
    const g = this.over.getContext("2d")!;
    const css = getComputedStyle(document.body);
    const [ink, rule, soft] = ["--ink", "--rule", "--soft"].map((n) => css.getPropertyValue(n).trim());
    g.setTransform(this.over.width / w, 0, 0, this.over.height / h, 0, 0);
    g.clearRect(0, 0, w, h);
    const { tiles } = this.doc.meta.settings.sheet, wide = across(this.doc.meta.settings.sheet);
    const [x0, y1] = this.screen(0, 0), [x1, y0] = this.screen(wide, 1);
    g.strokeStyle = ink!;
    g.lineWidth = 1.4;
    g.strokeRect(x0, y0, x1 - x0, y1 - y0);
    g.fillStyle = soft!;
    g.font = "11px 'IBM Plex Mono', monospace";
    g.textAlign = "left";
    if (tiles > 1) for (let i = 0; i < tiles; i++) { // with their UDIM numbers
      const [x] = this.screen(i, 0);
      if (i) { g.beginPath(); g.moveTo(x, y0); g.lineTo(x, y1); g.stroke(); }
      g.fillText(String(1001 + i), x + 3, y0 - 5);
    }
    const size = this.doc.meta.size;
    const step = this.eye.scale > 1500 ? 0.0625 : this.eye.scale > 500 ? 0.125 : this.eye.scale > 150 ? 0.25 : 1;
    g.lineWidth = 1;
    const tick = (t: number): void => {
      const [x] = this.screen(t, 0), [, y] = this.screen(0, t);
      g.beginPath(); g.moveTo(x, y1); g.lineTo(x, y1 + 5); if (t <= 1) { g.moveTo(x0 - 5, y); g.lineTo(x0, y); } g.stroke();
      g.textAlign = "center"; g.fillText(String(Math.round(t * size)), x, y1 + 15);
      g.textAlign = "right"; if (t > 0 && t <= 1) g.fillText(String(Math.round(t * size)), x0 - 7, y + 4);
    };
    for (let i = 0; i * step <= wide + 1e-9; i++) tick(i * step);
    const waiting = this.doc.layout.uv.some((v, i) => i % 2 === 1 && v < -1e-6);
    if (waiting) { g.textAlign = "right"; g.fillStyle = ink!; g.font = "600 13px 'Barlow Condensed', sans-serif"; const y = y1 + Math.min(30, 0.085 * this.eye.scale); g.fillText("Rack", x0 - 7, y); g.strokeStyle = rule!; g.beginPath(); g.moveTo(x0, y - 4); g.lineTo(x1, y - 4); g.stroke(); }
  }

  at(px: number, py: number): Pointed | null {
    const [u, v] = this.place(px, py);
    const hit = this.faces.bvh?.raycastFirst(new THREE.Ray(new THREE.Vector3(u, v, 1), new THREE.Vector3(0, 0, -1)), THREE.DoubleSide);
    if (!hit || hit.faceIndex === undefined || hit.faceIndex === null) return null;
    const face = this.doc.mesh.triFace[hit.faceIndex]!;
    const near = nearestEdge(this.doc, face, (c) => { const p = this.corner(c); return this.screen(p[0], p[1]); }, px, py);
    return { face, edge: near.distance < 6 ? near.edge : -1, x: px, y: py };
  }

  private listen(): void {
    let last: [number, number] | null = null;
    let held: (Held & { x: number; y: number; moved: boolean }) | null = null;
    const hold = (h: Held | null, e: PointerEvent): void => { held = h ? { ...h, x: e.clientX, y: e.clientY, moved: false } : null; };
    this.canvas.addEventListener("contextmenu", (e) => e.preventDefault());
    for (const kind of ["keydown", "keyup"] as const) document.addEventListener(kind, (e) => {
      if (e.code !== "Space" || (e.target as HTMLElement).closest("input, select, button, summary, a")) return;
      e.preventDefault();
      this.panning = kind === "keydown";
    });
    this.canvas.addEventListener("pointerdown", (e) => {
      last = [e.clientX, e.clientY];
      this.canvas.setPointerCapture(e.pointerId);
      hold(null, e);
      if (e.button !== 0 || this.panning) return;
      const p = this.at(e.offsetX, e.offsetY);
      hold(this.grab(p, e) ?? (p || !this.frames() ? null : this.region(e)), e);
    });
    this.canvas.addEventListener("pointermove", (e) => {
      if (!last || e.buttons === 0) return;
      if (held) {
        const dx = e.clientX - held.x, dy = e.clientY - held.y;
        held.moved ||= Math.hypot(dx, dy) > 4;
        if (held.moved) held.move(dx / this.eye.scale, -dy / this.eye.scale, 1 / this.eye.scale, e);
        return;
      }
      this.eye.still = false;
      this.eye.x -= (e.clientX - last[0]) / this.eye.scale;
      this.eye.y += (e.clientY - last[1]) / this.eye.scale;
      last = [e.clientX, e.clientY];
      this.touch();
    });
    this.canvas.addEventListener("pointerup", (e) => {
      const h = held;
      held = last = null;
      if (h) h.end(e);
    });
    this.canvas.addEventListener("wheel", (e) => {
      e.preventDefault();
      const k = Math.exp(-e.deltaY * 0.0012), w = this.canvas.clientWidth, h = this.canvas.clientHeight;
      const u = this.eye.x + (e.offsetX - w / 2) / this.eye.scale, v = this.eye.y - (e.offsetY - h / 2) / this.eye.scale;
      this.eye.still = false;
      this.eye.scale = Math.max(20, Math.min(60000, this.eye.scale * k));
      this.eye.x = u - (e.offsetX - w / 2) / this.eye.scale;
      this.eye.y = v + (e.offsetY - h / 2) / this.eye.scale;
      this.touch();
    }, { passive: false });
  }

  /** A region is drawn from where the pointer went down. */
  private region(down: PointerEvent): Held {
    const from: [number, number] = [down.offsetX, down.offsetY], line: Outline = [from];
    const outline = (e: PointerEvent): Outline => (this.freehand ? line : rectangle(from, [e.offsetX, e.offsetY]));
    let drawn = false;
    return {
      move: (_u, _v, _pixel, e) => {
        drawn = true;
        line.push([e.offsetX, e.offsetY]);
        showOutline(this.svg, outline(e));
      },
      end: (e) => {
        showOutline(this.svg, null);
        if (drawn) this.onRegion(outline(e), e);
      },
    };
  }
}
