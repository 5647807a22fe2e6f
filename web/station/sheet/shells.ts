// Shells that are chosen, as the sheet and the model know them: a shell is told by a face of
// it, since its number is another after some edits.
import { Watched } from "../../bench/store";
import type { Doc } from "../../bench/doc";
import type { LayoutBlock } from "../../bench/blocks";

/** A box on the sheet. */
export interface Box { l: number; b: number; r: number; t: number }

/** What shells have in common with those that are chosen. */
export type Like = "all" | "part" | "repeats" | "material" | "shape" | "size" | "rack" | "invert";

export const around = (list: Iterable<Box>): Box | null => {
  let out: Box | null = null;
  for (const x of list) out = out ? { l: Math.min(out.l, x.l), b: Math.min(out.b, x.b), r: Math.max(out.r, x.r), t: Math.max(out.t, x.t) } : { ...x };
  return out;
};

/** The shells of a layout: their faces and the boxes around them. */
class Index {
  readonly faces: number[][] = [];
  readonly boxes: Box[] = [];
  readonly spots = new Map<number, [number, number]>(); // found when they are asked for

  constructor(doc: Doc) {
    const { faceShell, uv } = doc.layout, { faceStart } = doc.mesh;
    faceShell.forEach((s, f) => {
      if (s < 0) return;
      (this.faces[s] ??= []).push(f);
      const x = (this.boxes[s] ??= { l: Infinity, b: Infinity, r: -Infinity, t: -Infinity });
      for (let c = faceStart[f]!; c < faceStart[f + 1]!; c++) {
        const u = uv[2 * c]!, v = uv[2 * c + 1]!;
        x.l = Math.min(x.l, u); x.r = Math.max(x.r, u); x.b = Math.min(x.b, v); x.t = Math.max(x.t, v);
      }
    });
  }
}

export class Shells extends Watched {
  private chosen = new Set<number>(); // a face of each
  private index: Index | null = null;
  private of: LayoutBlock | null = null;
  private revision = -1;

  constructor(private readonly doc: Doc) { super(); }

  private get here(): Index {
    if (!this.index || this.of !== this.doc.layout || this.revision !== this.doc.meta.revision) {
      this.index = new Index(this.doc);
      this.of = this.doc.layout;
      this.revision = this.doc.meta.revision;
    }
    return this.index;
  }

  /** The numbers of the chosen shells in the layout that is shown. */
  ids(): Set<number> {
    const out = new Set<number>();
    for (const f of this.chosen) { const s = this.doc.layout.faceShell[f]!; if (s >= 0) out.add(s); }
    return out;
  }

  /** A face of each chosen shell, as edits are told. */
  seeds(): number[] { return [...this.ids()].map((s) => this.here.faces[s]![0]!); }

  /** All faces of the chosen shells. */
  faces(): number[] { return [...this.ids()].flatMap((s) => this.facesOf(s)); }

  /** The faces of a shell, and the box around it. */
  facesOf(shell: number): readonly number[] { return this.here.faces[shell] ?? []; }
  boxOf(shell: number): Box { return this.here.boxes[shell]!; }
  get count(): number { return this.here.faces.length; }

  /** The box around the chosen shells. */
  box(): Box | null { return around([...this.ids()].map((s) => this.boxOf(s))); }

  /** A place on a shell, the one nearest to the middle of its box, to write on. */
  spot(shell: number): [number, number] {
    const was = this.here.spots.get(shell);
    if (was) return was;
    const x = this.boxOf(shell), mid = [(x.l + x.r) / 2, (x.b + x.t) / 2] as const, { uv } = this.doc.layout, { faceStart } = this.doc.mesh;
    let best: [number, number] = [...mid], least = Infinity;
    for (const f of this.facesOf(shell)) {
      let u = 0, v = 0;
      const lo = faceStart[f]!, n = faceStart[f + 1]! - lo;
      for (let c = lo; c < lo + n; c++) { u += uv[2 * c]! / n; v += uv[2 * c + 1]! / n; }
      const d = Math.hypot(u - mid[0], v - mid[1]);
      if (d < least) { least = d; best = [u, v]; }
    }
    this.here.spots.set(shell, best);
    return best;
  }

