// The piece: the model in space. Drag on it orbits, on empty ground frames a
// region; Shift drag pans, the wheel zooms.
import * as THREE from "three";
import type { Doc } from "../doc";
import { Cameras, Eye, tall } from "./eye";
import { inside, rectangle, showOutline, type Outline } from "./region";
import { type Layers, Faces, nearestEdge } from "./scene";
import { Touched } from "./touched";

export interface Pointed { face: number; edge: number; x: number; y: number }

export class Piece extends Touched {
  readonly faces: Faces;
  private readonly renderer: THREE.WebGLRenderer;
  private readonly cameras = new Cameras();
  private get camera(): THREE.Camera { return this.cameras.camera; }
  /** From where it is looked at; several views can have it in common. */
  eye = new Eye();
  private radius: number;
  /** How large the model is, for dashes. */
  get size(): number { return this.radius; }
  private hidden: (face: number) => boolean = () => false;
  /** Whether a region on empty ground is drawn freehand now. */
  freehand = false;
  /** Takes a drag that begins on a face, where a stroke is to be drawn; null leaves it to orbiting. */
  stroke: ((from: THREE.Vector3, to: THREE.Vector3, face: number) => void) | null = null;
  /** The stroke under way, in pixels. */
  onStroke: (line: [number, number, number, number] | null) => void = () => {};
  /** Called with the outline of a region when it is done; null leaves empty ground to orbiting. */
  onRegion: ((o: Outline, e: PointerEvent) => void) | null = null;

  constructor(private readonly canvas: HTMLCanvasElement, private readonly over: SVGSVGElement, private readonly doc: Doc, cloth: Layers) {
    super();
    this.renderer = new THREE.WebGLRenderer({ canvas, antialias: true, alpha: true, preserveDrawingBuffer: true });
    this.faces = new Faces(doc, cloth, true, (c) => doc.point(c));
    this.faces.setPlaces();
    this.faces.geometry.computeBoundingSphere();
    this.radius = Math.max(this.faces.geometry.boundingSphere?.radius ?? 1, 1e-6);
    this.stand(doc.meta.settings.up);
    this.frame(-1);
    new ResizeObserver(() => this.resize()).observe(canvas);
    this.listen();
  }

  /** Leaves faces out of the picture and out of reach of the pointer. */
  hide(hidden: (face: number) => boolean): void {
    this.hidden = hidden;
    this.faces.setPlaces(hidden);
    this.touch();
  }

  /** Takes over the map that changed. */
  refresh(): void { this.faces.remap(); }

  /** Faces whose middle lies inside an outline: those in view, or all of them. */
  facesIn(o: Outline, through: boolean): number[] {
    this.place();
    const out: number[] = [];
    const mid = new THREE.Vector3(), v = new THREE.Vector3();
    for (let f = 0; f + 1 < this.doc.mesh.faceStart.length; f++) {
      if (this.hidden(f)) continue;
      const corners = this.doc.corners(f);
      mid.set(0, 0, 0);
      for (const c of corners) mid.add(v.set(...this.doc.point(c)));
      mid.divideScalar(corners.length);
      v.copy(mid).project(this.camera);
      if (v.z > 1 || v.z < -1 || !inside(o, ((v.x + 1) / 2) * this.canvas.clientWidth, ((1 - v.y) / 2) * this.canvas.clientHeight)) continue;
      if (!through) {
        const hit = this.faces.bvh!.raycastFirst(this.cameras.rayTo(mid), THREE.DoubleSide);
        if (!hit || this.doc.mesh.triFace[hit.faceIndex!] !== f) continue;
      }
      out.push(f);
    }
    return out;
  }

  private resize(): void {
    const { clientWidth: w, clientHeight: h } = this.canvas;
    if (w === 0 || h === 0) return;
    this.renderer.setPixelRatio(Math.min(devicePixelRatio, 2));
    this.renderer.setSize(w, h, false);
    this.cameras.aspect = w / h;
    if (this.eye.framed === -1) this.frame(-1); // nobody has moved yet
    this.faces.resize(w, h);
    this.touch();
  }

