// Framing what is picked or chosen, in both views; what is picked in one of them is seen in the other.
import { Refused } from "./doc";
import { $, at, doc, picks, points, shells, views } from "./state";

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

let apart = localStorage.getItem("apart") === "yes"; // the views do not follow each other

/** The views follow each other, or no longer. */
export function follow(): void {
  apart = !apart;
  if (apart) localStorage.setItem("apart", "yes"); else localStorage.removeItem("apart");
  $("readout").textContent = apart ? "the views go their own ways" : "what is picked in one view is brought into sight in the other";
}

/** A place was picked in one of the views: the other shows it too, if it is out of sight there. */
export function showToo(from: string, face: number): void {
  if (apart || face < 0) return;
  const shell = doc.layout.faceShell[face]!, all = shell < 0 ? [face] : [face, ...doc.layout.faceShell.reduce<number[]>((l, s, f) => { if (s === shell && l.length < 200) l.push(f); return l; }, [])];
  if (from === "piece-canvas") { if (!views.sheet.sees([face])) views.sheet.center(doc.corners(face)); } else if (!views.piece.sees(all)) views.piece.lookAt([face], true);
}

/** Looks further into the model, or less far: what is nearer is clipped away. */
export function clip(by: number): void {
  const now = views.piece.clip(by), el = $("clip-note");
  el.hidden = now === 0;
  el.textContent = `clipped ${Math.round(100 * now)} % deep · show whole`;
  document.body.dataset.clip = String(now);
}

/** In perspective, or in parallel. */
export function parallel(): void {
  views.piece.eye.parallel = !views.piece.eye.parallel;
  document.body.dataset.parallel = views.piece.eye.parallel ? "yes" : "";
  views.piece.touch();
}
