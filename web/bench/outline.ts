// Small pictures of what lies flat.

/** The path of an outline, four numbers a segment in a unit square, in a picture of so many pixels with a margin. */
export function outlinePath(outline: readonly number[], size: number, margin: number): string {
  const k = size - 2 * margin, x = (u: number): string => (margin + k * u).toFixed(1), y = (v: number): string => (size - margin - k * v).toFixed(1);
  let d = "";
  for (let i = 0; i + 3 < outline.length; i += 4) d += `M${x(outline[i]!)} ${y(outline[i + 1]!)}L${x(outline[i + 2]!)} ${y(outline[i + 3]!)}`;
  return d;
}
