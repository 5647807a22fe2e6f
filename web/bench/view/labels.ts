// Labels: areas with a word that must read. On the piece they have an outline and an arrow
// toward the tops of the letters; on the sheet the word stands where it will be painted.
import { Vector3 } from "three";
import type { Doc, Meta } from "../doc";

type Label = Meta["labels"][number];

/** The label a face belongs to. */
export const labelOf = (doc: Doc, face: number): Label | undefined => doc.meta.labels.find((l) => l.faces.includes(face));

/** The outline of a label, with its arrow if it is wanted, six numbers a line. */
export function labelLines(doc: Doc, l: Label, arrow: boolean): number[] {
  const own = new Set(l.faces), out: number[] = [];
  const middle = new Vector3(), normal = new Vector3();
  let area = 0;
  for (const f of l.faces) {
    const n = new Vector3(...doc.faceVector(f)), a = n.length() / 2;
    normal.add(n);
    middle.addScaledVector(doc.middle(f), a);
    area += a;
    const corners = doc.corners(f);
    corners.forEach((c, i) => {
      const e = doc.mesh.cornerEdge[c]!;
      if ([doc.edgeFaces[2 * e]!, doc.edgeFaces[2 * e + 1]!].every((g) => own.has(g))) return;
      out.push(...doc.point(c), ...doc.point(corners[(i + 1) % corners.length]!));
    });
  }
  if (!arrow) return out;
  middle.divideScalar(area);
  const up = new Vector3(l.up.X, l.up.Y, l.up.Z).multiplyScalar(0.28 * Math.sqrt(area)), right = up.clone().cross(normal.normalize()).multiplyScalar(0.35);
  const at = (u: number, r: number): number[] => middle.clone().addScaledVector(up, u).addScaledVector(right, r).toArray();
  out.push(...at(-1, 0), ...at(1, 0), ...at(1, 0), ...at(0.55, 1), ...at(1, 0), ...at(0.55, -1));
  return out;
}

/** The box of a label on the sheet, null where it is not mapped. */
export function labelBox(doc: Doc, l: Label): { u: number; v: number; width: number; height: number } | null {
  let [a, b, c, d] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const f of l.faces) {
    if (!doc.layout.mapped[f]) continue;
    for (const k of doc.corners(f)) {
      const u = doc.layout.uv[2 * k]!, v = doc.layout.uv[2 * k + 1]!;
      a = Math.min(a, u); b = Math.min(b, v); c = Math.max(c, u); d = Math.max(d, v);
    }
  }
  return a < c ? { u: (a + c) / 2, v: (b + d) / 2, width: c - a, height: d - b } : null;
}

/** Writes a word upright into a box, as large as it fits; sizes in pixels, v downwards. */
export function writeInto(g: CanvasRenderingContext2D, word: string, x: number, y: number, width: number, height: number): void {
  g.font = "600 100px 'Barlow Condensed', sans-serif";
  const size = Math.min((86 * width) / Math.max(1, g.measureText(word).width), 0.66 * height);
  if (size < 4) return;
  g.font = `600 ${size}px 'Barlow Condensed', sans-serif`;
  g.textAlign = "center";
  g.textBaseline = "middle";
  g.fillText(word, x, y + 0.04 * size);
  g.textBaseline = "alphabetic";
}
