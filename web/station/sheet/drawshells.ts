// Over the sheet: the borders of the chosen shells with a halo, stacks, densities.
import { ink, paper, verdigris } from "../../bench/view/lines";
import type { Doc } from "../../bench/doc";
import type { Sheet } from "../../bench/view/sheet";
import type { Shells } from "./shells";

/** Draws ends of edges, two corners each, where they are shown. */
export function drawBorders(g: CanvasRenderingContext2D, doc: Doc, sheet: Sheet, border: number[]): void {
  const { uv, faceShell } = doc.layout;
  g.beginPath();
  for (let i = 0; i < border.length; i += 2) for (const [k, to] of [[0, "moveTo"], [1, "lineTo"]] as const) {
    const c = border[i + k]!, [dx, dy] = sheet.carried(faceShell[doc.cornerFace[c]!]!);
    g[to](...sheet.screen(uv[2 * c]! + dx, uv[2 * c + 1]! + dy));
  }
  g.lineJoin = g.lineCap = "round";
  for (const [color, width] of [[paper, 5], [verdigris, 2.6]] as const) {
    g.strokeStyle = color;
    g.lineWidth = width;
    g.stroke();
  }
}

/** How many are chosen, and how large they are, in words. */
export function chosenWords(shells: Shells, doc: Doc): string {
  const ids = [...shells.ids()];
  if (!ids.length) return "";
  const waits = ids.filter((s) => shells.racked(s)).length, density = ids.map((s) => doc.meta.shells[s]!.density);
  const least = Math.min(...density), most = Math.max(...density), unit = doc.meta.unit;
  const sharp = most - least < 0.005 * most ? `${most.toFixed(0)} px/${unit}` : `${least.toFixed(0)}–${most.toFixed(0)} px/${unit}`;
  return `${ids.length} ${ids.length === 1 ? "shell" : "shells"} chosen${waits ? `, ${waits === ids.length ? "on the rack" : `${waits} on the rack`}` : ""} · ${sharp}`;
}

/** Says of each stack how many lie there, with sheets peeping out behind the corner. */
export function drawStacks(g: CanvasRenderingContext2D, doc: Doc, sheet: Sheet, shells: Shells): void {
  g.font = "600 12px 'Barlow Condensed', sans-serif";
  g.textAlign = "left";
  doc.meta.shells.forEach((s, i) => {
    if (!s.stack || s.above) return;
    const x = shells.boxOf(i), [dx, dy] = sheet.carried(i), [r, t] = sheet.screen(x.r + dx, x.t + dy);
    g.strokeStyle = ink;
    g.lineWidth = 1;
    for (const k of [3, 6]) { g.beginPath(); g.moveTo(r - 14 + k, t - k); g.lineTo(r + k, t - k); g.lineTo(r + k, t + 14 - k); g.stroke(); }
    g.lineWidth = 3;
    g.strokeStyle = paper;
    g.fillStyle = ink;
    g.strokeText(`×${s.stack}`, r + 9, t - 4);
    g.fillText(`×${s.stack}`, r + 9, t - 4);
  });
}

/** Writes the density onto the shells that have room for it. */
export function drawDensities(g: CanvasRenderingContext2D, doc: Doc, sheet: Sheet, shells: Shells): void {
  g.font = "11px 'IBM Plex Mono', monospace";
  g.textAlign = "center";
  doc.meta.shells.forEach((s, i) => {
    if (s.above) return;
    const x = shells.boxOf(i), [dx, dy] = sheet.carried(i), [l, t] = sheet.screen(x.l + dx, x.t + dy), [r, b] = sheet.screen(x.r + dx, x.b + dy);
    const words = s.density.toFixed(s.density < 10 ? 1 : 0) + (s.weight === 1 ? "" : ` ×${Number(s.weight.toFixed(2))}`), w = g.measureText(words).width;
    if (r - l < w + 4 || b - t < 13) return;
    const [u, v] = shells.spot(i), [px, py] = sheet.screen(u + dx, v + dy);
    g.lineWidth = 3;
    g.strokeStyle = paper;
    g.strokeText(words, px, py + 4);
    g.fillStyle = ink;
    g.fillText(words, px, py + 4);
  });
}
