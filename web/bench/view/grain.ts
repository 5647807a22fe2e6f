// The grain of parts as strokes on the piece: the wished direction on each face, a line
// without sense. On the chosen part they are strong; a stroke drawn by hand turns it.
import * as THREE from "three";
import type { Doc } from "../doc";

/** Strokes of the parts for which wanted is true, six numbers each; as long as asked for, with an arrowhead where the grain has a sense. */
export function grainLines(doc: Doc, wanted: (part: number) => boolean, long: (face: number) => number = () => 0.64): number[] {
  const out: number[] = [];
  const n = new THREE.Vector3(), c = new THREE.Vector3(), d = new THREE.Vector3(), e1 = new THREE.Vector3();
  const { facePart, wish } = doc.layout;
  const step = Math.max(1, Math.floor(facePart.length / 6000)); // enough to see the direction
  for (let f = 0; f < facePart.length; f += step) {
    const p = doc.meta.parts[facePart[f]!], l = long(f);
    if (!p || !wanted(facePart[f]!) || !(l > 0.02)) continue;
    d.set(wish[3 * f]!, wish[3 * f + 1]!, wish[3 * f + 2]!);
    n.set(...doc.faceVector(f));
    const area = n.length() / 2;
    if (!area || !d.lengthSq()) continue;
    n.normalize();
    c.copy(doc.middle(f));
    d.normalize().multiplyScalar(0.5 * l * Math.sqrt(area));
    out.push(c.x - d.x, c.y - d.y, c.z - d.z, c.x + d.x, c.y + d.y, c.z + d.z);
    if (p.grain_sense) {
      e1.copy(n).cross(d).multiplyScalar(0.35).addScaledVector(d, -0.4);
      out.push(c.x + d.x, c.y + d.y, c.z + d.z, c.x + d.x + e1.x, c.y + d.y + e1.y, c.z + d.z + e1.z);
    }
  }
  return out;
}
