// How fine the faces of shells are on the sheet: where their edges would be nearer to each other than can be
// told apart they are left out of the picture, until one looks closer.
import type { Doc } from "../doc";

/** Edges nearer to each other than so many pixels are a grey, and no edges. */
const apart = 3;

/** How wide the faces of each shell are on the sheet, in its units: the mean by area of area over longest side. */
export function faceWidths(doc: Doc): Float64Array {
  const { uv, faceShell, mapped } = doc.layout, { faceStart } = doc.mesh;
  const sums = new Float64Array(doc.meta.shells.length), areas = new Float64Array(sums.length);
  for (let f = 0; f + 1 < faceStart.length; f++) {
    const s = faceShell[f]!, lo = faceStart[f]!, hi = faceStart[f + 1]!;
    if (!mapped[f] || s < 0) continue;
    let twice = 0, longest = 0;
    for (let c = lo; c < hi; c++) {
      const d = c + 1 < hi ? c + 1 : lo, x = uv[2 * c]!, y = uv[2 * c + 1]!, p = uv[2 * d]!, q = uv[2 * d + 1]!;
      twice += x * q - p * y;
      longest = Math.max(longest, Math.hypot(p - x, q - y));
    }
    const area = Math.abs(twice) / 2;
    if (longest > 0) sums[s] += area * area / longest;
    areas[s] += area;
  }
  return sums.map((v, s) => (areas[s]! > 0 ? v / areas[s]! : 0));
}

/** Segments from the shells with the widest faces to those with the narrowest: what is to be seen comes first. */
export class Coarse {
  readonly pairs: number[];
  private readonly shells: { width: number; from: number }[] = []; // from the widest: their faces, where their segments begin

  /** Takes pairs of corners of edges that have the same shell on both sides, and puts them in order. */
  constructor(doc: Doc, pairs: readonly number[]) {
    const widths = faceWidths(doc), of: number[][] = Array.from(widths, () => []);
    for (let i = 0; i < pairs.length; i += 2) of[doc.layout.faceShell[doc.cornerFace[pairs[i]!]!]!]?.push(pairs[i]!, pairs[i + 1]!);
    const order = [...widths.keys()].sort((a, b) => widths[b]! - widths[a]!);
    this.pairs = order.flatMap((s) => of[s]!);
    let from = 0;
    for (const s of order) {
      this.shells.push({ width: widths[s]!, from });
      from += of[s]!.length / 2;
    }
  }

  /** How many segments are to be seen at a scale in pixels. */
  seen(scale: number): number {
    return this.shells.find((s) => s.width * scale < apart)?.from ?? this.pairs.length / 2;
  }
}
