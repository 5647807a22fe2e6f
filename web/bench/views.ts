// What the two views and the head show of the state: each of these subscribes to what it reads.
import { showSetup } from "../station/project/setupview";
import { html, show, type Markup } from "./html";
import { $, at, body, both, card, chain, doc, faceHidden, foretold, join, live, picks, points, setup, views } from "./state";
import { batch, effect } from "./store";
import { laid, markOwn, showClothes } from "./clothes";
import { draw as drawField, measured, showField } from "./field";
import { closeForm, tried } from "./forms";
import { showPainted } from "./painted";
import { me } from "./worklog";
import { grainLines } from "./view/grain";
import { labelLines } from "./view/labels";
import { shapeLines } from "./view/overlay";
import type { Show } from "./view/scene";

/** Begins to keep the views in line with the state. */
export function watchState(): void {
  for (const draw of [paint, drawPicks, drawChain, drawGhosts, drawPoints, drawGrain, drawSetup, drawShape, drawSeams, sayAside, markWhole, markCard, sayFigures, markShow, markCloth, standUp]) effect(draw);
}

function paint(): void {
  void [doc.meta, at.worn];
  both((v) => v.paint(at.show, at.parts));
  body.dataset.parts = String(at.parts.size);
}

function markWhole(): void {
  const whole = at.station === "Seams" ? doc.meta.whole : [];
  both((v) => v.mark("whole", whole));
}

function markCard(): void {
  void [doc.meta, at.parts]; // there are other rows; what is chosen is to be watched before there are any
  card.mark(at.station);
}

function drawPicks(): void {
  picks.watch();
  void doc.meta;
  views.lines.picks(picks.edges);
  both((v) => v.mark("picked", picks.faces));
  body.dataset.picked = String(picks.edges.size);
  body.dataset.faces = String(picks.faces.size);
  body.dataset.run = picks.run ? `${picks.run.from} ${picks.run.to} ${picks.run.edges.length}` : "";
  const words = picks.words();
  placeTag(words);
  if (words || /^picked /.test($("readout").textContent!)) $("readout").textContent = words ? `picked ${words}` : "nothing is picked";
}

/** What is picked, beside the place that was clicked, within the view. */
function placeTag(words: string): void {
  const t = $("tag");
  t.hidden = !words || !at.tag[0];
  if (t.hidden) return;
  t.textContent = words;
  t.style.left = `${Math.max(0, Math.min(at.tag[0], $("piece").clientWidth - t.offsetWidth - 18))}px`;
  t.style.top = `${at.tag[1]}px`;
}

function drawChain(): void {
  chain.watch();
  views.lines.brass("path", chain.path, true);
  body.dataset.path = String(chain.path.length);
  body.dataset.chain = chain.waiting ? "seeking" : chain.active ? "known" : "";
  if (chain.active) $("readout").textContent = chain.words();
}

/** What an edit that is shown would take away and add. */
function drawGhosts(): void {
  for (const w of [foretold, join, live, setup]) w.watch();
  const cuts = setup.ghost ?? live.ghost ?? foretold.ghost;
  views.lines.brass("gone", cuts?.let_go ?? cuts?.closed ?? [], true);
  views.lines.brass("new", cuts?.opened ?? [], true);
  const shown = join.ghost ?? setup.ghost ?? live.ghost;
  if (shown?.uv) views.sheet.reveal(shown.uv, true);
  else views.sheet.lookBack();
  body.dataset.ghost = join.active ? "join" : live.active ? "live" : setup.active ? "project" : "";
  body.dataset.foretold = foretold.words ? "yes" : "";
  if (foretold.words) show($("readout"), foretold.words);
  views.sheet.touch();
}

let shownRow = "";

/** A loop or a seam that is spoken of, lit in both views. */
export function showRow(edges: number[]): void {
  if (chain.active || String(edges) === shownRow) return;
  shownRow = String(edges);
  views.lines.brass("path", edges, true);
}

/** Points that are picked, and where a dragged one would go. */
export function drawPoints(): void {
  points.watch();
  body.dataset.points = String(points.picked.size);
  body.dataset.hotpoint = String(points.hot);
  views.sheet.touchOver();
}

