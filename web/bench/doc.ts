// The document as the browser knows it, and every request that changes it.
import { Vector3 } from "three";
import { readExposure, readImages, readLayout, readMesh, type Images, type LayoutBlock, type MeshBlock } from "./blocks";
import { take } from "./patch";
import { batch, signal } from "@preact/signals-core";
import { store } from "./store";
import type { Answer, Frame, Ghost, Meta, Shown, Vec } from "../wire/wire";

export type { Cost, Figures, Fit, Frame, Ghost, Meta, Shown, Stretch, Vec } from "../wire/wire";

/** A loop, edges[from..to), with what lies beyond its ends. */
export interface Run { edges: number[]; points: number[]; from: number; to: number; closed: boolean; stops: { at: number; why: string }[] }

/** A rule to lay faces flat, in model coordinates. */
export interface Projection { kind: string; origin: Vec; axis: Vec; up: Vec; turn_deg: number; width: number; height: number; free?: boolean; flip?: boolean; apart?: boolean }
/** What a kind of projection would make of faces. */
export interface Option { kind: string; projection: Projection; l2: number; angular: number; flips: number; away: number; shells: number; overlaps: boolean; why?: string; fitted: boolean; outline: number[] }
export interface Jig { id: number; name: string; projection: Projection }
/** Is told of a new revision, and what was sent along to be shown. */
type Listener = (sent: Answer | null) => void;

/** A sentence the server sent about a request it refused; the map that is sealed, if that is why. */
export class Refused extends Error {
  constructor(message: string, readonly status: number, readonly sealed = 0, readonly stale = false) { super(message); }

  /** Asks for the same of the newer state, if that is why. */
  again: (() => Promise<void>) | null = null;
}

/** The line to the server: whether an edit waits for it to come back, until it is given up. */
export const line = store({ waiting: false, givenUp: 0 });

const away = (): Refused => new Refused("The server does not answer. Your last saved edit is safe; try again in a moment.", 0);

/** Fetches; where the line breaks it tries again if that may be done: some times, or, what must not be lost, until it is given up. */
export async function patient(url: string, init: RequestInit, again = true, keep = false): Promise<Response> {
  const given = line.givenUp;
  for (let attempt = 0; ; attempt++) {
    try {
      const res = await fetch(url, init);
      if (!keep || res.status !== 503) { if (keep) line.waiting = false; return res; }
    } catch (e) {
      if (init.signal?.aborted) throw e;
      if (!again || (attempt >= 5 && !keep)) throw away();
    }
    if (keep) line.waiting = true;
    await new Promise((r) => setTimeout(r, Math.min(2000, 400 * 2 ** attempt)));
    if (keep && line.givenUp !== given) { line.waiting = false; throw away(); }
  }
}

/** What the server said of a request it refused. */
export function refusal(status: number, body: string): Refused {
  let said: { error?: string; sealed?: number; stale?: boolean } = {};
  try { said = JSON.parse(body) as typeof said; } catch { /* not ours */ }
  return new Refused(said.error ?? `The server answered ${status}.`, status, said.sealed, said.stale);
}

/** Asks the server. What may be sent again, reading and edits with a key, is if the line breaks. */
export async function ask(url: string, body?: unknown, signal?: AbortSignal, method?: string): Promise<Response> {
  const keep = (body as { key?: string } | undefined)?.key !== undefined;
  const init: RequestInit = body === undefined ? (method ? { method } : {}) : { method: "POST", headers: { "Content-Type": "application/json" }, body: JSON.stringify(body) };
  if (signal) init.signal = signal;
  const res = await patient(url, init, keep || (body === undefined && !method), keep);
  if (res.ok) return res;
  throw refusal(res.status, await res.text());
}

/** Sends a file as it is. */
export async function sendFile(url: string, file: File): Promise<Response> {
  const res = await fetch(url, { method: "POST", body: file });
  if (res.ok) return res;
  throw refusal(res.status, await res.text());
}

/** Hears an answer that is sent as it comes to be, a line of JSON each. */
export async function lines<T>(res: Response, hear: (line: T) => void): Promise<void> {
  const from = res.body!.pipeThrough(new TextDecoderStream()).getReader();
  for (let rest = ""; ;) {
    const { value, done } = await from.read();
    if (done) return;
    const parts = (rest + value).split("\n");
    rest = parts.pop()!;
    for (const p of parts) hear(JSON.parse(p) as T);
  }
}

