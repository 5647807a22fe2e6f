// State that can be watched: whatever an effect reads of it runs the effect again when it is
// another. Within a batch effects wait for its end.
import { batch, effect, signal, untracked } from "@preact/signals-core";

export { batch, effect, untracked };

/** Makes a record whose fields can be watched. Values are replaced, never changed within. */
export function store<T extends object>(of: T): T {
  const out = {} as T;
  for (const k of Object.keys(of) as (keyof T)[]) {
    const s = signal(of[k]);
    Object.defineProperty(out, k, { enumerable: true, get: () => s.value, set: (v: T[typeof k]) => { s.value = v; } });
  }
  return out;
}

/** Something that is watched as a whole. */
export class Watched {
  private readonly turns = signal(0);

  /** The effect that runs is run again when this has changed. */
  watch(): void { void this.turns.value; }

  protected changed(): void { this.turns.value = this.turns.peek() + 1; }
}
