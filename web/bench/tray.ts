// The tray of the station, the worklog, and what is chosen.
import { ask } from "./doc";
import { morph } from "./html";
import { offerTrueUp } from "../station/flow/offer";
import { startSetup } from "../station/project/setupview";
import { $, at, body, both, card, chain, dial, doc, join, live, points, setup, suggestions, trouble, views } from "./state";
import { drawGrain, drawPoints, drawSeams, drawSetup, drawShape } from "./views";

async function fragment(url: string, signal?: AbortSignal): Promise<string> { return (await ask(url, undefined, signal)).text(); }

const keyHelp: Record<string, string> = {
  Parts: "click a face · Shift adds · Alt takes away · double click: whole part · A takes apart · U unites · drag on empty ground frames, L freehand",
  Project: "click faces · double click: part · drag the knobs, Shift turns by 15°",
  Flow: "click a point · Shift adds · drag it, Alt without snapping · B edges, faces",
  Seams: "click an edge · Shift adds · Alt takes away · double click: loop, drag its ends · X chain to the pointer · B edges or faces",
  Sheet: "click a shell · drag it to move it · T quarter turn · O turn over · Esc lets go",
};

let running: AbortController | null = null;

/** Shows the tray of the station, as it was sent or asked for; one that is still on its way is given up. */
export async function loadTray(sent?: string): Promise<void> {
  running?.abort();
  const own = (running = new AbortController());
  try {
    const html = sent ?? await fragment(doc.at(`tray?station=${at.station}&part=${at.part}`), own.signal);
    if (own.signal.aborted) return;
    dial.drop();
    morph($("tray"), html);
    restoreFields();
    showChosen();
    $("keys").textContent = keyHelp[at.station] ?? "drag orbits · Shift drag pans · wheel zooms · Home frames";
    views.lines.brass("suggested", []);
    if (at.station === "Project") { await startSetup(); drawSetup(); return; }
    if (at.station === "Flow") { markFlowPicks(); drawPoints(); drawGrain(); void offerTrueUp(); return; }
    if (at.station !== "Seams") return;
    markSeamPicks();
    showOffer();
    await suggestions.load();
    if (own.signal.aborted) return;
    views.lines.brass("suggested", suggestions.edges());
  } catch (e) { if (!own.signal.aborted) trouble(e); }
}

/** Shows whether edges or faces are picked, and the tools for them. */
export function markSeamPicks(): void {
  for (const b of document.querySelectorAll<HTMLElement>("[data-seampick]")) b.setAttribute("aria-pressed", String((b.dataset.seampick === "faces") === at.seamFaces));
  for (const el of document.querySelectorAll<HTMLElement>("[data-for]")) el.hidden = (el.dataset.for === "faces") !== at.seamFaces;
  body.dataset.picking = at.seamFaces ? "faces" : "edges";
}

/** What the fields of a tray were set to stays when the tray is shown again. */
const kept = new Map<string, string>();
const fields = ["set-word", "set-grain", "set-degrees", "set-true", "set-tolerated", "set-within", "set-method", "set-where", "set-along", "set-reach", "set-limit", "set-angle", "set-above", "set-path"];
document.addEventListener("change", (e) => {
  const t = e.target as HTMLInputElement | HTMLSelectElement;
  if (fields.includes(t.id)) kept.set(t.id, t.value);
});
function restoreFields(): void {
  for (const [id, v] of kept) {
    const el = document.getElementById(id) as HTMLInputElement | HTMLSelectElement | null;
    if (el) el.value = v;
  }
}

/** Shows whether points or faces are picked at the Flow station, and the tools for them. */
export function markFlowPicks(): void {
  for (const b of document.querySelectorAll<HTMLElement>("[data-flowpick]")) b.setAttribute("aria-pressed", String(b.dataset.flowpick === at.flow));
  for (const el of document.querySelectorAll<HTMLElement>("[data-flowfor]")) el.hidden = el.dataset.flowfor !== at.flow;
  const snap = document.getElementById("flow-snap");
  snap?.setAttribute("aria-pressed", String(points.snap));
  document.getElementById("flow-sense")?.setAttribute("aria-pressed", String(at.sense));
  document.getElementById("flow-material")?.setAttribute("aria-pressed", String(at.material));
  body.dataset.flow = at.flow;
}

export function showOffer(): void {
  const el = document.getElementById("offer");
  if (!el) return;
  if (at.offer && at.offer.revision !== doc.meta.revision) at.offer = null; // something else was done since
  el.hidden = !at.offer;
  if (at.offer) el.textContent = `Do the same on ${at.offer.more} like it`;
}

/** Says how many parts are chosen, where they are several. */
function showChosen(): void {
  const el = document.querySelector<HTMLElement>("#tray .trayname .soft");
  if (el && at.parts.size > 1) el.textContent = `${doc.meta.parts[at.part]?.name ?? ""} and ${at.parts.size - 1} more chosen`;
  body.dataset.parts = String(at.parts.size);
}

export async function loadWorklog(sent?: string): Promise<void> { try { morph($("worklog"), sent ?? await fragment(doc.at("worklog"))); } catch (e) { trouble(e); } }

export function goTo(s: string): void {
  at.station = s;
  card.mark(at.station);
  if (s !== "Project") setup.drop();
  live.drop();
  if (s !== "Flow") points.clear();
  if (s !== "Seams") { chain.toggle(false); join.drop(); dial.drop(); at.seamFaces = false; }
  drawSeams();
  drawShape();
  drawSetup();
  drawGrain();
  both((v) => v.mark("whole", s === "Seams" ? doc.meta.whole : []));
  void loadTray();
}

/** Chooses a part instead of others, or adds it to them or takes it out of them; -1 for none. */
export function choose(part: number, face: number, frame: boolean, add = false): void {
  if (!add) at.parts.clear();
  if (add && at.parts.delete(part)) {
    at.part = [...at.parts].at(-1) ?? -1;
    at.face = at.part < 0 ? -1 : doc.layout.facePart.indexOf(at.part);
  } else {
    at.part = part;
    at.face = face;
    if (part >= 0) at.parts.add(part);
  }
  at.whole = false;
  both((v) => v.paint(at.show, at.parts));
  if (frame) views.piece.frame(part);
  drawShape();
  if (at.station !== "Project") drawSetup(); // the flag
  card.mark(at.station, at.part);
  void loadTray();
}