export class Doc {
  mesh!: MeshBlock;
  layout!: LayoutBlock;
  private readonly known = signal<Meta | null>(null);
  /** Position of the first corner of each edge and the next one. */
  edgeCorners!: Int32Array;
  cornerFace!: Int32Array;
  /** The faces on both sides of each edge, -1 where there is none. */
  edgeFaces!: Int32Array;
  /** Exposure of each face, once somebody asked for it. */
  exposure: Float32Array | null = null;
  /** Waits for long work to end, showing how far it is. */
  onWork: (work: number) => Promise<unknown> = () => Promise.resolve();
  /** What is shown besides the views: it comes along with the answer to a change. */
  shown: () => Shown | undefined = () => undefined;
  private listeners: Listener[] = [];

  /** What became of each face, by the numbers of the block, where two states are compared. */
  changes: Uint8Array | null = null;

  /** The document as it is, or as it was once by the query that asks for that. */
  constructor(readonly id: string, private readonly hash: string, private map: number, readonly past = "") {}

  /** What is known of the revision that is shown; watched, it tells of the next one. */
  get meta(): Meta { return this.known.value!; }

  /** The address of something of the document, seen through the shown map. */
  at(path: string): string { return `/documents/${this.id}/${path}${path.includes("?") ? "&" : "?"}map=${this.map}${this.past && `&${this.past}`}`; }

  /** Shows another map of the document. */
  async show(map: number): Promise<void> {
    this.map = map;
    await this.refresh();
  }

  onChange(f: Listener): void { this.listeners.push(f); }

  async load(): Promise<void> {
    const mesh = await ask(`/documents/${this.id}/mesh.bin?v=${this.hash}`).then((r) => r.arrayBuffer());
    this.mesh = readMesh(mesh);
    this.indexEdges();
    await this.refresh();
  }

  private indexEdges(): void {
    const m = this.mesh;
    this.edgeCorners = new Int32Array(2 * m.bend.length).fill(-1);
    this.cornerFace = new Int32Array(m.cornerPoint.length);
    this.edgeFaces = new Int32Array(2 * m.bend.length).fill(-1);
    for (let f = 0; f + 1 < m.faceStart.length; f++) {
      const lo = m.faceStart[f]!, hi = m.faceStart[f + 1]!;
      for (let c = lo; c < hi; c++) {
        this.cornerFace[c] = f;
        const e = m.cornerEdge[c]!;
        if (this.edgeCorners[2 * e] === -1) {
          this.edgeCorners[2 * e] = c;
          this.edgeCorners[2 * e + 1] = c + 1 < hi ? c + 1 : lo;
          this.edgeFaces[2 * e] = f;
        } else this.edgeFaces[2 * e + 1] = f;
      }
    }
  }

  async refresh(): Promise<void> {
    try {
      await this.take((await ask(this.at("meta")).then((r) => r.json())) as Meta);
    } catch (e) {
      if (!(e instanceof Refused) || e.status !== 410 || !this.known.peek()) throw e;
      this.map = this.meta.maps.find((m) => m.id !== this.map)?.id ?? 1; // somebody removed the shown map
      await this.take((await ask(this.at("meta")).then((r) => r.json())) as Meta);
    }
  }

  /** Takes all of a revision, which may be seen through another map than before. */
  private async take(meta: Meta, sent: Answer | null = null): Promise<void> {
    this.map = meta.map;
    const layout = readLayout(await ask(this.at("layout.bin")).then((r) => r.arrayBuffer()));
    this.layout = layout;
    this.tell(meta, sent);
  }

  /** Makes a revision the one that is known; who watches it is told at the end. */
  private tell(meta: Meta, sent: Answer | null): void {
    batch(() => {
      this.known.value = meta;
      for (const f of this.listeners) f(sent);
    });
  }

  /** While one works by halves: edits are made on the other half too, which lies apart or on this one. */
  halves: { stacked: boolean } | null = null;