/** Strokes of the grain at the Flow station: of the chosen part, faint of all others. */
export function drawGrain(): void {
  const here = at.station === "Flow", chosen = at.part, kind = views.cloths.whole.kind;
  void at.worn;
  const f = views.piece.faces;
  const error = at.show === "grain"; // strokes are the longer the worse it is
  f.setSegments("grainall", new Float32Array(error ? grainLines(doc, (p) => !at.hidden.has(p), (g) => Math.min(1, doc.layout.grain[g]! / 10)) : here && at.show !== "cloth" ? grainLines(doc, (p) => p !== chosen && !at.hidden.has(p)) : []), { color: error ? "#1F2A33" : "#3F5873", width: 1, opacity: error ? 0.9 : 0.5 });
  f.setSegments("grain", new Float32Array(here && !error && at.show !== "cloth" ? grainLines(doc, (p) => p === chosen) : []), { color: "#A87B1E", width: 2.4, order: 5 });
  views.piece.stroke = here && at.drawing ? views.onStroke : null;
  const el = document.getElementById("grain-words");
  const part = doc.meta.parts[chosen];
  if (el) el.textContent = part?.grain ?? "";
  const labels = here || at.show === "cloth" ? doc.meta.labels.filter((l) => !faceHidden(l.faces[0]!)).flatMap((l) => labelLines(doc, l, at.show !== "cloth" || kind !== "words")) : [];
  f.setSegments("labels", new Float32Array(labels), { color: "#A87B1E", width: 2, order: 5 });
  views.piece.touch();
}

/** What a projection that is set up looks like in both views. */
export function drawSetup(): void {
  setup.watch();
  void [doc.meta, at.show, at.part, at.hidden];
  showSetup();
}

/** Draws the fitted shape of the chosen part over the piece. */
function drawShape(): void {
  const p = doc.meta.parts[at.part];
  const shape = p && at.station === "Parts" && !at.hidden.has(at.part) ? shapeLines(doc, at.part, p.shape, p.fit) : [];
  views.piece.faces.setSegments("shape", new Float32Array(shape), { color: "#A87B1E", width: 2, order: 6, through: true });
  $("piece-note").textContent = p ? `${p.name} · ${p.shape}, off by ${p.error}` : "";
  views.piece.touch();
}

/** Says that parts are set aside, which leads back. */
function sayAside(): void {
  const what = [[at.hidden.size, "part"], [at.aside.size, "face"]] as const, el = $("aside-note");
  el.hidden = what.every(([n]) => n === 0);
  el.textContent = `${what.filter(([n]) => n).map(([n, one]) => `${n} ${one}${n === 1 ? "" : "s"}`).join(", ")} set aside · show all`;
}

function drawSeams(): void {
  drawField();
  views.lines.seams(at.station === "Seams", [at.hidden, at.aside]);
  views.lines.held(at.station === "Seams" ? doc.meta.held : []);
}

/** Takes parts out of both views, and single faces besides. */
export function hideParts(parts: ReadonlySet<number>, faces: ReadonlySet<number> = new Set()): void {
  batch(() => {
    at.hidden = parts;
    at.aside = faces;
    views.piece.hide(faceHidden);
    views.sheet.hide(faceHidden);
  });
  body.dataset.hidden = String(parts.size);
  body.dataset.aside = String(faces.size);
}

let lay: Float32Array | null = null; // where everything lay before

/** Zooms out to shells that were put somewhere out of view, on the rack most of all. */
function revealMoved(): void {
  const uv = doc.layout.uv, moved: number[] = [];
  if (lay && lay.length === uv.length) for (let i = 0; i < uv.length; i += 2) if ((lay[i] !== uv[i] || lay[i + 1] !== uv[i + 1]) && doc.layout.mapped[doc.cornerFace[i / 2]!]) moved.push(uv[i]!, uv[i + 1]!);
  lay = uv.slice();
  if (moved.length && moved.length < uv.length / 2) views.sheet.reveal(moved);
}

