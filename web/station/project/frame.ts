// The frame of a projection in space: what it looks along or goes around, and knobs that
// change its centre, turn and size. Knobs are buttons, so keys move them as well.
import * as THREE from "three";
import type { Doc, Vec } from "../../bench/doc";
import type { Piece } from "../../bench/view/piece";
import { opens, vec, type Setup } from "./setup";

type Knob = "centre" | "turn" | "size";
const knobs: Knob[] = ["centre", "turn", "size"];
const names: Record<Knob, string> = { centre: "Centre of the projection", turn: "Turn, or where it opens", size: "Size of the projection" };

export class ProjectionFrame {
  private readonly buttons = new Map<Knob, HTMLButtonElement>();

  constructor(private readonly view: HTMLElement, private readonly canvas: HTMLElement, private readonly doc: Doc, private readonly piece: Piece, private readonly setup: Setup) {
    for (const k of knobs) {
      const b = document.createElement("button");
      b.className = `knob ${k}`;
      b.hidden = true;
      b.dataset.knob = k;
      b.setAttribute("aria-label", `${names[k]}, arrow keys change it`);
      b.title = names[k];
      b.onpointerdown = (e) => { b.setPointerCapture(e.pointerId); e.preventDefault(); b.focus(); };
      b.onpointermove = (e) => { if (e.buttons === 1) this.drag(k, e); };
      b.onkeydown = (e) => {
        const step = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[e.key];
        if (!step) return;
        e.preventDefault();
        e.stopPropagation();
        this.nudge(k, step, e.key === "ArrowUp" || e.key === "ArrowDown");
      };
      view.append(b);
      this.buttons.set(k, b);
    }
  }

  private inView(p: Vec): THREE.Vector3 { const m = this.doc.meta.middle; return new THREE.Vector3(p.X - m[0], p.Y - m[1], p.Z - m[2]); }
  private inModel(p: THREE.Vector3): Vec { const m = this.doc.meta.middle; return vec(p.x + m[0], p.y + m[1], p.z + m[2]); }

  /** Origin, axis and the directions across it, as the server has them. */
  private frame(): { o: THREE.Vector3; u: THREE.Vector3; v: THREE.Vector3; axis: THREE.Vector3; ref: THREE.Vector3 } {
    const c = this.setup.current!;
    const axis = new THREE.Vector3(c.axis.X, c.axis.Y, c.axis.Z).normalize(), up = new THREE.Vector3(c.up.X, c.up.Y, c.up.Z).normalize();
    let ref = up.clone().addScaledVector(axis, -up.dot(axis));
    if (ref.length() < 1e-3) {
      const back = Math.abs(up.z) > Math.abs(up.y) ? new THREE.Vector3(0, 1, 0) : new THREE.Vector3(0, 0, -1);
      ref = back.addScaledVector(axis, -back.dot(axis));
      if (ref.length() < 1e-3) ref = new THREE.Vector3(1, 0, 0).addScaledVector(axis, -axis.x);
    }
    ref.normalize();
    if (c.kind !== "planar" && axis.dot(up) < -1e-9) axis.negate();
    const v = ref.clone().applyAxisAngle(axis, (c.turn_deg * Math.PI) / 180);
    return { o: this.inView(c.origin), u: v.clone().cross(axis).normalize(), v, axis, ref };
  }

  /** Reach of the faces across and along the axis, from the centre. */
  private extent(f: { o: THREE.Vector3; axis: THREE.Vector3 }): { across: number; lo: number; hi: number } {
    let across = 0, lo = Infinity, hi = -Infinity;
    const p = new THREE.Vector3();
    for (const g of this.setup.faces) for (const c of this.doc.corners(g)) {
      p.set(...this.doc.point(c)).sub(f.o);
      const t = p.dot(f.axis);
      lo = Math.min(lo, t);
      hi = Math.max(hi, t);
      across = Math.max(across, p.addScaledVector(f.axis, -t).length());
    }
    return { across, lo, hi };
  }

  /** The share of the sheet the frame is drawn for: small enough to be seen with the faces. */
  private share(reach: number): number {
    const c = this.setup.current!;
    const most = opens(c.kind) ? 0.5 * reach : 1.2 * reach;
    let s = 1;
    while (s > 1 / 1024 && 0.5 * s * Math.max(c.width, c.height) > most) s /= 2;
    return s;
  }

  /** Where the knobs are in space. */
  private places(): Map<Knob, THREE.Vector3> {
    const f = this.frame(), e = this.extent(f), c = this.setup.current!;
    const out = new Map<Knob, THREE.Vector3>([["centre", f.o]]);
    const reach = Math.max(e.across, e.hi - e.lo, 1e-9), s = this.share(reach);
    const at = (...d: [THREE.Vector3, number][]): THREE.Vector3 => d.reduce((p, [q, k]) => p.addScaledVector(q, k), f.o.clone());
    if (c.kind === "planar" || c.kind === "box") {
      out.set("turn", at([f.v, 0.5 * s * c.height]));
      out.set("size", at([f.u, 0.5 * s * c.width], [f.v, 0.5 * s * c.height]));
    } else if (opens(c.kind)) {
      out.set("turn", at([f.v, 1.12 * e.across], [f.axis, e.hi]));
      out.set("size", at([f.axis, 0.5 * s * c.height]));
    }
    return out;
  }

