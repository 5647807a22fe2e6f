// The handles at the ends of a picked loop: drag one along the loop to shorten it or
// to carry it on beyond its end; with the keyboard, the arrow keys do it.
import type { Picks } from "../picks";

/** Where a view shows a point that an edge ends at, in pixels of its canvas; null if it does not. */
export type Spot = (edge: number, point: number) => [number, number] | null;

const ends = ["from", "to"] as const;

export class Handles {
  private readonly knobs = new Map<"from" | "to", HTMLButtonElement>();

  constructor(private readonly view: HTMLElement, private readonly canvas: HTMLElement, private readonly spot: Spot, private readonly picks: Picks) {
    for (const end of ends) {
      const b = document.createElement("button");
      b.className = "handle";
      b.hidden = true;
      b.dataset.end = end;
      b.setAttribute("aria-label", end === "from" ? "First end of the loop, arrow keys move it" : "Last end of the loop, arrow keys move it");
      b.title = "Drag along the loop to shorten it or carry it on";
      b.onpointerdown = (e) => { b.setPointerCapture(e.pointerId); e.preventDefault(); b.focus(); };
      b.onpointermove = (e) => { if (e.buttons === 1) this.drag(end, e); };
      b.onkeydown = (e) => {
        const step = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[e.key];
        if (!step || !picks.run) return;
        e.preventDefault();
        e.stopPropagation();
        picks.moveEnd(end, picks.run[end] + step);
      };
      view.append(b);
      this.knobs.set(end, b);
    }
  }

  private at(i: number): [number, number] | null {
    const r = this.picks.run!;
    return this.spot(r.edges[Math.min(i, r.edges.length - 1)]!, r.points[i]!);
  }

  private drag(end: "from" | "to", e: PointerEvent): void {
    const r = this.picks.run;
    if (!r) return;
    const box = this.canvas.getBoundingClientRect();
    const x = e.clientX - box.left, y = e.clientY - box.top;
    let best = r[end], least = Infinity;
    for (let i = 0; i < r.points.length; i++) {
      const p = this.at(i);
      if (!p) continue;
      // The first and the last point of a closed loop are one: stay on this side.
      const d = Math.hypot(p[0] - x, p[1] - y) + 1e-3 * Math.abs(i - r[end]);
      if (d < least) { least = d; best = i; }
    }
    this.picks.moveEnd(end, best);
  }

  /** Puts the handles where the ends are now. */
  update(): void {
    const r = this.picks.run;
    for (const end of ends) {
      const b = this.knobs.get(end)!;
      const p = r ? this.at(r[end]) : null;
      b.hidden = !p;
      if (!p || !r) continue;
      // Pulled out a little along the loop, so that two at one point are two.
      const q = this.at(end === "from" ? r.from + 1 : r.to - 1);
      const l = q ? Math.hypot(q[0] - p[0], q[1] - p[1]) : 0;
      const k = q && l > 0 && r.points[r.from] === r.points[r.to] ? Math.min(9, l) / l : 0;
      const x = p[0] + k * ((q?.[0] ?? 0) - p[0]), y = p[1] + k * ((q?.[1] ?? 0) - p[1]);
      const place = `translate(${(x + this.canvas.offsetLeft).toFixed(1)}px, ${(y + this.canvas.offsetTop).toFixed(1)}px)`;
      if (b.style.transform !== place) b.style.transform = place;
    }
    this.view.classList.toggle("has-run", !!r);
  }
}
