// The bench: ties the views, the route card, the trays and the keys together.
import htmx from "htmx.org";
import { ProofCloth, type Cloth } from "./view/cloth";
import { labelBox, writeInto } from "./view/labels";
import { partFigures, seamFigures } from "./dial";
import { ProjectionFrame } from "../station/project/frame";
import { Handles } from "./view/handles";
import { Hover } from "./view/hover";
import { show } from "./html";
import { drawGhost } from "../station/seams/join";
import { Lines, verdigris } from "./view/lines";
import { Piece } from "./view/piece";
import { mendFinding, showFinding } from "../station/proof/findings";
import { attend, pickRegion, picksFaces, picksPoints } from "./pointing";
import type { Show } from "./view/scene";
import { Sheet } from "./view/sheet";
import { ups } from "../station/project/setupview";
import { $, at, attempt, body, card, chain, dial, doc, join, live, picks, points, setup, trouble, views } from "./state";
import { choose, goTo, loadTray, loadWorklog } from "./tray";
import type { Answer } from "../wire/wire";
import { drawTwins } from "./view/twins";
import { detailed, edgesByVerb, facesByVerb, foretold, grained, keys, onePart, setSeamPicks, stationKeys, value, verbs } from "./verbs";
import { drawChain, drawGhosts, drawPicks, drawPoints, drawSetup, refreshViews, showAs, showRow, showCloth } from "./views";
import { listenMaps, showDeliveries, showMaps } from "./maps";
import { watch } from "./work";

