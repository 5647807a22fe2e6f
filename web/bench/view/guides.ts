// Lines across the sheet at which something that is dragged snapped.
import type { Sheet } from "./sheet";

export interface Guides { u?: number; v?: number }

export function drawGuides(g: CanvasRenderingContext2D, sheet: Sheet, at: Guides): void {
  g.strokeStyle = "#8A6412";
  g.lineWidth = 1;
  g.setLineDash([4, 4]);
  g.beginPath();
  if (at.u !== undefined) { const [x] = sheet.screen(at.u, 0); g.moveTo(x, 0); g.lineTo(x, 4000); }
  if (at.v !== undefined) { const [, y] = sheet.screen(0, at.v); g.moveTo(0, y); g.lineTo(4000, y); }
  g.stroke();
  g.setLineDash([]);
}
