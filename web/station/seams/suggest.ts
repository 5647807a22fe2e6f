// The cuts Morvek suggests at the Seams station, one at a time, with their reason.
import type { Doc } from "../../bench/doc";

export class Suggestions {
  private at = 0;
  private read = ""; // revision and part they are of

  constructor(private readonly doc: Doc, private readonly place: () => HTMLElement | null) {}

  /** The place in the tray was filled; what is left aside stays so until the document changes. */
  shown(): void {
    const now = `${this.doc.meta.revision} ${this.place()?.querySelector(".lead")?.textContent ?? ""}`;
    if (this.read !== now) this.at = 0;
    this.read = now;
    this.show();
  }

  private all(): HTMLElement[] { return [...(this.place()?.querySelectorAll<HTMLElement>(".suggestion") ?? [])]; }

  private show(): void { this.all().forEach((s, i) => { s.hidden = i !== this.at; }); }

  private edgesOf(s: HTMLElement | undefined): number[] { return s ? s.dataset.edges!.split(" ").map(Number) : []; }

  /** The edges of the suggestion in question. */
  edges(): number[] { return this.edgesOf(this.all()[this.at]); }

  allEdges(): number[] { return this.all().flatMap((s) => this.edgesOf(s)); }

  /** On to the next one. */
  leave(): void {
    const n = this.all().length;
    if (n) this.at = (this.at + 1) % n;
    this.show();
  }
}
