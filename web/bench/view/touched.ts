/** Something that is drawn when it was touched, and what looks from the same place with it. */
export abstract class Touched {
  /** Is told whenever something is to be drawn. */
  static onTouch: () => void = () => {};

  protected dirty = true;
  private other: Touched | null = null;

  /** Asks for a new picture. */
  touch(): void {
    Touched.onTouch();
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
