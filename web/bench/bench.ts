// The bench: ties the views, the route card, the trays and the keys together.
import { flow, grained } from "../station/flow/tray";
import { parts } from "../station/parts/tray";
import { ProjectionFrame } from "../station/project/frame";
import { project } from "../station/project/tray";
import { proof } from "../station/proof/tray";
import { drawGhost } from "../station/seams/join";
import { seams } from "../station/seams/tray";
import { gripShell, regionOnSheet } from "../station/sheet/choose";
import { chosenOnCard, drawChosen, sheet, watchShells, writeNumbers } from "../station/sheet/tray";
import type { Answer } from "../wire/wire";
import { chosenIn, value } from "./chosen";
import { listenFields } from "./fields";
import { watchFitting } from "./fitting";
import { listenFirst } from "./first";
import { listenFloor } from "./floor";
import { listenForms, showForm } from "./forms";
import { listenFragments, reload, whenShown } from "./fragments";
import { listenHelping } from "./helping";
import { show } from "./html";
import { dress, listenClothes } from "./clothes";
import { listenDeliver } from "./deliver";
import { drawValues, listenField } from "./field";
import { listenKeys } from "./keys";
import { picksFaces, picksPoints, picksShells } from "./kinds";
import { listenMaps, showMaps } from "./maps";
import { listenPainted, takePainted } from "./painted";
import { listenPalette, openPalette } from "./palette";
import { listenSeal, showSeal } from "./seal";
import { attend, pickRegion } from "./pointing";
import { $, at, attempt, body, card, doc, faceHidden, foretold, join, live, picks, points, setup, trouble, views } from "./state";
import { everywhere, inside } from "./common";
import { common, stations } from "./station";
import { batch, effect } from "./store";
import { choose, goTo, loadTray } from "./tray";
import { listenWorklog, loadWorklog } from "./worklog";
import { listenOthers } from "./others";
import { byName } from "./verbs";
import type { Cloth } from "./view/cloth";
import { Handles } from "./view/handles";
import { Hover } from "./view/hover";
import { labelBox, writeInto } from "./view/labels";
import { Laid } from "./view/laid";
import { Lines, verdigris } from "./view/lines";
import { Piece } from "./view/piece";
import type { Show } from "./view/scene";
import { Sheet } from "./view/sheet";
import { Touched } from "./view/touched";
import { drawRings } from "./view/rings";
import { drawTwins } from "./view/twins";
import { sendFile } from "./doc";
import { showAs, showRow, takeRevision, watchState } from "./views";
import { watch } from "./work";

Object.assign(stations, { Parts: parts, Project: project, Seams: seams, Flow: flow, Sheet: sheet, Proof: proof });
Object.assign(common, { verbs: everywhere, inner: inside });

/** What an event does at a station, found by an attribute of what it happened to. */
function clicked(t: HTMLElement): boolean {
  for (const s of Object.values(stations)) for (const [name, act] of Object.entries(s.clicks ?? {})) {
    const el = t.closest<HTMLElement>(`[data-${name}]`);
    if (el) { act(el.dataset[name]!, el); return true; }
  }
  return false;
}

/** Takes over what a practice file says. */
async function adopt(input: HTMLInputElement): Promise<void> {
  const file = input.files?.[0];
  if (!file) return;
  input.value = "";
  await doc.edit("adopt-practice", { practice: (await sendFile("/practice", file).then((r) => r.json())) as unknown });
}

