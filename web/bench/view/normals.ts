// Normals that make round walls look round: at each corner the mean of the faces around its point that
// bend from its own face by less than a crease.
import type { Doc } from "../doc";

/** The normal at every corner, three numbers each. */
export function cornerNormals(doc: Doc, creaseDeg: number): Float32Array {
  const { faceStart, cornerPoint } = doc.mesh, faces = faceStart.length - 1, vectors = new Float32Array(3 * faces), lengths = new Float32Array(faces);
  for (let f = 0; f < faces; f++) {
    const v = doc.faceVector(f);
    vectors.set(v, 3 * f);
    lengths[f] = Math.hypot(...v);
  }
  const start = new Int32Array(doc.mesh.points.length / 3 + 1), around = new Int32Array(cornerPoint.length);
  for (const p of cornerPoint) start[p + 1]!++;
  for (let p = 1; p < start.length; p++) start[p]! += start[p - 1]!;
  const next = start.slice();
  cornerPoint.forEach((p, c) => { around[next[p]!++] = doc.cornerFace[c]!; });
  const least = Math.cos((Math.min(creaseDeg, 80) * Math.PI) / 180), out = new Float32Array(3 * cornerPoint.length);
  cornerPoint.forEach((p, c) => {
    const f = doc.cornerFace[c]!;
    let x = 0, y = 0, z = 0;
    for (let i = start[p]!; i < start[p + 1]!; i++) {
      const g = around[i]!, d = vectors[3 * f]! * vectors[3 * g]! + vectors[3 * f + 1]! * vectors[3 * g + 1]! + vectors[3 * f + 2]! * vectors[3 * g + 2]!;
      if (g !== f && d < least * lengths[f]! * lengths[g]!) continue;
      x += vectors[3 * g]!; y += vectors[3 * g + 1]!; z += vectors[3 * g + 2]!;
    }
    const l = Math.hypot(x, y, z) || 1;
    out.set([x / l, y / l, z / l], 3 * c);
  });
  return out;
}
