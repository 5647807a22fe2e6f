// Lengths and areas in words: millimetres up to a metre, whatever the model's unit.
export const metres: Record<string, number> = { m: 1, cm: 0.01, mm: 0.001, in: 0.0254 };

/** The stretch from which something has no area on the sheet: the server's. */
const endless = 1e6;

/** A stretch in words. */
export const times = (x: number, digits = 3): string => (x >= endless ? "endless" : `×${x >= 10 ? x.toFixed(0) : x.toFixed(digits)}`);

const short = (x: number, digits: number): string => String(Number(x.toPrecision(digits)));

/** How many units the sheet is wide, where it is one high. */
export const across = (sheet: { tiles: number; wide?: boolean }): number => (sheet.wide ? 2 : sheet.tiles);

export function lengthText(x: number, unit: string): string {
  const mm = x * (metres[unit] ?? 1) * 1000;
  return mm < 1000 ? `${short(mm, 3)} mm` : `${(mm / 1000).toFixed(2)} m`;
}

export function areaText(x: number, unit: string): string {
  const m2 = x * (metres[unit] ?? 1) ** 2;
  return m2 < 1e-4 ? `${short(m2 * 1e6, 3)} mm²` : m2 < 1 ? `${short(m2 * 1e4, 3)} cm²` : `${short(m2, 3)} m²`;
}
