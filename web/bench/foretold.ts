// What an edit would change, drawn and counted while its button is pointed at.
import { Watched } from "./store";
import { Refused, type Doc, type Ghost } from "./doc";
import { figures } from "./figures";
import type { Markup } from "./html";

/** How long a button is pointed at before it is asked what it would do, ms. */
const patience = 250;

export class Foretold extends Watched {
  ghost: Ghost | null = null;
  words: Markup | string = "";
  private timer = 0;
  private running: AbortController | null = null;

  constructor(private readonly doc: Doc) { super(); }

  point(kind: string, params: object): void {
    this.drop();
    this.timer = window.setTimeout(() => void this.ask(kind, params), patience);
  }

  private async ask(kind: string, params: object): Promise<void> {
    const own = (this.running = new AbortController());
    try {
      const g = await this.doc.ghost(kind, params, own.signal, true);
      if (own.signal.aborted) return;
      this.ghost = g.refused ? null : g;
      this.words = g.refused ?? figures(kind, g);
    } catch (e) {
      if (own.signal.aborted || !(e instanceof Refused)) return; // nobody asked
      this.words = e.message;
    }
    this.changed();
  }

  drop(): void {
    clearTimeout(this.timer);
    this.running?.abort();
    if (!this.ghost && !this.words) return;
    this.ghost = null;
    this.words = "";
    this.changed();
  }
}
