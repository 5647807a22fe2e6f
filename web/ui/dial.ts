// The dial between fewer pieces and less stretch, live: what a place of it would give
// is counted on the server while it turns, and taken as one edit.
import { Refused, type Doc, type Ghost } from "./doc";
import { html, show, type Markup } from "./html";
import { times } from "./units";

export class Dial {
  /** What the place of the dial would change, if it is another one. */
  ghost: Ghost | null = null;
  private timer = 0;
  private running: AbortController | null = null;
  onChange: () => void = () => {};

  constructor(private readonly doc: Doc, private readonly trouble: (e: unknown) => void) {}

  /** The dial was turned. */
  turn(to: number, figures: HTMLElement): void {
    clearTimeout(this.timer);
    this.running?.abort();
    figures.textContent = "counting…";
    this.timer = window.setTimeout(() => void this.count(to, figures), 90);
  }

  private async count(to: number, figures: HTMLElement): Promise<void> {
    const own = (this.running = new AbortController());
    try {
      this.ghost = await this.doc.ghost("dial", { dial: to }, own.signal);
      const { before: a, after: b } = this.ghost;
      const change = (x: string, y: string): Markup => (x === y ? html`<b>${x}</b>` : html`${x} → <b>${y}</b>`);
      show(figures, html`${change(String(a!.shells), String(b!.shells))} shells · ${change(a!.seam, b!.seam)} seam · ${change(a!.exposed, b!.exposed)} in view · worst ${change(times(a!.worst, 2), times(b!.worst, 2))}`);
      figures.dataset.counted = String(to);
      this.onChange();
    } catch (e) {
      if (own.signal.aborted) return;
      figures.textContent = e instanceof Refused ? e.message : "could not be counted";
      if (!(e instanceof Refused)) this.trouble(e);
    }
  }

  /** Forgets what was counted. */
  drop(): void {
    clearTimeout(this.timer);
    this.running?.abort();
    if (!this.ghost) return;
    this.ghost = null;
    this.onChange();
  }
}