  private readonly shift = new THREE.Vector3(); // of the middle of this model from that of the other

  /** Looks at this model from where another view looks at its own, from now on both ways. */
  join(other: Piece): void {
    this.eye = other.eye;
    this.radius = other.radius = Math.max(this.radius, other.radius);
    this.shift.set(...other.doc.meta.middle).sub(new THREE.Vector3(...this.doc.meta.middle));
    this.link(other);
  }

  /** Stands the model up; what is framed stays framed. */
  stand(up: string): void {
    if (this.eye.zUp === (up === "z")) return;
    this.eye.zUp = up === "z";
    if (this.eye.framed !== null) this.frame(this.eye.framed);
    this.touch();
  }

  /** Turns the model about its upright axis, in radians. */
  turn(by: number): void { this.eye.yaw += by; this.touch(); }

  /** Looks from a direction, in radians about the upright axis and above the horizon; from the opposite one if it does already. */
  lookFrom(yaw: number, pitch: number): void {
    const e = this.eye, same = Math.abs(Math.sin((e.yaw - yaw) / 2)) < 0.01 && Math.abs(e.pitch - pitch) < 0.01;
    e.yaw = same && pitch === 0 ? yaw + Math.PI : yaw;
    e.pitch = same ? -pitch : pitch;
    this.touch();
  }

  /** How often the picture was drawn: another one, other places. */
  drawn = 0;

  draw(): void {
    if (!this.dirty || !this.faces.sized) return;
    this.dirty = false;
    this.drawn++;
    this.place();
    this.renderer.render(this.faces.scene, this.camera);
  }

  private place(): void { this.cameras.place(this.eye, this.shift, this.radius); }

  /** Clips more of the near side away, or less. */
  clip(by: number): number {
    this.eye.clip = Math.round(100 * Math.max(0, Math.min(0.98, this.eye.clip + by))) / 100;
    this.touch();
    return this.eye.clip;
  }

  /** Frames the faces of a part, all for -1, from where one looks now. */
  frame(part: number): void {
    const { facePart } = this.doc.layout, { cornerFace } = this.doc;
    if (this.frameBox((c) => part < 0 || facePart[cornerFace[c]!] === part, part >= 0)) this.eye.framed = part;
  }

  /** Frames some corners, from where one looks now. */
  frameCorners(corners: Iterable<number>): void {
    const of = new Set(corners);
    if (this.frameBox((c) => of.has(c), true)) this.eye.framed = null;
  }

  /** Frames the box around corners, with room around them where they are a part of the model; false if there are none. */
  private frameBox(of: (corner: number) => boolean, room: boolean): boolean {
    const box = new THREE.Box3();
    const v = new THREE.Vector3();
    const { cornerPoint } = this.doc.mesh;
    for (let c = 0; c < cornerPoint.length; c++) if (of(c)) box.expandByPoint(v.set(...this.doc.point(c)));
    if (box.isEmpty()) return false;
    const middle = box.getCenter(new THREE.Vector3());
    this.eye.target.copy(middle).sub(this.shift);
    // As near as all corners of the box allow, in height and in width, from here.
    const back = this.eye.back();
    const right = this.eye.up().cross(back).normalize(), up = back.clone().cross(right);
    const wide = tall * Math.min(this.cameras.aspect, 4);
    let d = 0;
    for (let k = 0; k < 8; k++) {
      v.set(k & 1 ? box.max.x : box.min.x, k & 2 ? box.max.y : box.min.y, k & 4 ? box.max.z : box.min.z).sub(middle);
      d = Math.max(d, v.dot(back) + Math.abs(v.dot(right)) / wide, v.dot(back) + Math.abs(v.dot(up)) / tall);
    }
    this.eye.distance = Math.max(1.01 * d, room ? Math.max(1.45 * d, this.radius * 0.35) : 0);
    this.touch();
    return true;
  }