  /** The lines of the frame, six numbers each. */
  lines(): number[] {
    const c = this.setup.current;
    if (!c || !this.setup.faces.length || c.kind === "swept" || c.kind === "unfolded") return [];
    const out: number[] = [];
    const line = (a: THREE.Vector3, b: THREE.Vector3): void => { out.push(a.x, a.y, a.z, b.x, b.y, b.z); };
    const f = this.frame(), e = this.extent(f);
    const reach = Math.max(e.across, e.hi - e.lo, 1e-9), s = this.share(reach);
    const at = (u: number, v: number, w: number): THREE.Vector3 => f.o.clone().addScaledVector(f.u, u).addScaledVector(f.v, v).addScaledVector(f.axis, w);
    if (c.kind === "planar" || c.kind === "box") {
      const w = 0.5 * s * c.width, h = 0.5 * s * c.height;
      const rim = [at(-w, -h, 0), at(w, -h, 0), at(w, h, 0), at(-w, h, 0)];
      rim.forEach((p, i) => line(p, rim[(i + 1) % 4]!));
      line(f.o, at(0, 0, 0.6 * reach));
      line(at(0, 0.8 * h, 0), at(0, h, 0));
      line(at(-0.06 * h, 0.9 * h, 0), at(0, h, 0));
      line(at(0.06 * h, 0.9 * h, 0), at(0, h, 0));
      return out;
    }
    const r = 1.04 * e.across;
    for (const w of [e.lo, e.hi]) {
      let last = at(0, r, w);
      for (let i = 1; i <= 48; i++) {
        const a = (2 * Math.PI * i) / 48, next = at(-r * Math.sin(a), r * Math.cos(a), w);
        line(last, next);
        last = next;
      }
    }
    line(at(0, 0, e.lo - 0.12 * reach), at(0, 0, e.hi + 0.12 * reach));
    line(at(0, r, e.lo), at(0, r, e.hi)); // where it opens
    line(at(0, r, e.hi), at(0, 1.12 * e.across, e.hi));
    return out;
  }

  private drag(k: Knob, e: PointerEvent): void {
    const c = this.setup.current;
    if (!c) return;
    const box = this.canvas.getBoundingClientRect();
    const ray = this.piece.ray(e.clientX - box.left, e.clientY - box.top);
    const f = this.frame(), ext = this.extent(f);
    const reach = Math.max(ext.across, ext.hi - ext.lo, 1e-9), s = this.share(reach);
    const hit = (normal: THREE.Vector3, through: THREE.Vector3): THREE.Vector3 | null => ray.intersectPlane(new THREE.Plane().setFromNormalAndCoplanarPoint(normal, through), new THREE.Vector3());
    if (k === "centre") {
      const p = hit(ray.direction.clone().negate(), f.o);
      if (p) this.setup.change({ origin: this.inModel(p) });
      return;
    }
    const flat = c.kind === "planar" || c.kind === "box";
    if (k === "turn") {
      const p = hit(f.axis, flat ? f.o : f.o.clone().addScaledVector(f.axis, ext.hi));
      if (!p) return;
      const d = p.sub(f.o).normalize();
      let a = (Math.atan2(f.axis.dot(f.ref.clone().cross(d)), f.ref.dot(d)) * 180) / Math.PI;
      if (e.shiftKey) a = 15 * Math.round(a / 15);
      this.setup.change({ turn_deg: Math.round(a * 10) / 10 });
      return;
    }
    if (flat) {
      const p = hit(f.axis, f.o);
      if (!p) return;
      const d = p.sub(f.o), w = (2 * Math.abs(d.dot(f.u))) / s, h = (2 * Math.abs(d.dot(f.v))) / s;
      if (c.free) this.setup.change({ width: Math.max(w, 1e-6 * reach), height: Math.max(h, 1e-6 * reach) });
      else this.setup.resize("width", Math.max(w, h, 1e-6 * reach));
      return;
    }
    // Nearest place of the axis to the ray.
    const away = ray.direction.clone().cross(f.axis), l = away.lengthSq();
    if (l < 1e-9) return;
    const t = ray.origin.clone().sub(f.o).cross(ray.direction).dot(f.axis.clone().cross(ray.direction)) / l;
    this.setup.resize("height", Math.max((2 * Math.abs(t)) / s, 1e-6 * reach));
  }

  private nudge(k: Knob, step: number, second: boolean): void {
    const c = this.setup.current;
    if (!c) return;
    if (k === "turn") this.setup.change({ turn_deg: c.turn_deg + 5 * step });
    else if (k === "size") this.setup.resize(second ? "height" : "width", c[second ? "height" : "width"] * 1.05 ** step);
    else {
      const f = this.frame(), e = this.extent(f), d = second ? f.v : f.u;
      this.setup.change({ origin: this.inModel(f.o.clone().addScaledVector(d, 0.02 * step * Math.max(e.across, e.hi - e.lo))) });
    }
  }

  /** Puts the knobs where they are now; hidden unless a projection is set up. */
  update(shown: boolean): void {
    const places = shown && this.setup.current && this.setup.faces.length ? this.places() : new Map<Knob, THREE.Vector3>();
    for (const k of knobs) {
      const b = this.buttons.get(k)!, p = places.get(k);
      b.hidden = !p;
      if (!p) continue;
      const [x, y] = this.piece.onScreen([p.x, p.y, p.z]);
      const place = `translate(${(x + this.canvas.offsetLeft).toFixed(1)}px, ${(y + this.canvas.offsetTop).toFixed(1)}px)`;
      if (b.style.transform !== place) b.style.transform = place;
    }
    this.view.classList.toggle("has-knobs", places.size > 0);
  }
}
