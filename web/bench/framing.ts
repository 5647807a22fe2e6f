// Framing what is picked or chosen, in both views.
import { Refused } from "./doc";
import { at, doc, picks, points, shells, views } from "./state";

/** The corners of what is picked; of what is chosen where nothing is. */
function cornersMeant(): number[] {
  if (at.station === "Sheet" && shells.ids().size) return shells.faces().flatMap((f) => doc.corners(f));
  if (points.picked.size) return [...points.picked];
  const out: number[] = [];
  for (const f of picks.faces) out.push(...doc.corners(f));
  for (const e of picks.edges) for (const f of [doc.edgeFaces[2 * e]!, doc.edgeFaces[2 * e + 1]!]) if (f >= 0) out.push(...doc.corners(f));
  if (out.length) return out;
  doc.layout.facePart.forEach((p, f) => { if (at.parts.has(p)) out.push(...doc.corners(f)); });
  return out;
}

/** Both views show what is meant as large as it fits. */
export function goToPick(): void {
  const corners = cornersMeant();
  if (!corners.length) throw new Refused("Pick or choose something first: both views go there.", 422);
  views.piece.frameCorners(corners);
  views.sheet.zoomTo(corners);
}
