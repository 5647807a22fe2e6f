// The cloths that are laid at once: one on the whole model, others on single materials.
import type { Doc } from "../doc";
import { ProofCloth } from "./cloth";
import { mostLayers, type Cloth, type Layers } from "./scene";

export class Laid implements Layers {
  private readonly of = new Map<string, ProofCloth>();
  /** What all has that nothing else is laid on. */
  readonly whole: ProofCloth;

  constructor(private readonly doc: Doc) { this.whole = new ProofCloth(doc); }

  get list(): readonly Cloth[] { return [this.whole, ...this.of.values()]; }

  layer(part: number): number {
    const material = this.doc.meta.parts[part]?.material ?? "";
    return this.of.has(material) && !this.whole.painted ? 1 + [...this.of.keys()].indexOf(material) : 0;
  }

  /** The cloth of a material, "" for the whole; what is laid on it if it has none of its own. */
  on(material: string): ProofCloth { return this.of.get(material) ?? this.whole; }

  /** Whether a material has a cloth of its own. */
  has(material: string): boolean { return this.of.has(material); }

  /** The cloth of a material, its own from now on; null where there are as many as can be shown. */
  own(material: string): ProofCloth | null {
    if (material === "") return this.whole;
    const there = this.of.get(material);
    if (there || this.of.size + 1 >= mostLayers) return there ?? null;
    const made = new ProofCloth(this.doc);
    this.of.set(material, made);
    return made;
  }

  /** Lets a material have what the whole has. */
  drop(material: string): void {
    this.of.get(material)?.texture.dispose();
    this.of.delete(material);
  }

  /** Brings all in line with a new revision. */
  refresh(): void {
    const there = new Set(this.doc.meta.parts.map((p) => p.material));
    for (const m of this.of.keys()) if (!there.has(m)) this.drop(m);
    this.whole.refresh();
    for (const c of this.of.values()) c.refresh();
  }
}
