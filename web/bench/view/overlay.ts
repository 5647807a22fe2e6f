// The fitted shape of a part as thin lines in space: axis and circles, spine,
// frame of a plane. Coordinates are about the middle of the model, as the mesh's.
import * as THREE from "three";
import type { Doc, Fit } from "../doc";

type Segments = number[];

function line(out: Segments, a: THREE.Vector3, b: THREE.Vector3): void { out.push(a.x, a.y, a.z, b.x, b.y, b.z); }

function circle(out: Segments, centre: THREE.Vector3, axis: THREE.Vector3, radius: number): void {
  const u = new THREE.Vector3(1, 0, 0);
  if (Math.abs(axis.x) > 0.8) u.set(0, 1, 0);
  u.cross(axis).normalize();
  const v = new THREE.Vector3().crossVectors(axis, u);
  const at = (i: number): THREE.Vector3 => centre.clone().addScaledVector(u, radius * Math.cos((i * Math.PI) / 24)).addScaledVector(v, radius * Math.sin((i * Math.PI) / 24));
  for (let i = 0; i < 48; i++) line(out, at(i), at(i + 1));
}

/** Range of a part along its axis, from the origin of its fit, and its reach across. */
function extent(doc: Doc, part: number, origin: THREE.Vector3, axis: THREE.Vector3): { lo: number; hi: number; reach: number } {
  let lo = Infinity, hi = -Infinity, reach = 0;
  const v = new THREE.Vector3();
  for (let c = 0; c < doc.cornerFace.length; c++) {
    if (doc.layout.facePart[doc.cornerFace[c]!] !== part) continue;
    v.set(...doc.point(c)).sub(origin);
    const t = v.dot(axis);
    lo = Math.min(lo, t);
    hi = Math.max(hi, t);
    reach = Math.max(reach, v.addScaledVector(axis, -t).length());
  }
  return { lo, hi, reach };
}

/** The helix of a thread, over the length of the part, and its axis. */
function helix(doc: Doc, out: Segments, part: number, o: THREE.Vector3, a: THREE.Vector3, fit: Fit): void {
  const { lo, hi, reach } = extent(doc, part, o, a);
  if (!(hi >= lo) || !fit.pitch) return;
  const u = new THREE.Vector3(Math.abs(a.x) > 0.8 ? 0 : 1, Math.abs(a.x) > 0.8 ? 1 : 0, 0).cross(a).normalize(), v = new THREE.Vector3().crossVectors(a, u);
  const steps = Math.min(4800, Math.max(12, Math.ceil(48 * (hi - lo) / Math.abs(fit.pitch))));
  const at = (i: number): THREE.Vector3 => {
    const t = lo + ((hi - lo) * i) / steps, angle = (2 * Math.PI * t) / fit.pitch;
    return o.clone().addScaledVector(a, t).addScaledVector(u, reach * Math.cos(angle)).addScaledVector(v, reach * Math.sin(angle));
  };
  for (let i = 0; i < steps; i++) line(out, at(i), at(i + 1));
  const past = 0.12 * Math.max(hi - lo, reach);
  line(out, o.clone().addScaledVector(a, lo - past), o.clone().addScaledVector(a, hi + past));
}

/** The lines that show what a part was recognised as, six numbers each. */
export function shapeLines(doc: Doc, part: number, shape: string, fit: Fit): Segments {
  const out: Segments = [];
  const o = new THREE.Vector3(...fit.origin), a = new THREE.Vector3(...fit.axis);
  if (shape === "helix" && !fit.spine.length) { helix(doc, out, part, o, a, fit); return out; }
  if (fit.spine.length) {
    const spine = fit.spine.map((p) => new THREE.Vector3(...p));
    for (let i = 1; i < spine.length; i++) line(out, spine[i - 1]!, spine[i]!);
    for (const i of [0, spine.length - 1]) {
      const d = spine[Math.min(i + 1, spine.length - 1)]!.clone().sub(spine[Math.max(i - 1, 0)]!).normalize();
      circle(out, spine[i]!, d, fit.radius);
    }
    return out;
  }
  if (shape === "sphere") {
    for (const d of [[1, 0, 0], [0, 1, 0], [0, 0, 1]]) circle(out, o, new THREE.Vector3(...(d as [number, number, number])), fit.radius);
    return out;
  }
  if (a.lengthSq() < 0.5) return out;
  const { lo, hi, reach } = extent(doc, part, o, a);
  if (!(hi >= lo)) return out;
  const past = 0.12 * Math.max(hi - lo, reach);
  const along = (t: number): THREE.Vector3 => o.clone().addScaledVector(a, t);
  switch (shape) {
    case "plane": {
      const u = new THREE.Vector3(Math.abs(a.x) > 0.8 ? 0 : 1, Math.abs(a.x) > 0.8 ? 1 : 0, 0).cross(a).normalize().multiplyScalar(0.7 * reach);
      const v = new THREE.Vector3().crossVectors(a, u);
      const at = [[1, 1], [-1, 1], [-1, -1], [1, -1]].map(([x, y]) => o.clone().addScaledVector(u, x!).addScaledVector(v, y!));
      at.forEach((p, i) => line(out, p, at[(i + 1) % 4]!));
      line(out, o, along(0.35 * reach));
      return out;
    }
    case "torus":
      line(out, along(lo - past), along(hi + past));
      circle(out, o, a, fit.major);
      circle(out, o, a, fit.major + fit.radius);
      return out;
    case "cone": {
      const at = (t: number): number => Math.max(0, fit.major - t * Math.tan(fit.half_angle));
      circle(out, along(lo), a, at(lo));
      circle(out, along(hi), a, at(hi));
      break;
    }
    case "cylinder": case "turned":
      circle(out, along(lo), a, fit.radius);
      circle(out, along(hi), a, fit.radius);
  }
  line(out, along(lo - past), along(hi + past));
  return out;
}
