// Setting up a projection: the kinds compared, the parameters of the chosen one, and what
// it would give, live, before it is taken.
import { Watched } from "../../bench/store";
import { html, nothing, type Markup } from "../../bench/html";
import { times } from "../../bench/units";
import { Refused, type Doc, type Ghost, type Jig, type Option, type Projection, type Vec } from "../../bench/doc";

export const vec = (x: number, y: number, z: number): Vec => ({ X: x, Y: y, Z: z });

/** Kinds that cut a closed wall open at their turn. */
export const opens = (kind: string): boolean => ["cylindrical", "conical", "spherical", "turned", "extruded"].includes(kind);
const hasAxis = (kind: string): boolean => kind === "planar" || kind === "box" || opens(kind);

export class Setup extends Watched {
  faces: number[] = [];
  options: Option[] = [];
  current: Projection | null = null;
  ghost: Ghost | null = null;
  jigs: Jig[] = [];
  more = false; // whether all kinds are offered
  private fitted: Projection | null = null; // the chosen kind as it was offered
  private running: AbortController | null = null;
  private timer = 0;
  /** A sentence for the tray. */
  say: (what: Markup) => void = () => {};

  constructor(private readonly doc: Doc) { super(); }

  get active(): boolean { return this.ghost !== null; }

  /** Compares the kinds on faces. */
  async load(faces: number[]): Promise<void> {
    this.drop();
    this.faces = faces;
    this.options = [];
    this.current = this.fitted = null;
    if (!faces.length) { this.changed(); return; }
    const own = (this.running = new AbortController());
    let list: Option[];
    try {
      list = await this.doc.projections(faces, own.signal);
    } catch (e) {
      if (own.signal.aborted) return;
      throw e;
    }
    if (own.signal.aborted) return;
    this.options = list;
    this.begin();
  }

  /** Leaves what was set up: the kind that is kept, or that the shape asks for, is chosen again. */
  leave(): void {
    this.drop();
    if (this.options.length) this.begin();
  }

  private begin(): void {
    const list = this.options, kept = this.kept();
    this.take(list.find((o) => o.kind === kept) ?? list.find((o) => o.fitted && !o.why) ?? list[0]!);
    this.changed();
  }

  /** The kind that the part of the faces is laid by, if it has one. */
  private kept(): string | undefined { return this.doc.meta.parts[this.doc.layout.facePart[this.faces[0]!]!]?.projection; }

  private take(o: Option): void { this.current = { ...o.projection }; this.fitted = o.projection; }

  /** The option of the chosen kind. */
  get chosen(): Option | undefined { return this.options.find((o) => o.kind === this.current?.kind); }

  /** What the chosen kind is compared with: the best other one. */
  get other(): Option | undefined { return this.options.find((o) => o.kind !== this.current?.kind && !o.why); }

  choose(kind: string): void {
    const o = this.options.find((x) => x.kind === kind);
    if (!o || o.why) return;
    this.take(o);
    this.change({});
  }

  /** Offers all kinds, not only the best. */
  offerAll(): void { this.more = true; this.changed(); }

  /** Changes some parameters and shows what comes of it. */
  change(to: Partial<Projection>): void {
    if (!this.current) return;
    Object.assign(this.current, to);
    this.changed();
    clearTimeout(this.timer);
    this.timer = window.setTimeout(() => void this.count(), 60);
  }

  /** One of the two lengths was set; locked, the other one follows in proportion. */
  resize(which: "width" | "height", to: number): void {
    const c = this.current;
    if (!c) return;
    if (!(to > 0)) {
      clearTimeout(this.timer); // what is on its way must not talk over this
      this.running?.abort();
      this.say(html`<b class="warn">A ${which} of ${Number.isFinite(to) ? to : "nothing"} is not possible:</b> it must be more than nothing.`);
      this.changed();
      return;
    }
    const k = to / c[which];
    this.change(c.free ? { [which]: to } : { width: c.width * k, height: c.height * k });
  }

  /** Locks width and height together, or lets each go its way. */
  lock(): void {
    const c = this.current;
    if (!c) return;
    this.change(c.free ? { free: false, height: c.width } : { free: true });
  }

