// Joining: the ghost of the union on the sheet with what it costs, before anything
// changes. One key swaps which shell stays.
import { Watched } from "../../bench/store";
import type { Doc, Ghost } from "../../bench/doc";
import { html, nothing, show } from "../../bench/html";
import type { Picks } from "../../bench/picks";
import type { Screen } from "../../bench/view/twins";
import { times } from "../../bench/units";
import type { Meta } from "../../wire/wire";

const pct = (x: number): string => `${(100 * x).toFixed(x < 0.001 ? 2 : 1)} %`;

export class Join extends Watched {
  ghost: Ghost | null = null;
  private stays: number | null = null;
  private edges: number[] = [];
  whole = true; // along the whole common border

  constructor(private readonly doc: Doc, private readonly picks: Picks, private readonly panel: HTMLElement) { super(); }

  get active(): boolean { return this.ghost !== null; }
  private params(): object { return { edges: this.edges, chain: this.whole, ...(this.stays === null ? {} : { stays: this.stays }) }; }

  /** Shows what joining along the picked edges would do. */
  async start(edges: number[]): Promise<void> {
    this.edges = edges;
    this.stays = null;
    await this.ask();
  }

  private async ask(): Promise<void> {
    this.ghost = await this.doc.ghost("join", this.params());
    this.show();
  }

  /** What stayed moves, and the other way round. */
  async swap(): Promise<void> {
    if (!this.ghost?.join) return;
    this.stays = this.ghost.join.moves;
    await this.ask();
  }

  async toggleWhole(): Promise<void> {
    this.whole = !this.whole;
    await this.ask();
  }

  async take(): Promise<{ edges: number[] }> {
    const p = this.params();
    const edges = this.ghost!.closed ?? this.edges;
    this.drop();
    await this.doc.edit("join", p);
    this.picks.clear();
    return { edges };
  }

  drop(): void {
    this.ghost = null;
    this.panel.hidden = true;
    this.changed();
  }

  private show(): void {
    const j = this.ghost!.join!;
    const lines = [
      html`<b>${j.moves_name}</b> moves to <b>${j.stays_name}</b>${j.joined > 1 ? `, ${j.joined} joins in all` : ""}`,
      html`along <span class="num">${j.length}</span>, rims differ by <span class="num">${pct(j.difference)}</span>`,
      html`${j.rigid ? "It fits as it is: nothing is flattened again." : "Both are flattened as one."}`,
      html`stretch <span class="num">${times(j.was)} → ${times(j.will)}</span>`,
    ];
    const bends = `${j.turn[0].toFixed(0)}° and ${j.turn[1].toFixed(0)}°`;
    if (j.opposite && j.will > j.was + 0.01) lines.push(html`<span class="warn">The rims bend apart (${bends}): they only meet by stretching.</span>`);
    else if (j.opposite) lines.push(html`The rims bend apart (${bends}), which costs next to nothing.`);
    if (j.on_rack) lines.push(html`There is no room here: the union waits on the rack.`);
    show(this.panel, html`<p>${lines.map((l, i) => html`${i ? html`<br>` : nothing}${l}`)}</p><div class="verbs"><button class="button act" data-do="shown-take">Join <kbd>Enter</kbd></button><button class="button" data-do="shown-swap">Other one stays <kbd>M</kbd></button><button class="button quiet" data-do="whole" aria-pressed="${this.whole}">Whole border</button><button class="button quiet" data-do="drop">Leave <kbd>Esc</kbd></button></div>`);
    this.panel.hidden = false;
    this.changed();
  }
}

let hatch: CanvasPattern | null = null;

function pattern(g: CanvasRenderingContext2D, ink: string): CanvasPattern {
  if (hatch) return hatch;
  const c = document.createElement("canvas");
  c.width = c.height = 8;
  const h = c.getContext("2d")!;
  h.strokeStyle = ink;
  h.lineWidth = 1.4;
  for (const k of [-4, 0, 4, 8]) { h.beginPath(); h.moveTo(k, 8); h.lineTo(k + 8, 0); h.stroke(); }
  return (hatch = g.createPattern(c, "repeat")!);
}

/** The faces of a ghost and its rim where they would lie, in units of the sheet. */
interface Traced { of: Meta; faces: Path2D; rim: Path2D }
const traced = new WeakMap<Ghost, Traced>();

/** Traced once for each ghost and revision: it is drawn again whenever the pointer moves. */
function trace(doc: Doc, ghost: Ghost): Traced {
  const known = traced.get(ghost);
  if (known?.of === doc.meta) return known;
  const moved = new Map<number, [number, number]>();
  (ghost.corners ?? []).forEach((c, i) => moved.set(c, [ghost.uv![2 * i]!, ghost.uv![2 * i + 1]!]));
  const uv = doc.layout.uv, at = (c: number): [number, number] => moved.get(c) ?? [uv[2 * c]!, uv[2 * c + 1]!];
  const shells = new Set<number>(), fresh = new Set<number>(); // faces that lie nowhere yet have no shell
  for (const f of ghost.faces ?? []) if (doc.layout.faceShell[f]! >= 0 && !ghost.stretch) shells.add(doc.layout.faceShell[f]!); else fresh.add(f);
  if (ghost.join) for (const f of [ghost.join.stays, ghost.join.moves]) shells.add(doc.layout.faceShell[f]!);
  const inside = (f: number): boolean => f >= 0 && (fresh.has(f) || shells.has(doc.layout.faceShell[f]!));
  const closed = new Set(ghost.closed ?? []), opened = new Set(ghost.opened ?? []);
  const { triCorner, triFace, faceStart, cornerEdge } = doc.mesh;
  const out: Traced = { of: doc.meta, faces: new Path2D(), rim: new Path2D() };
  triFace.forEach((f, t) => {
    if (!inside(f)) return;
    out.faces.moveTo(...at(triCorner[3 * t]!));
    out.faces.lineTo(...at(triCorner[3 * t + 1]!));
    out.faces.lineTo(...at(triCorner[3 * t + 2]!)); // left open: closing one asks for the bounds of all of them
  });
  for (let f = 0; f + 1 < faceStart.length; f++) {
    if (!inside(f)) continue;
    const lo = faceStart[f]!, hi = faceStart[f + 1]!;
    for (let c = lo; c < hi; c++) {
      const e = cornerEdge[c]!;
      if (closed.has(e) || !(doc.layout.cut[e] || opened.has(e))) continue;
      out.rim.moveTo(...at(c));
      out.rim.lineTo(...at(c + 1 < hi ? c + 1 : lo));
    }
  }
  traced.set(ghost, out);
  return out;
}

/** Draws the shells of a ghost where they would lie: hatched, their rim dashed. */
export function drawGhost(g: CanvasRenderingContext2D, doc: Doc, ghost: Ghost, screen: Screen, ink: string): void {
  const { faces, rim } = trace(doc, ghost), [x, y] = screen(0, 0), [x1, y1] = screen(1, 1);
  const there = (of: Path2D): Path2D => { const p = new Path2D(); p.addPath(of, new DOMMatrix([x1 - x, 0, 0, y1 - y, x, y])); return p; };
  g.save();
  g.fillStyle = pattern(g, ink);
  g.globalAlpha = 0.6;
  g.fill(there(faces));
  g.globalAlpha = 1;
  g.strokeStyle = ink;
  g.lineWidth = 1.6;
  g.setLineDash([5, 3]);
  g.stroke(there(rim));
  g.restore();
}