  /** Whether some of a few faces are seen as it is looked at now. */
  sees(faces: number[]): boolean {
    this.place();
    return faces.slice(0, 8).some((f) => {
      const mid = this.doc.middle(f), v = mid.clone().project(this.camera);
      if (Math.abs(v.x) > 1 || Math.abs(v.y) > 1 || Math.abs(v.z) > 1) return false;
      const hit = this.faces.bvh!.raycastFirst(this.cameras.ray(v.x, v.y), THREE.DoubleSide);
      return !!hit && this.doc.mesh.triFace[hit.faceIndex!] === f;
    });
  }

  /** Turns and goes to where faces are seen best, as near as they are large, or staying as far as it is; false if none is seen from anywhere outside. */
  lookAt(faces: number[], stay = false): boolean {
    const few = faces.filter((_, i) => i % Math.ceil(faces.length / 24) === 0);
    const places = few.map((f) => {
      const n = new THREE.Vector3(...this.doc.faceVector(f)).normalize();
      return { n, p: this.doc.middle(f).addScaledVector(n, 1e-4 * this.radius) };
    });
    const best = { seen: 0, yaw: this.eye.yaw, pitch: this.eye.pitch };
    const ray = new THREE.Ray(), d = new THREE.Vector3();
    for (let k = 0; k < 97; k++) { // where one looks from now, then all around, evenly
      const y = 1 - (2 * (k - 0.5)) / 96;
      const pitch = k === 0 ? this.eye.pitch : Math.max(-1.4, Math.min(1.4, Math.asin(y))), yaw = k === 0 ? this.eye.yaw : k * Math.PI * (3 - Math.sqrt(5));
      d.copy(this.eye.back(yaw, pitch));
      let seen = 0;
      for (const { n, p } of places) {
        const facing = n.dot(d);
        if (facing < 0.15) continue;
        ray.set(p, d);
        if (!this.faces.bvh!.raycastFirst(ray, THREE.DoubleSide)) seen += 0.5 + facing;
      }
      if (seen > best.seen * (k ? 1.15 : 1)) Object.assign(best, { seen, yaw, pitch }); // a better view must be worth the turn
    }
    if (best.seen > 0) { this.eye.yaw = best.yaw; this.eye.pitch = best.pitch; }
    const box = new THREE.Box3(), v = new THREE.Vector3();
    for (const f of faces) for (const c of this.doc.corners(f)) box.expandByPoint(v.set(...this.doc.point(c)));
    box.getCenter(this.eye.target).sub(this.shift);
    if (!stay) this.eye.distance = Math.max((2.2 * box.getSize(v).length()) / Math.min(1, this.cameras.aspect), 0.25 * this.radius);
    this.eye.framed = null;
    this.touch();
    return best.seen > 0;
  }

  /** The ray through a place of the canvas, in CSS pixels. */
  ray(x: number, y: number): THREE.Ray {
    this.place();
    return this.cameras.ray((x / this.canvas.clientWidth) * 2 - 1, 1 - (y / this.canvas.clientHeight) * 2);
  }

  /** The unit direction from the model to the eye. */
  get toEye(): THREE.Vector3 { this.place(); return this.cameras.toEye(); }

  /** What is under a place of the canvas, in CSS pixels. */
  at(x: number, y: number): Pointed | null {
    const hit = this.faces.bvh!.raycastFirst(this.ray(x, y), THREE.DoubleSide);
    if (!hit || hit.faceIndex === undefined || hit.faceIndex === null) return null;
    const face = this.doc.mesh.triFace[hit.faceIndex]!;
    const { edge, distance } = nearestEdge(this.doc, face, (c) => this.screen(c), x, y);
    return { face, edge: distance < 7 ? edge : -1, x, y };
  }

  /** A stroke lies in the plane of the face it began on. */
  private endStroke(a: [number, number], b: [number, number]): void {
    const hit = this.faces.bvh!.raycastFirst(this.ray(...a), THREE.DoubleSide);
    if (!hit || !hit.face || hit.faceIndex === null || hit.faceIndex === undefined) return;
    const from = hit.point.clone(), plane = new THREE.Plane().setFromNormalAndCoplanarPoint(hit.face.normal.clone(), from);
    const to = this.ray(...b).intersectPlane(plane, new THREE.Vector3());
    if (to) this.stroke?.(from, to, this.doc.mesh.triFace[hit.faceIndex]!);
  }

