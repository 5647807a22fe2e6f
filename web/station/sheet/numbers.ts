// Place and size of the chosen shells as numbers: read from the fields of the tray, and
// written into them.
import type { Doc } from "../../bench/doc";
import type { Box } from "./shells";

export type NumberUnit = "px" | "%" | "model";
export const fields = ["x", "y", "w", "h"] as const;
export type Field = (typeof fields)[number];

/** How much of the sheet one of a unit is. */
export function unitSize(unit: NumberUnit, doc: Doc, shell: number): number {
  const { size, shells, density } = doc.meta;
  if (unit === "%") return 0.01;
  return unit === "px" ? 1 / size : (shells[shell]?.density || density || size) / size;
}

/** The number of a field for a box. */
export const read = (field: Field, x: Box): number => ({ x: x.l, y: x.b, w: x.r - x.l, h: x.t - x.b })[field];

/** What a field being set to a number means as an edit: the lower left corner stays when the size is set. */
export function moveBy(field: Field, to: number, x: Box, locked: boolean): Record<string, unknown> | null {
  const was = read(field, x), w = x.r - x.l, h = x.t - x.b;
  if (!Number.isFinite(to) || to === was) return null;
  if (field === "x" || field === "y") return { shift: field === "x" ? { X: to - was, Y: 0 } : { X: 0, Y: to - was } };
  if (!(to > 0) || !(was > 0)) return null;
  const k = to / was, ku = locked || field === "w" ? k : 1, kv = locked || field === "h" ? k : 1;
  return { shift: { X: ((ku - 1) * w) / 2, Y: ((kv - 1) * h) / 2 }, scale: ku, ...(ku === kv ? {} : { scale_v: kv }) };
}

/** A number as a field shows it. */
export const shown = (x: number): string => String(Number(x.toFixed(Math.abs(x) >= 100 ? 1 : 3)));
