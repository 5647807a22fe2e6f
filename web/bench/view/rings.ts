// Rings about what is picked on the sheet but too small there to be seen.
import type { Doc } from "../doc";

const SEEN = 9; // pixels from which a spot is seen
const RADIUS = 11;
const MOST = 4000; // faces, of which more are no spots

/** Draws a ring about each shell's picked faces where they are smaller than anybody sees. */
export function drawRings(g: CanvasRenderingContext2D, doc: Doc, faces: ReadonlySet<number>, screen: (u: number, v: number) => [number, number], colour: string): void {
  if (!faces.size || faces.size > MOST) return;
  const { uv, mapped, faceShell } = doc.layout;
  const boxes = new Map<number, [number, number, number, number]>();
  for (const f of faces) {
    if (!mapped[f]) continue;
    const b = boxes.get(faceShell[f]!) ?? [Infinity, Infinity, -Infinity, -Infinity];
    for (const c of doc.corners(f)) {
      const [x, y] = screen(uv[2 * c]!, uv[2 * c + 1]!);
      b[0] = Math.min(b[0], x); b[1] = Math.min(b[1], y); b[2] = Math.max(b[2], x); b[3] = Math.max(b[3], y);
    }
    boxes.set(faceShell[f]!, b);
  }
  g.strokeStyle = colour;
  g.lineWidth = 2;
  for (const [x0, y0, x1, y1] of boxes.values()) {
    if (x1 - x0 > SEEN || y1 - y0 > SEEN) continue;
    g.beginPath();
    g.arc((x0 + x1) / 2, (y0 + y1) / 2, RADIUS, 0, 2 * Math.PI);
    g.stroke();
  }
}
