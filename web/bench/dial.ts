// What an edit would give, counted on the server while its dial turns or its button is
// pointed at, and taken as one edit.
import { Watched } from "./store";
import { Refused, type Doc, type Ghost } from "./doc";
import { html, show, type Markup } from "./html";
import { times } from "./units";

export class Dial extends Watched {
  /** What the edit would change. */
  ghost: Ghost | null = null;
  private timer = 0;
  private running: AbortController | null = null;

  constructor(private readonly doc: Doc, private readonly trouble: (e: unknown) => void) { super(); }

  /** Counts what an edit gives, and says it in figures by say. */
  turn(kind: string, params: object, say: (g: Ghost) => Markup, figures: HTMLElement): void {
    clearTimeout(this.timer);
    this.running?.abort();
    figures.textContent = "counting…";
    this.timer = window.setTimeout(() => void this.count(kind, params, say, figures), 90);
  }

  private async count(kind: string, params: object, say: (g: Ghost) => Markup, figures: HTMLElement): Promise<void> {
    const own = (this.running = new AbortController());
    try {
      this.ghost = await this.doc.ghost(kind, params, own.signal);
      show(figures, say(this.ghost));
      figures.dataset.counted = JSON.stringify(params);
      this.changed();
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
    this.changed();
  }
}

const change = (x: string, y: string): Markup => (x === y ? html`<b>${x}</b>` : html`${x} → <b>${y}</b>`);

/** What a turn of the dial between fewer pieces and less stretch gives. */
export function seamFigures({ before: a, after: b }: Ghost): Markup {
  return html`${change(String(a!.shells), String(b!.shells))} shells · ${change(a!.seam, b!.seam)} seam · ${change(a!.exposed, b!.exposed)} in view · worst ${change(times(a!.worst, 2), times(b!.worst, 2))}`;
}

/** What other settings of the sheet give. */
export function sheetFigures({ before: a, after: b }: Ghost): Markup {
  return html`fill ${change(a!.fill, b!.fill)} · ${change(a!.density, b!.density)} · least gap ${change(a!.least_gap, b!.least_gap)}`;
}

/** What another detail of the reading gives. */
export function partFigures(g: Ghost): Markup {
  const { was, will, united, split } = g.parts!;
  const what = [united ? `${united} united` : "", split ? `${split} taken apart` : ""].filter(Boolean).join(", ");
  return html`${change(String(was), String(will))} parts${what ? `: ${what}` : ", all as they are"}`;
}
