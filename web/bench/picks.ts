// What is picked: edges and faces, and the run a picked loop came from, which can be
// shortened or carried on at its ends.
import { Watched } from "./store";
import type { Doc, Run } from "./doc";
import type { Images } from "./blocks";
import { areaText, lengthText } from "./units";

export class Picks extends Watched {
  readonly edges = new Set<number>();
  readonly faces = new Set<number>();
  /** The loop picked last; its ends have handles. */
  run: Run | null = null;
  private besides: number[] = []; // edges picked before the loop
  private note = "";
  /** The edge picked last: chains start there. */
  last = -1;

  /** The images of what is picked, which are picked with it while one works by halves. */
  halves: () => Images | null = () => null;

  constructor(private readonly doc: Doc) { super(); }

  private pair(of: "face" | "edge", x: number): number[] {
    const image = this.halves()?.[of][x] ?? -1;
    return image < 0 ? [x] : [x, image];
  }

  private add(of: "face" | "edge", x: number): void { for (const y of this.pair(of, x)) (of === "face" ? this.faces : this.edges).add(y); }
  private remove(of: "face" | "edge", x: number): void { for (const y of this.pair(of, x)) (of === "face" ? this.faces : this.edges).delete(y); }

  clear(): void {
    this.edges.clear();
    this.faces.clear();
    this.let();
    this.last = -1;
    this.changed();
  }

  private let(): void { this.run = null; this.note = ""; }

  /** One edge was clicked. */
  click(edge: number, how: { shiftKey: boolean; altKey: boolean }): void {
    if (how.altKey) this.remove("edge", edge);
    else {
      if (!how.shiftKey) this.edges.clear();
      this.add("edge", edge);
      this.last = edge;
    }
    this.let();
    this.changed();
  }

  /** Picks faces instead of, besides or out of what is picked. */
  takeFaces(faces: Iterable<number>, how: "instead" | "besides" | "without"): void {
    if (how === "instead") this.faces.clear();
    for (const f of faces) if (how === "without") this.remove("face", f); else this.add("face", f);
    this.changed();
  }

  /** Picks edges instead of, besides or out of what is picked. */
  take(edges: Iterable<number>, how: "instead" | "besides" | "without", note = ""): void {
    if (how === "instead") this.edges.clear();
    for (const e of edges) if (how === "without") this.remove("edge", e); else { this.add("edge", e); this.last = e; }
    this.let();
    this.note = note;
    this.changed();
  }

  /** Picks a loop, keeping its run for the handles. */
  takeRun(run: Run, how: { shiftKey: boolean; altKey: boolean }): void {
    if (how.altKey) { this.take(run.edges.slice(run.from, run.to), "without"); return; }
    this.besides = how.shiftKey ? [...this.edges] : [];
    this.run = run;
    this.spread();
  }

  private spread(): void {
    const r = this.run!;
    this.edges.clear();
    for (const e of this.besides) this.edges.add(e);
    for (const e of r.edges.slice(r.from, r.to)) this.add("edge", e);
    this.last = r.edges[r.to - 1]!;
    this.note = this.runWords(r);
    this.changed();
  }

  /** Puts an end of the run at one of its points. At least one edge stays. */
  moveEnd(end: "from" | "to", at: number): void {
    const r = this.run;
    if (!r) return;
    const to = end === "from" ? Math.max(0, Math.min(at, r.to - 1)) : Math.min(r.edges.length, Math.max(at, r.from + 1));
    if (to === r[end]) return;
    r[end] = to;
    this.spread();
  }

  /** Carries the run on at both ends to where it would stop next. */
  carryOn(): boolean {
    const r = this.run;
    if (!r || r.closed) return false;
    const before = r.stops.filter((s) => s.at < r.from).at(-1)?.at ?? 0;
    const after = r.stops.find((s) => s.at > r.to)?.at ?? r.edges.length;
    if (before === r.from && after === r.to) return false;
    r.from = before;
    r.to = after;
    this.spread();
    return true;
  }

  private runWords(r: Run): string {
    if (r.closed) return r.to - r.from === r.edges.length ? "loop" : "part of a loop";
    const whys = [r.from, r.to].map((at) => r.stops.find((s) => s.at === at)?.why).filter((w) => w);
    return whys.length ? `loop, ${[...new Set(whys)].join(", ")}` : "part of a loop";
  }

  /** Drops what is not there any more. */
  within(edges: number): void {
    for (const e of this.edges) if (e >= edges) this.edges.delete(e);
    this.changed();
  }

  /** What is picked, in words; nothing if nothing is. */
  words(): string {
    const words: string[] = [], unit = this.doc.meta.unit;
    if (this.edges.size) {
      let length = 0;
      for (const e of this.edges) length += this.doc.edgeLength(e);
      words.push(`${this.edges.size} ${this.edges.size === 1 ? "edge" : "edges"} · ${lengthText(length, unit)}${this.note ? " · " + this.note : ""}`);
    }
    if (this.faces.size) {
      let area = 0;
      for (const f of this.faces) area += this.doc.faceArea(f);
      words.push(`${this.faces.size} ${this.faces.size === 1 ? "face" : "faces"} · ${areaText(area, unit)}`);
    }
    return words.join("   ");
  }
}
