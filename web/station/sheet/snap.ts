// What a dragged shell snaps to: whole pixels, a raster, or the borders of others, with the
// padding kept or side by side with theirs.
import type { Box } from "./shells";

export type SnapTo = "borders" | "pixels" | "raster" | "nothing";

/** What there is to snap to, in sheet units. */
export interface Ground { boxes: Box[]; padding: number; margin: number; pixel: number; step: number; across: number }

/** The shift nearest to the given one at which a box snaps; near is how far it may jump. */
export function snapped(to: SnapTo, box: Box, shift: [number, number], near: number, on: Ground): { shift: [number, number]; u?: number; v?: number } {
  const [du, dv] = shift;
  if (to === "nothing") return { shift };
  if (to !== "borders") {
    const step = to === "pixels" ? on.pixel : on.step, at = (x: number, d: number): number => Math.round((x + d) / step) * step - x;
    return { shift: [at(box.l, du), at(box.b, dv)] };
  }
  const sides = (low: keyof Box, high: keyof Box, ends: number[]): number[] => [...ends, ...on.boxes.flatMap((x) => [x[low], x[high]])];
  const pads = (low: keyof Box, high: keyof Box): { after: number[]; before: number[] } => ({ after: on.boxes.map((x) => x[high] + on.padding), before: on.boxes.map((x) => x[low] - on.padding) });
  const u = along(box.l, box.r, du, near, sides("l", "r", [on.margin, on.across - on.margin]), pads("l", "r"));
  const v = along(box.b, box.t, dv, near, sides("b", "t", [on.margin, 1 - on.margin]), pads("b", "t"));
  return { shift: [u.d, v.d], ...(u.at === undefined ? {} : { u: u.at }), ...(v.at === undefined ? {} : { v: v.at }) };
}

/** One axis: either side comes to lie on a line, the lower one a padding after something or the upper one before. */
function along(low: number, high: number, d: number, near: number, lines: number[], pads: { after: number[]; before: number[] }): { d: number; at?: number } {
  let best: { d: number; at?: number } = { d }, least = near;
  const offer = (side: number, line: number): void => {
    const off = Math.abs(side + d - line);
    if (off < least) { least = off; best = { d: line - side, at: line }; }
  };
  for (const x of pads.after) offer(low, x);
  for (const x of pads.before) offer(high, x);
  for (const x of lines) { offer(low, x); offer(high, x); }
  return best;
}
