/** Something that is drawn when it was touched, and what looks from the same place with it. */
export abstract class Touched {
  protected dirty = true;
  private other: Touched | null = null;

  /** Asks for a new picture. */
  touch(): void {
    if (this.dirty) return;
    this.dirty = true;
    this.other?.touch();
  }

  /** From now on a touch of either is one of both. */
  protected link(other: Touched): void {
    this.other = other;
    other.other = this;
    this.touch();
  }
}