  /** Whether a shell waits below the sheet. */
  racked(shell: number): boolean { return this.boxOf(shell).t <= 0; }

  waiting(): number { return this.here.boxes.filter((x) => x.t <= 0).length; }

  /** Chooses shells instead of, besides or out of those that are chosen. */
  take(list: Iterable<number>, how: "instead" | "besides" | "without" | "toggle"): void {
    const now = how === "instead" ? new Set<number>() : this.ids();
    for (const s of list) {
      if (s < 0) continue;
      if (how === "without" || (how === "toggle" && now.has(s))) now.delete(s); else now.add(s);
    }
    this.chosen = new Set([...now].map((s) => this.here.faces[s]![0]!));
    this.changed();
  }

  /** Chooses all shells of parts. */
  takeParts(parts: ReadonlySet<number>): void {
    this.take(this.doc.meta.shells.flatMap((s, i) => (parts.has(s.part) ? [i] : [])), "instead");
  }

  clear(): void { if (this.chosen.size) { this.chosen.clear(); this.changed(); } }

  /** Those that have something in common with the chosen ones. */
  like(like: Like): number[] {
    const ids = this.ids(), { shells, parts } = this.doc.meta, all = shells.map((_, i) => i);
    const by = (key: (s: number) => string | number | undefined): number[] => {
      const keys = new Set([...ids].map(key));
      return all.filter((s) => keys.has(key(s)));
    };
    const size = (s: number): string => { // within about one in a hundred, lying or standing
      const x = this.boxOf(s), d = [x.r - x.l, x.t - x.b].sort((a, b) => a - b);
      return d.map((v) => Math.round(Math.log(Math.max(v, 1e-9)) * 100)).join();
    };
    switch (like) {
      case "all": return all;
      case "part": return by((s) => shells[s]!.part);
      case "material": return by((s) => parts[shells[s]!.part]?.material);
      case "shape": return by((s) => parts[shells[s]!.part]?.shape);
      case "repeats": return by((s) => parts[shells[s]!.part]?.root);
      case "size": return by(size);
      case "rack": return all.filter((s) => this.racked(s));
      case "invert": return all.filter((s) => !ids.has(s));
    }
  }

  /** Corners at both ends of every edge at which the chosen shells end. */
  border(): number[] {
    const { cut, faceShell } = this.doc.layout, { faceStart, cornerEdge } = this.doc.mesh, out: number[] = [];
    for (const s of this.ids()) for (const f of this.facesOf(s)) {
      const lo = faceStart[f]!, hi = faceStart[f + 1]!;
      for (let c = lo; c < hi; c++) {
        const e = cornerEdge[c]!, a = this.doc.edgeFaces[2 * e]!, b = this.doc.edgeFaces[2 * e + 1]!, other = a === f ? b : a;
        if (cut[e] || other < 0 || faceShell[other] !== s) out.push(c, c + 1 < hi ? c + 1 : lo);
      }
    }
    return out;
  }

  /** Shells of which something lies inside an outline, given where corners are drawn. */
  within(outline: (x: number, y: number) => boolean, screen: (corner: number) => [number, number], region: Box): number[] {
    const out: number[] = [], { faceStart } = this.doc.mesh;
    this.here.faces.forEach((faces, s) => {
      for (const f of faces) for (let c = faceStart[f]!; c < faceStart[f + 1]!; c++) {
        const d = c + 1 < faceStart[f + 1]! ? c + 1 : faceStart[f]!, [ax, ay] = screen(c), [bx, by] = screen(d);
        if (Math.max(ax, bx) < region.l || Math.min(ax, bx) > region.r || Math.max(ay, by) < region.b || Math.min(ay, by) > region.t) continue;
        for (let k = 0; k < 8; k++) if (outline(ax + ((bx - ax) * k) / 8, ay + ((by - ay) * k) / 8)) { out.push(s); return; } // long edges may cross it
      }
    });
    return out;
  }
}