function listen(): void {
  document.addEventListener("click", (e) => {
    const t = e.target as HTMLElement;
    const act = t.closest<HTMLElement>("[data-do]")?.dataset.do;
    if (act) { void attempt(verbs[act]!); return; }
    const pattern = t.closest<HTMLElement>("[data-cloth]")?.dataset.cloth;
    if (pattern) { showCloth(pattern as Cloth); return; }
    const fold = t.closest<HTMLElement>("[data-fold]")?.dataset.fold;
    if (fold !== undefined) { card.fold(fold); return; }
    const edges = t.closest<HTMLElement>("[data-edgepick]")?.dataset.edgepick;
    if (edges) { void attempt(() => edgesByVerb(edges, edges === "above" ? value("set-above") : 0)); return; }
    const shape = t.closest<HTMLElement>("[data-shape]")?.dataset.shape;
    if (shape) { void attempt(() => doc.edit("set-shape", { part: onePart(), shape })); return; }
    const kind = t.closest<HTMLElement>("[data-kind]")?.dataset.kind;
    if (kind) { setup.choose(kind); return; }
    const verb = t.closest<HTMLElement>("[data-pick]")?.dataset.pick;
    if (verb) { void attempt(() => facesByVerb(verb)); return; }
    const row = t.closest<HTMLElement>(".card tbody tr");
    const st = t.closest<HTMLElement>("[data-station]")?.dataset.station;
    if (row) { choose(Number(row.dataset.part), Number(row.dataset.face), !e.shiftKey, e.shiftKey); at.whole = true; if (st) goTo(st); } else if (st) goTo(st);
    const mend = t.closest<HTMLElement>("[data-mend]")?.dataset.mend;
    if (mend !== undefined) { void attempt(() => mendFinding(Number(mend))); return; }
    const finding = t.closest<HTMLElement>("[data-finding]");
    if (finding) {
      const list = finding.dataset.finding!.split(" ").map(Number);
      showFinding(list[(list.indexOf(at.finding) + 1) % list.length]!);
    }
  });
  for (const kind of ["pointerover", "focusin"] as const) document.addEventListener(kind, (e) => {
    const i = (e.target as HTMLElement).closest<HTMLElement>("[data-row]")?.dataset.row;
    showRow(i === undefined ? [] : live.ghost?.rows?.[Number(i)]?.edges ?? []);
  });
  const foretell = (e: Event): HTMLElement | null => (e.target as HTMLElement).closest<HTMLElement>("[data-foretell]");
  for (const kind of ["mouseover", "focusin"] as const) document.addEventListener(kind, (e) => {
    const b = foretell(e);
    if (b && !b.contains((e as MouseEvent).relatedTarget as Node | null)) void attempt(async () => dial.turn(b.dataset.foretell!, foretold[b.dataset.foretell!]!(), partFigures, $("detail-figures")));
  });
  for (const kind of ["mouseout", "focusout"] as const) document.addEventListener(kind, (e) => {
    const b = foretell(e);
    if (b && !b.contains((e as MouseEvent).relatedTarget as Node | null)) { dial.drop(); $("detail-figures").textContent = ""; }
  });
  document.addEventListener("keydown", (e) => {
    if (e.target instanceof HTMLInputElement || e.target instanceof HTMLSelectElement) return;
    if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === "z") { e.preventDefault(); void attempt(() => (e.shiftKey ? doc.redo() : doc.undo())); return; }
    if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === "y") { e.preventDefault(); void attempt(() => doc.redo()); return; }
    if (e.ctrlKey || e.metaKey || e.altKey) return;
    if (e.key === "Home") { views.piece.frame(at.part); views.sheet.frame(); }
    if (e.key === "l" || e.key === "L") { views.piece.freehand = true; return; }
    if (e.key === "f" && picksFaces()) { void attempt(() => facesByVerb("crease")); return; }
    if (join.active && (e.key === "Enter" || e.key === "m")) { e.preventDefault(); void attempt(verbs[e.key === "m" ? "swap" : "join-take"]!); return; }
    if (live.active && (e.key === "Enter" || e.key === "s")) { e.preventDefault(); void attempt(verbs[e.key === "s" ? "live-stop" : "live-take"]!); return; }
    if (setup.active && e.key === "Enter" && at.station === "Project") { e.preventDefault(); void attempt(verbs.lay!); return; }
    const verb = stationKeys[at.station]?.[e.key] ?? keys[e.key];
    if (verb && stationOf[verb] && !stationOf[verb]!.includes(at.station)) return;
    if (verb) void attempt(verbs[verb]!);
  });
  document.addEventListener("input", (e) => {
    const t = e.target as HTMLInputElement;
    if (t.id.startsWith("set-") && at.station === "Project") setField(t.id, t.value);
    if (t.id === "set-dial") dial.turn("dial", { dial: Number(t.value) }, seamFigures, $("dial-figures"));
    if (t.id === "set-detail") dial.turn("detail", detailed(), partFigures, $("detail-figures"));
  });
  document.addEventListener("keyup", (e) => { if (e.key === "l" || e.key === "L") views.piece.freehand = false; });
  document.addEventListener("change", (e) => {
    const id = (e.target as HTMLElement).id;
    if (id === "set-axis") void attempt(async () => setup.axis($<HTMLSelectElement>("set-axis").value, picks.faces.size ? setup.normal([...picks.faces].slice(-1)) : null, eye()));
    if (id === "set-unit" || id === "set-up") void attempt(() => doc.edit("settings", { settings: { ...doc.meta.settings, unit: $<HTMLSelectElement>("set-unit").value, up: $<HTMLSelectElement>("set-up").value } }));
    if (id === "set-upward") setup.change({ up: ups[$<HTMLSelectElement>("set-upward").value]! });
    if (id === "set-weight") void attempt(() => doc.edit("weigh", { parts: [...at.parts], weight: value("set-weight") }));
    if (id === "set-path") chain.shortest = $<HTMLSelectElement>("set-path").value === "shortest";
    if (id === "set-picks") {
      const set = doc.meta.picks.find((p) => p.name === $<HTMLSelectElement>("set-picks").value);
      if (set) { picks.take(set.edges, "instead", set.name); setSeamPicks(false); $<HTMLInputElement>("set-pickname").value = set.name; }
    }
    if (id === "set-name") void attempt(() => doc.edit("rename", { part: onePart(), name: $<HTMLInputElement>("set-name").value }));
  });
  $("through").onclick = (e) => {
    at.seeThrough = !at.seeThrough;
    (e.currentTarget as HTMLElement).setAttribute("aria-pressed", String(at.seeThrough));
  };
  $("undo").onclick = () => void attempt(() => doc.undo());
  $("redo").onclick = () => void attempt(() => doc.redo());
  $("banner-close").onclick = () => { $("banner").hidden = true; };
  $("fit").onclick = () => { views.piece.frame(-1); views.sheet.frame(); };
  $("filter").oninput = () => card.filter();
  $("worklog-open").onclick = (e) => {
    const open = $("worklog").hidden;
    $("worklog").hidden = !open;
    (e.currentTarget as HTMLElement).setAttribute("aria-expanded", String(open));
    if (open) void loadWorklog();
  };
  for (const b of document.querySelectorAll<HTMLButtonElement>("[data-show]")) b.onclick = () => void attempt(() => showAs(b.dataset.show as Show));
  $("template-size").onchange = showDeliveries;
  listenMaps();
  document.body.addEventListener("htmx:after:swap", () => card.mark(at.station));
  listenDivider();
}

