// The lines both views draw over the faces: seams and creases, what is picked or
// pointed at, chains under way, suggested cuts.
import type { Doc } from "../doc";
import { Coarse } from "./fineness";
import type { Faces } from "./scene";

export const ink = "#1F2A33", paper = "#FDFCF8", verdigris = "#14756B", brass = "#A87B1E", slate = "#3F5873";

export interface Drawn { faces: Faces; touch: () => void }

export class Lines {
  constructor(private readonly doc: Doc, private readonly piece: Drawn, private readonly sheet: Drawn | null, private readonly hiddenFace: (face: number) => boolean, private readonly size: number) {}

  private hidden(face: number): boolean { return face < 0 || this.hiddenFace(face); }

  /** Ends of edges for the piece, without those of hidden parts. */
  private inSpace(edges: Iterable<number>): number[] {
    const out: number[] = [], { edgeCorners, edgeFaces } = this.doc;
    for (const e of edges) if (!this.hidden(edgeFaces[2 * e]!) || !this.hidden(edgeFaces[2 * e + 1]!)) out.push(edgeCorners[2 * e]!, edgeCorners[2 * e + 1]!);
    return out;
  }

  /** Both sides of edges, for the sheet, where an edge lies once on each shell; one of them will do where both lie at one place. */
  private onSheet(edges: ReadonlySet<number>, once = false): number[] {
    const out: number[] = [], { faceStart, cornerEdge, bend } = this.doc.mesh, done = new Uint8Array(once ? bend.length : 0);
    if (edges.size === 0) return out;
    for (let f = 0; f + 1 < faceStart.length; f++) {
      if (!this.doc.layout.mapped[f] || this.hiddenFace(f)) continue;
      const lo = faceStart[f]!, hi = faceStart[f + 1]!;
      for (let c = lo; c < hi; c++) {
        const e = cornerEdge[c]!;
        if (!edges.has(e) || done[e]) continue;
        out.push(c, c + 1 < hi ? c + 1 : lo);
        if (once) done[e] = 1;
      }
    }
    return out;
  }

  private drawn: { key: number; strong: boolean; hidden: readonly unknown[] } | null = null;

  /** Seams and creases, without what is hidden by some sets; strong while seams are worked on: openings dashed, the rest a line with a paper core. */
  seams(strong: boolean, hidden: readonly unknown[] = []): void {
    const { cut, faceShell } = this.doc.layout, { edgeFaces } = this.doc;
    const seams = new Set<number>(), openings = new Set<number>(), creases: number[] = [], inner = new Set<number>();
    let key = 0;
    cut.forEach((c, e) => {
      if (!c) {
        inner.add(e);
        if (Math.abs(this.doc.mesh.bend[e]!) > 0.52) creases.push(e);
        return;
      }
      const a = edgeFaces[2 * e]!, b = edgeFaces[2 * e + 1]!;
      const opens = strong && b >= 0 && faceShell[a]! >= 0 && faceShell[a] === faceShell[b];
      (opens ? openings : seams).add(e);
      key = (Math.imul(key, 31) + 2 * e + (opens ? 1 : 0)) | 0;
    });
    const s = this.sheet?.faces, was = this.drawn;
    this.drawn = { key, strong, hidden };
    if (!was || was.key !== key || was.strong !== strong || was.hidden.some((h, i) => h !== hidden[i])) this.onPiece(strong, seams, openings, creases);
    s?.setFine("inner", new Coarse(this.doc, this.onSheet(inner, true)), { color: ink, width: 1, opacity: 0.29 });
    s?.setLines("seams", this.onSheet(new Set([...seams, ...openings])), { color: ink, width: 1.3, order: 2 });
    this.touch();
  }

  /** The lines of the model, which stay where they are whatever becomes of the sheet. */
  private onPiece(strong: boolean, seams: ReadonlySet<number>, openings: ReadonlySet<number>, creases: readonly number[]): void {
    const p = this.piece.faces;
    p.setLines("creases", this.inSpace(creases), { color: ink, width: 1, opacity: 0.3 });
    p.setLines("seams", this.inSpace(seams), { color: ink, width: strong ? 4 : 1.6, order: 2 });
    p.setLines("core", strong ? this.inSpace(seams) : [], { color: paper, width: 1.4, order: 3 });
    p.setLines("openings", this.inSpace(openings), { color: ink, width: 3, order: 2, dash: 0.012 * this.size });
  }

  /** Where shells stay attached because somebody said so. */
  held(edges: Iterable<number>): void {
    const list = new Set(edges);
    this.piece.faces.setLines("held", this.inSpace(list), { color: slate, width: 3, order: 3, dash: 0.004 * this.size });
    this.sheet?.faces.setLines("held", this.onSheet(list), { color: slate, width: 2.4, order: 3, dash: 0.003 });
  }

  picks(edges: ReadonlySet<number>): void {
    const look = { color: verdigris, width: 5, order: 5 };
    this.piece.faces.setLines("halo", this.inSpace(edges), { color: paper, width: 8, order: 4 });
    this.piece.faces.setLines("picks", this.inSpace(edges), look);
    this.sheet?.faces.setLines("picks", this.onSheet(edges), { ...look, width: 3.4 });
    this.touch();
  }

  /** A chain under way, cuts that are suggested, cuts a ghost adds or (dashed) takes away. */
  brass(name: "path" | "suggested" | "new" | "gone", edges: Iterable<number>, through = false): void {
    const list = new Set(edges), gone = name === "gone";
    if (this.piece.faces.setLines(name, this.inSpace(list), { color: brass, width: gone ? 2 : 4, order: 6, through, ...(gone ? { dash: 0.01 * this.size } : {}) })) this.piece.touch();
    if (this.sheet?.faces.setLines(name, this.onSheet(list), { color: brass, width: gone ? 2 : 2.6, order: 6, ...(gone ? { dash: 0.008 } : {}) })) this.sheet.touch();
  }

  private touch(): void { this.piece.touch(); this.sheet?.touch(); }
}