  screen(corner: number): [number, number] { return this.onScreen(this.doc.point(corner)); }

  /** Where a point of the mesh is in the picture. */
  spot(point: number): [number, number] | null {
    const p = this.doc.mesh.points;
    return this.onScreen([p[3 * point]!, p[3 * point + 1]!, p[3 * point + 2]!]);
  }

  /** Where a place in space is in the picture. */
  onScreen(p: [number, number, number]): [number, number] {
    const v = new THREE.Vector3(...p).project(this.camera);
    return [((v.x + 1) / 2) * this.canvas.clientWidth, ((1 - v.y) / 2) * this.canvas.clientHeight];
  }

  private listen(): void {
    let last: [number, number] | null = null;
    let drawn: [number, number] | null = null;
    let region: { from: [number, number]; line: Outline } | null = null;
    this.canvas.addEventListener("pointerdown", (e) => {
      this.canvas.setPointerCapture(e.pointerId);
      if (e.button === 0 && this.stroke && this.at(e.offsetX, e.offsetY)) drawn = [e.offsetX, e.offsetY];
      else if (e.button === 0 && this.onRegion && !this.at(e.offsetX, e.offsetY)) region = { from: [e.offsetX, e.offsetY], line: [[e.offsetX, e.offsetY]] };
      else last = [e.clientX, e.clientY];
    });
    this.canvas.addEventListener("pointerup", (e) => {
      if (drawn) {
        const from = drawn;
        drawn = null;
        this.onStroke(null);
        if (Math.hypot(e.offsetX - from[0], e.offsetY - from[1]) > 8) this.endStroke(from, [e.offsetX, e.offsetY]);
        return;
      }
      const done = region;
      region = null;
      showOutline(this.over, null);
      if (!done || Math.hypot(e.offsetX - done.from[0], e.offsetY - done.from[1]) < 5) return;
      this.onRegion?.(this.freehand ? done.line : rectangle(done.from, [e.offsetX, e.offsetY]), e);
    });
    this.canvas.addEventListener("pointermove", (e) => {
      if (drawn && e.buttons === 1) { this.onStroke([...drawn, e.offsetX, e.offsetY]); return; }
      if (region && e.buttons === 1) {
        region.line.push([e.offsetX, e.offsetY]);
        showOutline(this.over, this.freehand ? region.line : rectangle(region.from, [e.offsetX, e.offsetY]));
        return;
      }
      if (!last || e.buttons === 0) { last = null; return; }
      const dx = e.clientX - last[0], dy = e.clientY - last[1];
      last = [e.clientX, e.clientY];
      if (dx || dy) this.eye.framed = null;
      if (e.shiftKey || e.buttons === 4) {
        const k = (this.eye.distance * 0.57) / this.canvas.clientHeight;
        const right = new THREE.Vector3().setFromMatrixColumn(this.camera.matrix, 0), up = new THREE.Vector3().setFromMatrixColumn(this.camera.matrix, 1);
        this.eye.target.addScaledVector(right, -dx * k).addScaledVector(up, dy * k);
      } else {
        this.eye.turn(-dx * 0.008, dy * 0.008);
      }
      this.touch();
    });
    this.canvas.addEventListener("wheel", (e) => {
      e.preventDefault();
      this.eye.framed = null;
      this.eye.distance = Math.max(this.radius * 0.02, Math.min(this.radius * 20, this.eye.distance * Math.exp(e.deltaY * 0.0012)));
      this.touch();
    }, { passive: false });
    this.canvas.addEventListener("keydown", (e) => {
      const step = { ArrowLeft: [-0.1, 0], ArrowRight: [0.1, 0], ArrowUp: [0, 0.1], ArrowDown: [0, -0.1] }[e.key];
      if (!step) return;
      e.preventDefault();
      this.eye.turn(step[0]!, step[1]!);
      this.touch();
    });
  }
}