/** Keys that only mean something at some stations. */
const stationOf: Record<string, string[]> = { watch: ["Flow"], relax: ["Flow"], pin: ["Flow"], "true-up": ["Flow"], "turn-on": ["Flow", "Sheet"], "turn-back": ["Flow", "Sheet"] };

const eye = (): { X: number; Y: number; Z: number } => { const d = views.piece.toEye; return { X: d.x, Y: d.y, Z: d.z }; };

/** A number of the projection that is set up was written. */
function setField(id: string, text: string): void {
  const x = Number(text), c = setup.current;
  if (!c || text === "" || !Number.isFinite(x)) return;
  if (id === "set-width") setup.resize("width", x);
  if (id === "set-height") setup.resize("height", x);
  if (id === "set-turn") setup.change({ turn_deg: x });
  const part = ({ "set-cx": "X", "set-cy": "Y", "set-cz": "Z" } as const)[id as "set-cx"];
  if (part) setup.change({ origin: { ...c.origin, [part]: x } });
}

function listenDivider(): void {
  const d = $("divider"), floor = document.querySelector<HTMLElement>(".floor")!;
  const set = (px: number): void => { floor.style.setProperty("--split", `${px}px`); d.setAttribute("aria-valuenow", String(Math.round((100 * px) / (innerWidth - 325)))); localStorage.setItem("split", String(px)); };
  const saved = Number(localStorage.getItem("split"));
  if (saved > 160 && saved < innerWidth - 520) set(saved);
  d.onpointerdown = (e) => d.setPointerCapture(e.pointerId);
  d.onpointermove = (e) => { if (e.buttons) set(Math.max(160, Math.min(innerWidth - 490, e.clientX - 320))); };
  d.onkeydown = (e) => { const k = { ArrowLeft: -20, ArrowRight: 20 }[e.key]; if (k) set(Math.max(160, $("piece").clientWidth + k)); };
}

/** Shows a new revision, by what was sent along with it or by asking for it. */
function refresh(sent: Answer | null = null): void {
  refreshViews();
  showMaps();
  if (sent?.card) { card.take(sent.card); card.mark(at.station); } else htmx.trigger(body, "changed", {});
  void loadTray(sent?.tray);
  if (!$("worklog").hidden) void loadWorklog(sent?.worklog);
}