function listen(): void {
  document.addEventListener("click", (e) => {
    if (e.target instanceof HTMLDialogElement) { e.target.close(); return; } // a click beside it
    const t = e.target as HTMLElement, said = (name: string): string | undefined => t.closest<HTMLElement>(`[data-${name}]`)?.dataset[name];
    const act = said("do");
    if (act) { void attempt(() => byName(act)); return; }
    const pattern = said("cloth");
    if (pattern) { void attempt(async () => dress(pattern as Cloth)); return; }
    const fold = said("fold");
    if (fold !== undefined) { card.fold(fold); return; }
    if (clicked(t)) return;
    const row = t.closest<HTMLElement>(".card tbody tr"), st = said("station");
    if (row) { choose(Number(row.dataset.part), Number(row.dataset.face), !e.shiftKey, e.shiftKey); at.whole = true; if (at.station === "Sheet") chosenOnCard(); }
    if (st) goTo(st);
  });
  for (const kind of ["pointerover", "focusin"] as const) document.addEventListener(kind, (e) => {
    const i = (e.target as HTMLElement).closest<HTMLElement>("[data-row]")?.dataset.row;
    showRow(i === undefined ? [] : live.ghost?.rows?.[Number(i)]?.edges ?? []);
  });
  for (const kind of ["input", "change"] as const) document.addEventListener(kind, (e) => {
    const t = e.target as HTMLInputElement;
    for (const s of Object.values(stations)) (kind === "input" ? s.inputs : s.changes)?.[t.id]?.(t);
    if (kind === "change" && (t.id === "set-unit" || t.id === "set-up")) void attempt(() => doc.edit("settings", { settings: { ...doc.meta.settings, unit: chosenIn("set-unit"), up: chosenIn("set-up") } }));
  });
  effect(() => $("through").setAttribute("aria-pressed", String(at.seeThrough)));
  $("banner-close").onclick = () => { $("banner").hidden = true; };
  $("rack-note").onclick = () => views.sheet.frameRack();
  $("fit").onclick = () => { views.piece.frame(-1); views.sheet.frame(); };
  $("filter").oninput = $("card-state").onchange = $("card-sort").onchange = () => card.filter();
  $("card").addEventListener("keydown", (e) => { if (e.key.startsWith("Arrow") && card.arrow(e.target as HTMLElement, e.key)) { e.preventDefault(); e.stopPropagation(); } });
  $("card").addEventListener("contextmenu", (e) => { // what can be done there
    const row = (e.target as HTMLElement).closest<HTMLElement>("tbody tr"), cell = (e.target as HTMLElement).closest<HTMLElement>("[data-station]");
    if (!row) return;
    e.preventDefault();
    if (!at.parts.has(Number(row.dataset.part))) { choose(Number(row.dataset.part), Number(row.dataset.face), true); at.whole = true; }
    if (cell) goTo(cell.dataset.station!);
    openPalette();
  });
  for (const b of document.querySelectorAll<HTMLButtonElement>("[data-show]")) b.onclick = () => void attempt(() => showAs(b.dataset.show as Show));
  for (const listen of [listenFields, listenForms, listenKeys, listenPalette, listenHelping]) listen();
  $("show-as").onchange = (e) => void attempt(() => showAs((e.target as HTMLSelectElement).value as Show));
  listenDeliver();
  $("practice-file").onchange = (e) => void attempt(() => adopt(e.target as HTMLInputElement));
  listenPainted();
  listenClothes();
  listenField();
  listenSeal();
  listenMaps();
  listenWorklog();
  whenShown("card", () => { if (card.came()) reload($("card")); card.mark(at.station); });
  listenFloor();
}

/** Shows a new revision, by what was sent along with it or by asking for it. */
function refresh(sent: Answer | null = null, first = false): void {
  takeRevision();
  showMaps();
  showSeal();
  takePainted();
  if (first ? card.first(doc.meta.revision) : !sent?.card) reload($("card"));
  else if (sent?.card) card.take(sent.card);
  loadTray(sent?.tray);
  if (!$("worklog").hidden) loadWorklog(sent?.worklog);
}