  axis(of: string, face: Vec | null, view: Vec): void {
    const named: Record<string, Vec> = { x: vec(1, 0, 0), y: vec(0, 1, 0), z: vec(0, 0, 1), view };
    if (of === "face") {
      if (!face) throw new Refused("Pick a face first: its normal becomes the axis.", 422);
      this.change({ axis: face });
    } else this.change({ axis: named[of] ?? this.fitted!.axis });
  }

  private params(inPlace = false): object { return { faces: this.faces, projection: this.current, ...(inPlace ? { in_place: true } : {}) }; }

  private async count(): Promise<void> {
    this.running?.abort();
    const own = (this.running = new AbortController());
    try {
      const g = await this.doc.ghost("project", this.params(), own.signal);
      if (own.signal.aborted) return;
      this.ghost = g;
      this.say(this.words(g));
      this.changed();
    } catch (e) {
      if (own.signal.aborted) return;
      this.ghost = null;
      this.say(html`<b class="warn">${e instanceof Refused ? e.message : "This could not be tried."}</b>`);
      this.changed();
    }
  }

  private words(g: Ghost): Markup {
    const s = g.stretch;
    if (!s) return html`<b>Nothing would change.</b>`;
    const was = s.was.shells ? `${times(s.was.angular)} → ` : "";
    const pieces = s.will.shells === 1 ? "one shell" : `${s.will.shells} shells`;
    if (s.will.note) return html`<b class="warn">${s.will.note[0]!.toUpperCase()}${s.will.note.slice(1)}.</b>`;
    return html`<b>${this.current!.kind}</b>: stretch <span class="num">${was}<b>${times(s.will.angular)}</b></span>, L² <span class="num">${s.will.l2.toFixed(4)}</span>, ${pieces}`;
  }

  /** The sentence that leads when nothing was changed yet. */
  lead(): Markup {
    const [c, o] = [this.chosen, this.other];
    if (!c || !this.current) return html``;
    const cost = (x: Option): Markup => html`<b>${x.kind}</b> <span class="num">${times(x.angular)}${x.shells > 1 ? ` in ${x.shells} shells` : ""}</span>`;
    const away = c.away > 0 ? html` <b class="warn">${c.away} faces look away and land on those in front:</b> press “sides apart”.` : nothing;
    return html`${this.kept() === c.kind ? "Laid by " : c.fitted ? "Its shape asks for " : "Best by stretch: "}${cost(c)}${o ? html`; next ${cost(o)}` : nothing}.${away}`;
  }

  async lay(): Promise<void> {
    if (!this.current) throw new Refused("Choose a part, or pick faces, first.", 422);
    const p = this.params();
    this.drop();
    await this.doc.edit("project", p);
  }

  /**
   * Lays faces by a jig: its kind, size and up, about the axis that suits the faces, and
   * with heights counted from the origin of the model, so that courses meet.
   */
  async layByJig(jig: Jig, faces: number[]): Promise<void> {
    this.drop();
    const fitted = (await this.doc.projections(faces, undefined, [jig.projection.kind]))[0]!.projection;
    const { axis: a, origin: o } = fitted, l = a.X * a.X + a.Y * a.Y + a.Z * a.Z;
    const t = jig.projection.kind === "planar" ? 0 : (o.X * a.X + o.Y * a.Y + o.Z * a.Z) / l;
    const origin = jig.projection.kind === "planar" ? vec(0, 0, 0) : vec(o.X - t * a.X, o.Y - t * a.Y, o.Z - t * a.Z);
    const { kind, up, width, height, free } = jig.projection;
    const projection = { ...fitted, kind, up, width, height, free: free ?? false, origin, ...(kind === "planar" ? { turn_deg: jig.projection.turn_deg } : {}) };
    await this.doc.edit("project", { faces, projection, in_place: true, ...(kind === "planar" ? { each_facet: true } : {}) });
  }

  /** The mean normal of faces. */
  normal(faces: number[]): Vec {
    const n = [0, 0, 0];
    for (const f of faces) this.doc.faceVector(f).forEach((x, k) => { n[k]! += x; });
    return vec(n[0]!, n[1]!, n[2]!);
  }

  async loadJigs(): Promise<void> { this.jigs = await this.doc.jigs(); }

  get usesAxis(): boolean { return !!this.current && hasAxis(this.current.kind); }

  /** Forgets what was tried. */
  drop(): void {
    clearTimeout(this.timer);
    this.running?.abort();
    if (!this.ghost) return;
    this.ghost = null;
    this.changed();
  }
}