async function start(): Promise<void> {
  await Promise.all([doc.load(), document.fonts.load("600 44px 'Barlow Condensed'")]);
  views.cloth = new ProofCloth(doc);
  const cloth = views.cloth.texture;
  views.piece = new Piece($<HTMLCanvasElement>("piece-canvas"), document.querySelector<SVGSVGElement>("#piece-over")!, doc, cloth);
  views.piece.onRegion = pickRegion;
  views.sheet = new Sheet($<HTMLCanvasElement>("sheet-canvas"), $<HTMLCanvasElement>("sheet-over"), doc, cloth);
  views.sheet.movable = () => at.station === "Sheet";
  views.sheet.onMove = (face, dx, dy) => void attempt(() => doc.edit("move", { faces: [face], shift: { X: dx, Y: dy } })).then(() => views.sheet.update());
  views.lines = new Lines(doc, views.piece, views.sheet, (p) => at.hidden.has(p), views.piece.size);
  views.sheet.overlays.push((g, screen) => {
    const shell = at.face >= 0 ? doc.layout.faceShell[at.face]! : -1;
    if (!picksFaces()) {
      drawTwins(g, doc, picks.edges, shell, screen, verdigris);
      if (at.hot >= 0 && !picks.edges.has(at.hot)) drawTwins(g, doc, [at.hot], at.hovered >= 0 ? doc.layout.faceShell[at.hovered]! : -1, screen, verdigris);
    }
    const ghost = join.ghost ?? setup.ghost ?? live.ghost ?? points.ghost;
    if (ghost) drawGhost(g, doc, ghost, screen, verdigris);
    points.draw(g, views.sheet, picksPoints());
    if (at.station === "Flow" && at.show !== "cloth") for (const l of doc.meta.labels) {
      const b = labelBox(doc, l);
      if (!b) continue;
      const [x0, y1] = screen(b.u - b.width / 2, b.v - b.height / 2), [x1, y0] = screen(b.u + b.width / 2, b.v + b.height / 2);
      g.fillStyle = l.reads === "reads upright" ? "#1F2A33" : "#A8323E";
      writeInto(g, l.word, (x0 + x1) / 2, (y0 + y1) / 2, x1 - x0, y1 - y0);
    }
  });
  points.reach = () => value("set-reach");
  points.onChange = drawPoints;
  points.onDrop = (corners, shift, reach) => attempt(() => doc.edit("nudge", { corners, shift, reach }));
  views.sheet.grab = (p, e) => {
    if (!picksPoints() || !p || e.button !== 0) return null;
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
  setup.onChange = drawSetup;
  setup.say = (what) => { const el = document.getElementById("setup-lead"); if (el) show(el, what); };
  live.onChange = drawGhosts;
  views.frame = new ProjectionFrame($("piece"), $("piece-canvas"), doc, views.piece, setup);
  picks.onChange = drawPicks;
  chain.onChange = drawChain;
  join.onChange = dial.onChange = drawGhosts;
  doc.onWork = watch;
  views.handles.push(new Handles($("piece"), $("piece-canvas"), (_, p) => views.piece.spot(p), picks), new Handles($("sheet"), $("sheet-canvas"), (e, p) => views.sheet.spot(e, p), picks));
  attend($("piece-canvas"), (x, y) => views.piece.at(x, y), (c) => views.piece.screen(c));
  attend($("sheet-canvas"), (x, y) => views.sheet.at(x, y), (c) => views.sheet.screenOf(c));
  listen();
  refresh();
  doc.onChange(refresh);
  doc.shown = () => ({ station: at.station, part: at.part, worklog: !$("worklog").hidden });
  const overs = [
    new Hover(document.querySelector("#piece-over")!, doc, (c) => views.piece.screen(c), () => views.piece.drawn),
    new Hover(document.querySelector("#sheet-hover")!, doc, (c) => views.sheet.screenOf(c), () => views.sheet.drawn),
  ];
  const frame = (): void => {
    views.piece.draw();
    views.sheet.draw();
    body.dataset.drawn = String(views.piece.drawn + views.sheet.drawn);
    for (const h of views.handles) h.update();
    views.frame.update(at.station === "Project");
    for (const h of overs) h.update(at.hovered, at.hot);
    requestAnimationFrame(frame);
  };
  frame();
  body.dataset.ready = "yes";
  if (Number(body.dataset.work)) void attempt(async () => { await watch(Number(body.dataset.work)); await doc.refresh(); });
}

start().catch(trouble);
