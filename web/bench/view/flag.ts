// The flag: a letter with an arrow on the chosen part, drawn in the map's own orientation.
// Which way is up on the sheet, and whether the map reads or is mirrored, is seen at once.
import * as THREE from "three";
import type { Doc } from "../doc";

// Strokes of the letter and of the arrow beside it, in units of the map.
const strokes: [number, number, number, number][] = [
  [-0.9, -0.6, -0.45, 0.6], [-0.45, 0.6, 0, -0.6], [-0.74, -0.15, -0.16, -0.15],
  [0.5, -0.6, 0.5, 0.6], [0.5, 0.6, 0.28, 0.28], [0.5, 0.6, 0.72, 0.28],
];

/** The lines of the flag on a part, six numbers each; nothing where it is not mapped. */
export function flagLines(doc: Doc, part: number, toEye: THREE.Vector3, place: (corner: number) => [number, number]): number[] {
  const { triCorner, triFace } = doc.mesh, { facePart, mapped } = doc.layout;
  const p = [0, 1, 2].map(() => new THREE.Vector3()), n = new THREE.Vector3(), edge = new THREE.Vector3();
  const area = new Map<number, { area: number; seen: number; tri: number; best: number }>();
  let reach = 0;
  const middle = new THREE.Vector3(), count = { n: 0 };
  triFace.forEach((f, t) => {
    if (facePart[f] !== part || !mapped[f]) return;
    for (const k of [0, 1, 2]) { p[k]!.set(...doc.point(triCorner[3 * t + k]!)); middle.add(p[k]!); count.n++; }
    n.copy(p[1]!).sub(p[0]!).cross(edge.copy(p[2]!).sub(p[0]!));
    const a = n.length() / 2, s = n.dot(toEye) / 2;
    const was = area.get(f) ?? { area: 0, seen: 0, tri: t, best: 0 };
    area.set(f, { area: was.area + a, seen: was.seen + s, tri: a > was.best ? t : was.tri, best: Math.max(a, was.best) });
  });
  if (!area.size) return [];
  middle.divideScalar(count.n);
  let best = -1, most = -Infinity;
  for (const a of area.values()) reach += a.area;
  reach = Math.sqrt(reach);
  for (const [f, a] of area) { // large, turned this way, and amid the part
    const off = new THREE.Vector3();
    const c = doc.corners(f);
    for (const k of c) off.add(new THREE.Vector3(...doc.point(k)));
    const score = a.seen / (1 + (4 * off.divideScalar(c.length).distanceToSquared(middle)) / reach ** 2);
    if (score > most) { most = score; best = f; }
  }
  const t = area.get(best)!.tri, c = [0, 1, 2].map((k) => triCorner[3 * t + k]!);
  c.forEach((k, i) => p[i]!.set(...doc.point(k)));
  const uv = c.map(place);
  const [a, b] = [[uv[1]![0] - uv[0]![0], uv[1]![1] - uv[0]![1]], [uv[2]![0] - uv[0]![0], uv[2]![1] - uv[0]![1]]] as [[number, number], [number, number]];
  const det = a[0] * b[1] - a[1] * b[0];
  if (Math.abs(det) < 1e-18) return [];
  const e1 = p[1]!.clone().sub(p[0]!), e2 = p[2]!.clone().sub(p[0]!);
  // Where one unit of U and of V leads on the surface.
  const du = e1.clone().multiplyScalar(b[1] / det).addScaledVector(e2, -a[1] / det), dv = e1.clone().multiplyScalar(-b[0] / det).addScaledVector(e2, a[0] / det);
  const size = 0.11 * reach;
  du.multiplyScalar(size / Math.max(du.length(), 1e-18));
  dv.multiplyScalar(size / Math.max(dv.length(), 1e-18));
  const corners = doc.corners(best), centre = new THREE.Vector3();
  for (const k of corners) centre.add(new THREE.Vector3(...doc.point(k)));
  centre.divideScalar(corners.length);
  const out: number[] = [];
  for (const [x0, y0, x1, y1] of strokes) {
    const q = centre.clone().addScaledVector(du, x0).addScaledVector(dv, y0), r = centre.clone().addScaledVector(du, x1).addScaledVector(dv, y1);
    out.push(q.x, q.y, q.z, r.x, r.y, r.z);
  }
  return out;
}
