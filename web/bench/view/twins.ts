// On the sheet an edge of a seam lies twice. What is picked or pointed at is shown
// dotted on the other shell too, with a leader line across the gap.
import type { Doc } from "../doc";

type Point = [number, number];
export type Screen = (u: number, v: number) => Point;

/** More than this many are no help to the eye. */
const most = 1500;

export interface Side { edge: number; a: number; b: number; face: number }

/** The sides of an edge, on the sheet or (all) whether they are mapped or not; that on a shell first. */
export function sidesOf(doc: Doc, edge: number, shell: number, all = false): Side[] {
  const out: Side[] = [];
  for (const face of [doc.edgeFaces[2 * edge]!, doc.edgeFaces[2 * edge + 1]!]) {
    if (face < 0 || (!all && !doc.layout.mapped[face])) continue;
    const lo = doc.mesh.faceStart[face]!, hi = doc.mesh.faceStart[face + 1]!;
    for (let c = lo; c < hi; c++) if (doc.mesh.cornerEdge[c] === edge) { out.push({ edge, a: c, b: c + 1 < hi ? c + 1 : lo, face }); break; }
  }
  if (out.length === 2 && doc.layout.faceShell[out[1]!.face] === shell && doc.layout.faceShell[out[0]!.face] !== shell) out.reverse();
  return out;
}

export function drawTwins(g: CanvasRenderingContext2D, doc: Doc, edges: Iterable<number>, shell: number, screen: Screen, ink: string): void {
  const uv = doc.layout.uv;
  const at = (c: number): Point => screen(uv[2 * c]!, uv[2 * c + 1]!);
  const middle = (s: Side): Point => { const p = at(s.a), q = at(s.b); return [(p[0] + q[0]) / 2, (p[1] + q[1]) / 2]; };
  const leaders = new Map<string, [Point, Point][]>();
  g.save();
  g.strokeStyle = ink;
  g.lineCap = "round";
  let n = 0;
  for (const e of edges) {
    if (!doc.layout.cut[e] || ++n > most) continue;
    const [one, twin] = sidesOf(doc, e, shell);
    if (!one || !twin) continue;
    const p = at(twin.a), q = at(twin.b);
    g.lineWidth = 4;
    g.setLineDash([0.5, 6]);
    g.beginPath();
    g.moveTo(...p);
    g.lineTo(...q);
    g.stroke();
    const key = `${doc.layout.faceShell[one.face]} ${doc.layout.faceShell[twin.face]}`;
    const list = leaders.get(key) ?? [];
    list.push([middle(one), middle(twin)]);
    leaders.set(key, list);
  }
  g.setLineDash([]);
  g.lineWidth = 1;
  for (const list of leaders.values()) {
    const [from, to] = list[list.length >> 1]!;
    const d = Math.hypot(to[0] - from[0], to[1] - from[1]);
    if (d < 6) continue;
    g.beginPath();
    g.moveTo(...from);
    g.lineTo(...to);
    g.stroke();
    for (const [x, y] of [from, to]) { g.beginPath(); g.arc(x, y, 2.5, 0, 7); g.fillStyle = ink; g.fill(); }
  }
  g.restore();
}