  private made(kind: string, params: unknown): object {
    const edit = { kind, params };
    return this.halves ? { kind: "by-halves", params: { edit, stacked: this.halves.stacked } } : edit;
  }

  /** Applies an edit; a stale revision is answered by showing the newer one. */
  async edit(kind: string, params: unknown): Promise<void> {
    try {
      await this.change("edits", { edit: this.made(kind, params), key: crypto.randomUUID() });
    } catch (e) {
      if (e instanceof Refused && e.stale) e.again = () => this.edit(kind, params);
      throw e;
    }
  }
  undo(): Promise<void> { return this.change("undo", {}); }
  redo(): Promise<void> { return this.change("redo", {}); }

  private turn: Promise<unknown> = Promise.resolve();

  /** Over when the changes that are under way here are. */
  settled(): Promise<unknown> { return this.turn; }

  /** Does something after the changes that are under way here. */
  private inTurn<T>(act: () => Promise<T>): Promise<T> {
    const done = this.turn.then(act);
    this.turn = done.catch(() => {});
    return done;
  }

  /** Shows a revision that somebody else made, after the changes that are under way here; false if it is known already. */
  async catchUp(revision: number): Promise<boolean> {
    return this.inTurn(async () => {
      if (revision <= this.meta.revision) return false;
      await this.refresh();
      return true;
    });
  }

  /** Changes are made one after the other, each of the revision that the one before gave; long work holds up no other. */
  private async change(path: string, body: object): Promise<void> {
    if (document.body.dataset.look) throw new Refused("You may look at this project, not change it. An owner of it can let you.", 403);
    if (this.past) throw new Refused("This is how it was once. Go back to it, or to how it is now, to change something.", 422);
    const work = await this.inTurn(() => this.changeNow(path, body));
    if (work === undefined) return;
    await this.onWork(work);
    await this.renew();
  }

  /** Shows what long work made, after the changes that are under way. */
  renew(): Promise<void> { return this.inTurn(() => this.refresh()); }

  /** Makes a change; the number of the work it became, if it takes long. */
  private async changeNow(path: string, body: object): Promise<number | undefined> {
    const base = this.meta.revision;
    try {
      const res = await ask(this.at(path), { base, shown: this.shown(), ...body });
      const answer = (await res.json()) as Answer & { work?: number };
      if (answer.work) return answer.work;
      if (!answer.patch || answer.patch.from !== this.meta.revision) {
        if (answer.patch) await this.refresh(); // somebody else changed what we know meanwhile
        else await this.take(answer.meta, answer.card ? answer : null);
        return undefined;
      }
      this.tell(take(this.layout, this.meta, answer.meta, answer.patch), answer);
      return undefined;
    } catch (e) {
      if (e instanceof Refused && (e.status === 409 || e.status === 410)) await this.refresh();
      throw e;
    }
  }

  /** What an edge verb makes of picked edges or faces. */
  async pickEdges(verb: string, of: { edges?: number[]; faces?: number[]; angle_deg?: number; shortest?: boolean }, signal?: AbortSignal): Promise<Run> {
    return (await ask(this.at("pick-edges"), { verb, ...of }, signal).then((r) => r.json())) as Run;
  }

  /** What an edit would do, without doing it. A refusal of an offer, which nobody asked for, is an answer. */
  async ghost(kind: string, params: unknown, signal?: AbortSignal, offer = false): Promise<Ghost> {
    try {
      return (await ask(this.at("ghost"), { edit: this.made(kind, params), ...(offer ? { offer } : {}) }, signal).then((r) => r.json())) as Ghost;
    } catch (e) {
      if (e instanceof Refused && e.status === 410) await this.refresh(); // somebody removed the shown map
      throw e;
    }
  }

  /** What each kind of projection would make of faces, the best first. */
  async projections(faces: number[], signal?: AbortSignal, kinds: string[] = []): Promise<Option[]> {
    return (await ask(this.at("projections"), { faces, kinds }, signal).then((r) => r.json())) as Option[];
  }

