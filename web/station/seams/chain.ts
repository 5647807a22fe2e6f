// Picking chains: from the edge picked last a live path leads to the pointer, along
// creases or the shortest way; a click takes it and goes on from there.
import { Watched } from "../../bench/store";
import type { Doc } from "../../bench/doc";
import type { Picks } from "../../bench/picks";
import { lengthText } from "../../bench/units";

export class Chain extends Watched {
  active = false;
  shortest = false;
  path: number[] = [];
  /** Whether an answer is on its way. */
  waiting = false;
  private asked = -1;
  private running: AbortController | null = null;

  constructor(private readonly doc: Doc, private readonly picks: Picks) { super(); }

  toggle(on = !this.active): void {
    this.active = on;
    this.path = [];
    this.asked = -1;
    this.waiting = false;
    this.running?.abort();
    this.changed();
  }

  /** The pointer is over an edge: the path to it follows. */
  hover(edge: number): void {
    if (!this.active || edge < 0 || edge === this.asked || this.picks.last < 0) return;
    void this.seek(edge);
  }

  private async seek(edge: number): Promise<void> {
    this.asked = edge;
    this.running?.abort();
    const own = (this.running = new AbortController());
    this.waiting = true;
    this.changed();
    try {
      const path = await this.lead(edge, own.signal);
      if (own.signal.aborted) return;
      this.path = path;
    } catch (e) {
      if (own.signal.aborted) return;
      throw e;
    } finally {
      if (this.running === own) { this.waiting = false; this.changed(); }
    }
  }

  private async lead(edge: number, signal?: AbortSignal): Promise<number[]> {
    return (await this.doc.pickEdges("path", { edges: [this.picks.last, edge], shortest: this.shortest }, signal)).edges;
  }

  /** An edge was clicked: the path to it is picked, or it starts one. */
  async click(edge: number, how: { altKey: boolean }): Promise<void> {
    if (this.picks.last < 0) { this.picks.take([edge], "besides"); return; }
    // Asked for by itself: the pointer may have gone on while the answer was on its way.
    const path = await this.lead(edge), taken = path.length ? path : [edge];
    this.running?.abort();
    this.path = [];
    this.waiting = false;
    this.asked = -1;
    this.picks.take(taken, how.altKey ? "without" : "besides", "chain");
    this.picks.last = edge;
  }

  /** The path under way, in words. */
  words(): string {
    if (!this.active) return "";
    if (this.picks.last < 0) return "chain: click an edge to start from";
    if (this.waiting && !this.path.length) return "chain: seeking the way";
    if (!this.path.length) return this.asked >= 0 ? "chain: no edges lead there" : "chain: point at an edge to lead it there";
    let length = 0;
    for (const e of this.path) length += this.doc.edgeLength(e);
    return `chain of ${this.path.length} edges · ${lengthText(length, this.doc.meta.unit)} · click takes it`;
  }
}
