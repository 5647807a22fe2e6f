// Pointing and picking, the same in both views.
import type { Pointed } from "./view/piece";
import { labelOf } from "./view/labels";
import type { Outline } from "./view/region";
import { times } from "./units";
import { startSetup } from "../station/project/setupview";
import { chooseShells, clickShell, regionOnPiece } from "../station/sheet/choose";
import { $, at, attempt, chain, doc, picks, points, shells, views } from "./state";
import { choose } from "./tray";
import { drawSetup } from "./views";
import { facesOf } from "./chosen";
import { showToo } from "./framing";
import { picksFaces, picksPoints, picksShells } from "./kinds";

function point(p: Pointed | null, screen: (corner: number) => [number, number]): void {
  const face = p?.face ?? -1;
  at.hovered = face;
  const edge = p && !picksFaces() && !picksPoints() && !picksShells() ? p.edge : -1;
  points.hover(p && picksPoints() ? points.near(p.face, screen, p.x, p.y) : -1);
  if (edge !== at.hot) {
    at.hot = edge;
    views.sheet.touchOver(); // the twin and its leader
    if (chain.active) void attempt(async () => chain.hover(edge));
  }
  if (!p) { $("readout").textContent = picks.words() ? `picked ${picks.words()}` : "point at the model or the sheet"; return; }
  if (chain.active) { $("readout").textContent = chain.words(); return; }
  const part = doc.layout.facePart[face]!, s = doc.meta.shells[doc.layout.faceShell[face]!];
  const words = [`part ${doc.meta.parts[part]?.name ?? "–"}`, `face ${face}`];
  if (s) {
    const area = doc.layout.stretch[face]! * doc.meta.scale, grain = doc.layout.grain[face]!;
    words.push(`stretch ${times(doc.layout.angular[face]!)}`, `area ${times(area)}`, `density ${area > 0 ? (doc.meta.density / Math.sqrt(area)).toFixed(0) : "–"} px/${doc.meta.unit}`, grain < 0 ? "no grain" : `grain ${grain.toFixed(1)}°`);
  }
  else words.push("not mapped");
  if (p.edge >= 0) words.push(`edge ${p.edge} bend ${((doc.mesh.bend[p.edge]! * 180) / Math.PI).toFixed(0)}°${doc.layout.cut[p.edge] ? " seam" : ""}`);
  const label = labelOf(doc, face);
  if (label) words.push(`label ${label.word}: ${label.reads}`);
  if (doc.exposure) words.push(`exposure ${doc.exposure[face]!.toFixed(2)}`);
  $("readout").textContent = words.join("   ");
}

function pickFaces(faces: number[], e: { shiftKey: boolean; altKey: boolean }): void {
  picks.takeFaces(faces, e.altKey ? "without" : e.shiftKey ? "besides" : "instead");
  if (at.station === "Project") void startSetup().then(drawSetup);
}

function pick(p: Pointed | null, e: PointerEvent, screen: (corner: number) => [number, number]): void {
  if (!p) return;
  if (picksShells()) { void attempt(async () => clickShell(p, e)); return; }
  at.whole = false;
  if (picksPoints()) {
    const c = points.near(p.face, screen, p.x, p.y);
    if (doc.layout.facePart[p.face] !== at.part && !e.shiftKey) choose(doc.layout.facePart[p.face]!, p.face, false);
    at.face = p.face;
    if (c >= 0) points.click(c, e);
    return;
  }
  if (picksFaces()) {
    pickFaces([p.face], e);
    if (!e.shiftKey && !e.altKey && (at.station !== "Project" || doc.layout.facePart[p.face] !== at.part)) choose(doc.layout.facePart[p.face]!, p.face, false);
    at.face = p.face;
    return;
  }
  if (p.edge < 0) { choose(doc.layout.facePart[p.face]!, p.face, false); return; }
  at.face = p.face;
  if (chain.active) { void attempt(() => chain.click(p.edge, e)); return; }
  picks.click(p.edge, e);
}

export async function pickLoop(edge: number, how: { shiftKey: boolean; altKey: boolean }): Promise<void> {
  picks.takeRun(await doc.pickEdges("run", { edges: [edge] }), how);
}

export function attend(canvas: HTMLElement, under: (x: number, y: number) => Pointed | null, screen: (corner: number) => [number, number]): void {
  let down: [number, number] = [0, 0];
  let queued: PointerEvent | null = null;
  canvas.addEventListener("pointerdown", (e) => { down = [e.clientX, e.clientY]; });
  canvas.addEventListener("pointermove", (e) => {
    if (e.buttons !== 0) return;
    if (!queued) requestAnimationFrame(() => { const q = queued!; queued = null; point(under(q.offsetX, q.offsetY), screen); });
    queued = e;
  });
  canvas.addEventListener("pointerleave", () => point(null, screen));
  canvas.addEventListener("pointerup", (e) => {
    if (e.button !== 0 || Math.hypot(e.clientX - down[0], e.clientY - down[1]) > 4) return;
    at.tag = canvas.id === "piece-canvas" ? [e.offsetX, e.offsetY + 32] : [0, 0];
    const p = under(e.offsetX, e.offsetY);
    pick(p, e, screen);
    if (p) showToo(canvas.id, p.face);
  });
  canvas.addEventListener("dblclick", (e) => {
    const p = under(e.offsetX, e.offsetY);
    if (p && picksFaces()) pickFaces(facesOf(doc.layout.facePart[p.face]!), e);
    else if (p && picksShells()) { chooseShells([doc.layout.faceShell[p.face]!], "besides", p.face); chooseShells(shells.like("part"), "instead"); }
    else if (p && p.edge >= 0 && !chain.active) void attempt(() => pickLoop(p.edge, e));
    else if (p) choose(doc.layout.facePart[p.face]!, p.face, true);
  });
}

/** A region was drawn on empty ground. */
export function pickRegion(o: Outline, e: PointerEvent): void {
  const faces = views.piece.facesIn(o, at.seeThrough);
  if (picksFaces()) { pickFaces(faces, e); return; }
  if (picksShells()) { regionOnPiece(faces, e); return; }
  const within = new Set(faces), edges: number[] = [];
  doc.layout.cut.forEach((_, k) => {
    const [a, b] = [doc.edgeFaces[2 * k]!, doc.edgeFaces[2 * k + 1]!];
    if (within.has(a) && (b < 0 || within.has(b))) edges.push(k);
  });
  picks.take(edges, e.altKey ? "without" : e.shiftKey ? "besides" : "instead");
}