  async jigs(): Promise<Jig[]> { return (await ask(this.at("jigs")).then((r) => r.json())) as Jig[]; }
  async keepJig(name: string, projection: Projection): Promise<void> { await ask(this.at("jigs"), { name, projection }); }
  async changeJig(id: number, name: string, projection: Projection): Promise<void> { await ask(this.at(`jigs/${id}`), { name, projection }); }
  async dropJig(id: number): Promise<void> { await ask(this.at(`jigs/${id}`), undefined, undefined, "DELETE"); }

  /** An edit as a dry run, step by step; what it would come to at the end. */
  async live(kind: string, params: unknown, onFrame: (f: Frame) => void, signal: AbortSignal): Promise<Ghost> {
    let ghost: Ghost | null = null;
    await lines(await ask(this.at("live"), { edit: this.made(kind, params) }, signal), (m: { frame?: Frame; ghost?: Ghost; error?: string }) => {
      if (m.error) throw new Refused(m.error, 422);
      if (m.frame) onFrame(m.frame);
      ghost = m.ghost ?? ghost;
    });
    if (!ghost) throw new Refused("It stopped before it was done; try again.", 500);
    return ghost;
  }

  private paired: Images | null = null;

  /** Which faces and edges are each other's image. */
  async images(): Promise<Images> { return (this.paired ??= readImages(await ask(this.at("images.bin")).then((r) => r.arrayBuffer()))); }

  /** Makes the exposure known, looking at the model from all sides if nobody has. */
  async look(): Promise<void> {
    const a = (await ask(this.at("exposure"), {}).then((r) => r.json())) as { work?: number };
    if (a.work) await this.onWork(a.work);
    this.exposure = readExposure(await ask(this.at("exposure.bin")).then((r) => r.arrayBuffer()));
  }

  /** What a face verb makes of picked faces. */
  async pickFaces(verb: string, faces: number[], angle: number): Promise<number[]> {
    return ((await ask(this.at("pick"), { verb, faces, angle_deg: angle }).then((r) => r.json())) as { faces: number[] }).faces;
  }

  async run(): Promise<number> {
    const r = (await ask(this.at("run"), { base: this.meta.revision }).then((x) => x.json())) as { work: number };
    return r.work;
  }

  edgeLength(e: number): number {
    const [a, b] = [this.point(this.edgeCorners[2 * e]!), this.point(this.edgeCorners[2 * e + 1]!)];
    return Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
  }

  faceArea(face: number): number { const [x, y, z] = this.faceVector(face); return Math.hypot(x, y, z) / 2; }

  private vectors: Float64Array | null = null; // of the faces that somebody asked for

  /** The normal of a face, twice its area long. */
  faceVector(face: number): [number, number, number] {
    const known = (this.vectors ??= new Float64Array(3 * (this.mesh.faceStart.length - 1)).fill(NaN)), k = 3 * face;
    if (Number.isNaN(known[k])) known.set(this.vectorOf(face), k);
    return [known[k]!, known[k + 1]!, known[k + 2]!];
  }

  private vectorOf(face: number): [number, number, number] {
    const c = this.corners(face).map((k) => this.point(k));
    let x = 0, y = 0, z = 0;
    for (let i = 1; i + 1 < c.length; i++) {
      const a = [0, 1, 2].map((k) => c[i]![k]! - c[0]![k]!), b = [0, 1, 2].map((k) => c[i + 1]![k]! - c[0]![k]!);
      x += a[1]! * b[2]! - a[2]! * b[1]!;
      y += a[2]! * b[0]! - a[0]! * b[2]!;
      z += a[0]! * b[1]! - a[1]! * b[0]!;
    }
    return [x, y, z];
  }

  /** The mean of the corners of a face. */
  middle(face: number): Vector3 {
    const c = this.corners(face), m = new Vector3();
    for (const k of c) { const [x, y, z] = this.point(k); m.x += x; m.y += y; m.z += z; }
    return m.divideScalar(c.length);
  }

  point(corner: number): [number, number, number] {
    const p = 3 * this.mesh.cornerPoint[corner]!;
    return [this.mesh.points[p]!, this.mesh.points[p + 1]!, this.mesh.points[p + 2]!];
  }

  corners(face: number): number[] {
    const out: number[] = [];
    for (let c = this.mesh.faceStart[face]!; c < this.mesh.faceStart[face + 1]!; c++) out.push(c);
    return out;
  }
}
