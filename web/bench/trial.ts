// An edit tried before it is taken: its ghost on the sheet with what it costs. Flattening
// is shown step by step: stop it where it is good enough, and what was seen is taken.
import { Watched } from "./store";
import { figures } from "./figures";
import { Refused, type Doc, type Ghost } from "./doc";
import { html, nothing, show, type Markup } from "./html";

export class Trial extends Watched {
  ghost: Ghost | null = null;
  private running: AbortController | null = null;
  private at = 0; // iterations seen
  private ended = false;
  private steps = true; // seen step by step, so that it can be stopped half way
  private edit: { kind: string; params: object } | null = null;

  constructor(private readonly doc: Doc, private readonly panel: HTMLElement) { super(); }

  get active(): boolean { return this.edit !== null; }

  /** Shows what an edit would do, step by step if it works in steps, without doing it. */
  async start(kind: string, params: object, inSteps = true): Promise<void> {
    this.running?.abort();
    if (this.edit?.kind !== kind) this.ghost = null; // with other settings the last picture stays until the next
    this.edit = { kind, params };
    this.at = 0;
    this.ended = false;
    this.steps = inSteps;
    const own = (this.running = new AbortController());
    this.show("counting …", "");
    try {
      const ghost = !inSteps ? await this.doc.ghost(kind, params, own.signal) : await this.doc.live(kind, params, (f) => {
        if (own.signal.aborted) return;
        this.at = f.iteration;
        if (f.corners.length) this.ghost = { corners: f.corners, uv: f.uv, faces: [...new Set(f.corners.map((c) => this.doc.cornerFace[c]!))], opened: null, closed: null };
        this.show(`round ${f.iteration}`, f.said);
      }, own.signal);
      if (own.signal.aborted) return;
      this.ended = true;
      this.ghost = ghost;
      this.panel.dataset.counted = JSON.stringify(params);
      this.show(this.at ? `settled after ${this.at} ${this.at === 1 ? "round" : "rounds"}` : "", figures(kind, ghost), ghost.said);
    } catch (e) {
      if (own.signal.aborted) return;
      this.drop();
      throw e instanceof Refused ? e : new Refused("It broke off; try again.", 500);
    }
  }

  /** Ends it where it is; the last picture stays to be taken. */
  stop(): void {
    if (!this.edit || this.ended || !this.steps) return;
    this.running?.abort();
    this.ended = true;
    this.show(`stopped after ${this.at} rounds`, "Take it as it is, or leave it.");
  }

  async take(): Promise<void> {
    const e = this.edit;
    if (!e) return;
    const stopped = !this.ended || this.running?.signal.aborted;
    const rounds = stopped && this.at > 0 ? { max_iterations: this.at } : {};
    this.drop();
    await this.doc.edit(e.kind, { ...e.params, ...rounds });
  }

  drop(): void {
    this.running?.abort();
    this.running = null;
    if (!this.edit) return;
    this.edit = this.ghost = null;
    this.panel.hidden = true;
    delete this.panel.dataset.counted;
    this.changed();
  }

  /** The loops or seams that pay most, each a way to see which it is. */
  private rows(): Markup {
    const rows = (this.ghost?.rows ?? []).map((r, i) => html`<li><button class="link" data-row="${i}">${r.words}</button> <span class="num">${r.figures}</span></li>`);
    return rows.length ? html`<ul class="rows mt-1 list-none" aria-label="What pays most">${rows}</ul>` : html``;
  }

  private show(what: string, says: string | Markup, said = ""): void {
    const worst = this.ghost?.worst !== undefined ? html` · <button class="link" data-do="worst">go where it stretches most</button>` : nothing;
    show(this.panel, html`<p><span class="figures">${says || what}</span>${worst}${said ? html`<br>${said}` : nothing}${says && what ? html` <span class="soft">· ${what}</span>` : nothing}</p><div class="verbs"><button class="button act" data-do="shown-take">Take <kbd>Enter</kbd></button>${!this.ended && this.steps ? html`<button class="button" data-do="shown-stop">Stop here <kbd>S</kbd></button>` : nothing}<button class="button quiet" data-do="drop">Leave <kbd>Esc</kbd></button></div>${this.rows()}`);
    this.panel.hidden = false;
    this.panel.dataset.round = String(this.at);
    this.changed();
  }
}