async function start(): Promise<void> {
  await Promise.all([doc.load(), document.fonts.load("600 44px 'Barlow Condensed'")]);
  views.cloths = new Laid(doc);
  views.piece = new Piece($<HTMLCanvasElement>("piece-canvas"), document.querySelector<SVGSVGElement>("#piece-over")!, doc, views.cloths);
  views.piece.onRegion = pickRegion;
  views.sheet = new Sheet($<HTMLCanvasElement>("sheet-canvas"), $<HTMLCanvasElement>("sheet-over"), document.querySelector<SVGSVGElement>("#sheet-hover")!, doc, views.cloths);
  views.sheet.frames = picksShells;
  views.sheet.onRegion = regionOnSheet;
  views.lines = new Lines(doc, views.piece, views.sheet, faceHidden, views.piece.size);
  views.sheet.overlays.push((g, screen) => {
    const shell = at.face >= 0 ? doc.layout.faceShell[at.face]! : -1;
    if (!picksFaces()) {
      drawTwins(g, doc, picks.edges, shell, screen, verdigris);
      if (at.hot >= 0 && !picks.edges.has(at.hot)) drawTwins(g, doc, [at.hot], at.hovered >= 0 ? doc.layout.faceShell[at.hovered]! : -1, screen, verdigris);
    }
    const ghost = join.ghost ?? setup.ghost ?? live.ghost ?? points.ghost ?? foretold.ghost;
    if (ghost) drawGhost(g, doc, ghost, screen, verdigris);
    drawValues(g, screen);
    drawRings(g, doc, picks.faces, screen, verdigris);
    points.draw(g, views.sheet, picksPoints());
    drawChosen(g);
    if (at.station === "Flow" && at.show !== "cloth") for (const l of doc.meta.labels) {
      const b = labelBox(doc, l);
      if (!b) continue;
      const [x0, y1] = screen(b.u - b.width / 2, b.v - b.height / 2), [x1, y0] = screen(b.u + b.width / 2, b.v + b.height / 2);
      g.fillStyle = l.reads === "reads upright" ? "#1F2A33" : "#A8323E";
      writeInto(g, l.word, (x0 + x1) / 2, (y0 + y1) / 2, x1 - x0, y1 - y0);
    }
  });
  points.reach = () => value("set-falloff");
  points.onDrop = (corners, shift, reach) => attempt(() => doc.edit("nudge", { corners, shift, reach }));
  views.sheet.grab = (p, e) => {
    if (picksShells()) return gripShell(p, e, writeNumbers);
    if (!picksPoints() || !p) return null;
    const c = points.near(p.face, (k) => views.sheet.screenOf(k), p.x, p.y, 9);
    if (c < 0) return null;
    let begun = false;
    return {
      move: (du, dv, pixel, f) => { if (!begun) { begun = true; points.begin(c); } points.move(du, dv, pixel, f.altKey); },
      end: () => { if (begun) void points.end(); },
    };
  };
  views.onStroke = (from, to) => void attempt(() => doc.edit("grain", { ...grained(), of: "toward", ...(at.sense ? { sense: true } : {}), direction: { X: to.x - from.x, Y: to.y - from.y, Z: to.z - from.z } }));
  views.piece.onStroke = (line) => {
    const el = document.querySelector<SVGLineElement>("#piece-over .stroke")!;
    el.toggleAttribute("hidden", !line);
    line?.forEach((v, i) => el.setAttribute(["x1", "y1", "x2", "y2"][i]!, String(v)));
  };
  setup.say = (what) => { const el = document.getElementById("setup-lead"); if (el) show(el, what); };
  views.frame = new ProjectionFrame($("piece"), $("piece-canvas"), doc, views.piece, setup);
  doc.onWork = watch;
  views.handles.push(new Handles($("piece"), $("piece-canvas"), (_, p) => views.piece.spot(p), picks), new Handles($("sheet"), $("sheet-canvas"), (e, p) => views.sheet.spot(e, p), picks));
  attend($("piece-canvas"), (x, y) => views.piece.at(x, y), (c) => views.piece.screen(c));
  attend($("sheet-canvas"), (x, y) => views.sheet.at(x, y), (c) => views.sheet.screenOf(c));
  listen();
  listenFragments();
  watchState();
  watchShells();
  watchFitting();
  effect(showForm);
  batch(() => refresh(null, true));
  card.mark(at.station);
  doc.onChange((sent) => refresh(sent));
  doc.shown = () => ({ station: at.station, part: at.part, worklog: !$("worklog").hidden });
  const overs = [
    new Hover(document.querySelector("#piece-over")!, doc, (c) => views.piece.screen(c), () => views.piece.drawn),
    new Hover(document.querySelector("#sheet-hover")!, doc, (c) => views.sheet.screenOf(c), () => views.sheet.drawn),
  ];
  let awake = 0, asleep = true;
  const frame = (): void => {
    views.piece.draw();
    views.sheet.draw();
    body.dataset.drawn = String(views.piece.drawn + views.sheet.drawn);
    for (const h of views.handles) h.update();
    views.frame.update(at.station === "Project");
    for (const h of overs) h.update(at.hovered, at.hot);
    if (performance.now() < awake) requestAnimationFrame(frame); else asleep = true;
  };
  const wake = (): void => { // pictures are drawn while something goes on: a page that is left alone costs nothing
    awake = performance.now() + 400;
    if (asleep) { asleep = false; requestAnimationFrame(frame); }
  };
  Touched.onTouch = wake;
  for (const kind of ["pointermove", "pointerdown", "pointerup", "keydown", "keyup", "wheel", "resize"]) addEventListener(kind, wake, { passive: true, capture: true });
  effect(() => { void [at.hovered, at.hot, at.station, at.drawing, doc.meta]; wake(); });
  wake();
  listenOthers();
  listenFirst();
  body.dataset.ready = "yes";
  if (Number(body.dataset.work)) void attempt(async () => { await watch(Number(body.dataset.work)); await doc.renew(); });
}

start().catch(trouble);
