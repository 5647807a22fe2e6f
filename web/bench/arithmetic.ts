// What is written into a field for a number: a sum with units, or a step from what stood there.
import { metres } from "./units";

const lengths: Record<string, number> = { ...metres, ft: 0.3048 };

/** A number and what its unit makes of it; null where it has none. */
type Value = [x: number, unit: number | null];

class Sum {
  private readonly tokens: string[];
  private i = 0;

  constructor(text: string, private readonly unit: string) { this.tokens = text.match(/\d+\.?\d*(?:e[+-]?\d+)?|\.\d+|[-+*/()]|[a-z]+|°|%|\S/gi) ?? []; }

  read(): number {
    const x = this.sum();
    if (this.i < this.tokens.length) throw new Error(`“${this.tokens[this.i]}” is too much`);
    return x;
  }

  private sum(): number {
    const term = (): number => { const [x, unit] = this.product(); return x * (unit ?? 1); };
    let x = term();
    for (let op = this.tokens[this.i]; op === "+" || op === "-"; op = this.tokens[this.i]) { this.i++; x += op === "+" ? term() : -term(); }
    return x;
  }

  /** "3/8 in" is three eighths of an inch: the unit is that of the whole product. */
  private product(): Value {
    let [x, unit] = this.atom();
    for (let op = this.tokens[this.i]; op === "*" || op === "/"; op = this.tokens[this.i]) {
      this.i++;
      const [y, other] = this.atom();
      if (unit !== null && other !== null) throw new Error("only one factor can have a unit");
      x = op === "*" ? x * y : x / y;
      unit ??= other;
    }
    return [x, unit];
  }

  private atom(): Value {
    const t = this.tokens[this.i++];
    if (t === "-" || t === "+") { const [x, unit] = this.atom(); return [t === "-" ? -x : x, unit]; }
    if (t === "(") {
      const x = this.sum();
      if (this.tokens[this.i++] !== ")") throw new Error("a bracket is open");
      return [x, this.behind()];
    }
    if (t === undefined) throw new Error("a number is missing");
    if (!/^[\d.]/.test(t)) throw new Error(`“${t}” is no number`);
    return [Number(t), this.behind()];
  }

  /** The unit behind a number or a bracket. */
  private behind(): number | null {
    const u = this.tokens[this.i];
    if (u === undefined || /^[-+*/()]$/.test(u) || /^[\d.]/.test(u)) return null;
    this.i++;
    if (u === this.unit) return 1;
    if (lengths[u] !== undefined && lengths[this.unit] !== undefined) return lengths[u]! / lengths[this.unit]!;
    throw new Error(lengths[u] === undefined ? `“${u}” is no unit here` : `this is ${this.unit ? `in ${this.unit}` : "a plain number"}, not a length`);
  }
}

/** The number that is written, in the unit of the field; a sentence where it is none. "*2", "/2" and "+=5" go on from what stood there. */
export function evaluate(text: string, unit: string, was: number): number | string {
  let s = text.trim().replace(/(\d),(?=\d)/g, "$1.").replace(/−/g, "-").replace(/×/g, "*");
  const on = /^([*/]|[+-]=)/.exec(s)?.[1];
  if (on) s = `${was}${on[0]}(${s.slice(on.length)})`;
  try {
    const x = new Sum(s, unit).read();
    return Number.isFinite(x) ? x : "this is no number";
  } catch (e) { return (e as Error).message; }
}
