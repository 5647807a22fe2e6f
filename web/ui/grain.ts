// The grain of parts as strokes on the piece: the wished direction on each face, a line
// without sense. On the chosen part they are strong; a stroke drawn by hand turns it.
import * as THREE from "three";
import type { Doc } from "./doc";

/** Strokes of the parts for which wanted is true, six numbers each; as long as asked for, with an arrowhead where the grain has a sense. */
export function grainLines(doc: Doc, wanted: (part: number) => boolean, long: (face: number) => number = () => 0.64): number[] {
  const out: number[] = [];
  const n = new THREE.Vector3(), c = new THREE.Vector3(), d = new THREE.Vector3(), e1 = new THREE.Vector3(), a = new THREE.Vector3();
  const faces = doc.layout.facePart.length;
  const step = Math.max(1, Math.floor(faces / 6000)); // enough to see the direction
  for (let f = 0; f < faces; f += step) {
    const part = doc.layout.facePart[f]!, p = doc.meta.parts[part];
    if (!p || !p.grain || !wanted(part)) continue;
    const at = doc.corners(f).map((k) => new THREE.Vector3(...doc.point(k)));
    n.set(...doc.faceVector(f));
    c.set(0, 0, 0);
    for (const q of at) c.add(q);
    c.divideScalar(at.length);
    const area = n.length() / 2;
    if (!area) continue;
    n.normalize();
    a.set(...p.grain_axis);
    if (p.grain === "around") d.copy(a).cross(n);
    else d.copy(a).addScaledVector(n, -a.dot(n));
    if (d.length() < 1e-3) continue;
    const l = long(f);
    if (!(l > 0.02)) continue;
    d.normalize().multiplyScalar(0.5 * l * Math.sqrt(area));
    out.push(c.x - d.x, c.y - d.y, c.z - d.z, c.x + d.x, c.y + d.y, c.z + d.z);
    if (p.grain_sense) {
      e1.copy(n).cross(d).multiplyScalar(0.35).addScaledVector(d, -0.4);
      out.push(c.x + d.x, c.y + d.y, c.z + d.z, c.x + d.x + e1.x, c.y + d.y + e1.y, c.z + d.z + e1.z);
    }
  }
  return out;
}

/** What the grain of a part is, in words. */
export function grainWords(p: { grain: string; grain_sense?: boolean } | undefined): string {
  const one = p?.grain_sense ? ", one way" : "";
  const words = { along: "along its axis", around: "around its axis", toward: "in one direction" }[p?.grain ?? ""];
  return words ? words + one : "no grain";
}