/** Brings in line with a new revision what is not watched: what was chosen, begun or picked before. */
export function takeRevision(): void {
  const parts = doc.meta.parts.length, there = (set: ReadonlySet<number>): ReadonlySet<number> => new Set([...set].filter((p) => p < parts));
  picks.within(doc.mesh.bend.length);
  at.parts = there(at.parts); // parts may have other numbers now
  at.hidden = there(at.hidden);
  if (at.part >= parts) at.part = -1;
  foretold.drop();
  if (join.active) join.drop();
  live.drop();
  if (tried()) closeForm();
  setup.drop();
  points.clear();
  if (at.hidden.size + at.aside.size) views.piece.hide(faceHidden); else views.piece.refresh();
  views.sheet.update();
  views.cloths.refresh();
  revealMoved();
  at.hot = at.hovered = -1;
}

/** The figures in the head and above the sheet. */
function sayFigures(): void {
  const m = doc.meta;
  $("part-count").textContent = String(m.parts.length);
  $("part-word").textContent = m.parts.length === 1 ? "part" : "parts";
  $("undo-name").textContent = m.last_edit ? `${m.last_edit}${m.last_who && m.last_who !== me() ? ` · ${m.last_who}` : ""}` : "nothing to undo";
  $("redo-name").textContent = m.next_edit;
  $<HTMLButtonElement>("undo").disabled = !m.last_edit;
  $<HTMLButtonElement>("redo").disabled = !m.next_edit;
  $("worklog-count").textContent = String(m.head);
  $("saved").textContent = `saved ${m.saved}`;
  $("sheet-note").textContent = m.shells.length ? `${m.shells.length} shells · ${m.density.toFixed(0)} px/${m.unit} · ${m.maps.find((x) => x.id === m.map)!.purpose === "tiling" ? "tiling" : `fill ${(100 * m.coverage).toFixed(0)} %`} · ${m.settings.sheet.wide ? `${2 * m.size} × ` : ""}${m.size} px` : "nothing is mapped yet";
  body.dataset.revision = String(m.revision);
  body.dataset.shells = String(m.shells.length);
}

const legends: Partial<Record<Show, Markup>> = {
  stretch: html`<i class="angles"></i><div><span>×1 true</span><span>stretch</span><span>×1.5</span></div>`,
  area: html`<i class="stretch"></i><div><span>×0.67 area</span><span>1</span><span>×1.5</span></div>`,
  density: html`<i class="stretch"></i><div><span>×0.67 as sharp</span><span>the mean</span><span>×1.5</span></div>`,
  grain: html`<i class="grain"></i><div><span>0° along the grain</span><span>10° off</span></div>`,
  cloth: html`<div id="cloth" class="grid!"></div>`,
  painted: html`<div id="painted" class="block!"></div>`,
  exposure: html`<i class="exposure"></i><div><span>0 hidden</span><span>exposure</span><span>1 in view</span></div>`,
};

/** Says what is shown on model and sheet, and what its colours mean. */
function markShow(): void {
  for (const o of document.querySelectorAll<HTMLElement>("[data-show]")) o.setAttribute("aria-pressed", String(o.dataset.show === at.show));
  $<HTMLSelectElement>("show-as").value = at.show;
  const l = $("legend");
  l.hidden = !legends[at.show];
  show(l, html`${legends[at.show] ?? ""}${measured.includes(at.show) ? html`<div id="worst" class="block!" hidden></div>` : ""}`);
  showClothes();
  markCloth();
  showPainted();
  showField();
}

/** Shows something on model and sheet. */
export async function showAs(what: Show): Promise<void> {
  if (what === "exposure" && !doc.exposure) await doc.look();
  if (what === at.show) paint(); // it may be another exposure
  at.show = what;
}

/** Which pattern is on the cloth. */
function markCloth(): void {
  void at.worn;
  for (const b of document.querySelectorAll<HTMLElement>("[data-cloth]")) b.setAttribute("aria-pressed", String(b.dataset.cloth === laid().kind));
  markOwn();
  body.dataset.pattern = at.show === "cloth" ? laid().kind : "";
}

/** The model stands as the document says. */
function standUp(): void { views.piece.stand(doc.meta.settings.up); }
