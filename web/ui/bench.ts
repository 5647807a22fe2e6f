// The bench: ties the views, the route card, the trays and the keys together.
import htmx from "htmx.org";
import { Card } from "./card";
import { Chain } from "./chain";
import { proofCloth } from "./cloth";
import { Dial } from "./dial";
import { Doc, Refused, ask } from "./doc";
import { Handles } from "./handles";
import { Join, drawGhost } from "./join";
import { Lines, verdigris } from "./lines";
import { shapeLines } from "./overlay";
import { Picks } from "./picks";
import { Piece, type Pointed } from "./piece";
import type { Outline } from "./region";
import { Sheet } from "./sheet";
import type { Faces, Show } from "./scene";
import { Suggestions } from "./suggest";
import { drawTwins } from "./twins";

const $ = <T extends HTMLElement>(id: string): T => document.getElementById(id) as T;
const body = document.body;
const doc = new Doc(body.dataset.document!, body.dataset.hash!);

let station = "Parts";
let chosen = -1; // part
const chosenParts = new Set<number>(); // it and those chosen with Shift
let chosenFace = -1;
let show: Show = "parts";
let hovered = -1;
let hotEdge = -1;
let hiddenParts = new Set<number>();
let seeThrough = false;
let seamFaces = false; // whether faces are picked at the Seams station
let piece: Piece;
let sheet: Sheet;
let lines: Lines;
const handles: Handles[] = [];

const picks = new Picks(doc);
const chain = new Chain(doc, picks);
const join = new Join(doc, picks, $("ghost"));
const dial = new Dial(doc, trouble);
const suggestions = new Suggestions(doc, () => document.getElementById("suggest"));
const card = new Card(chosenParts);
/** What was done to edges last, if the same can be done to the repeats of their parts. */
let offer: { kind: string; edges: number[]; more: number; revision: number } | null = null;

const both = (f: (v: Faces) => void): void => { f(piece.faces); f(sheet.faces); piece.touch(); sheet.touch(); };

function trouble(e: unknown): void {
  $("banner-text").textContent = e instanceof Refused ? e.message : "Something went wrong in the page; reload it. Nothing is lost.";
  $("banner").hidden = false;
  if (!(e instanceof Refused)) console.error(e);
}

async function attempt(what: () => Promise<unknown>): Promise<void> {
  $("banner").hidden = true;
  $("saved").textContent = "saving";
  try { await what(); } catch (e) { trouble(e); }
  if (doc.meta) $("saved").textContent = `saved ${doc.meta.saved}`;
}

// Drawing what changed.

const faceHidden = (f: number): boolean => hiddenParts.has(doc.layout.facePart[f]!);

function drawPicks(): void {
  lines.picks(picks.edges);
  both((v) => v.mark("picked", picks.faces));
  body.dataset.picked = String(picks.edges.size);
  body.dataset.faces = String(picks.faces.size);
  body.dataset.run = picks.run ? `${picks.run.from} ${picks.run.to} ${picks.run.edges.length}` : "";
  const words = picks.words();
  placeTag(words);
  if (words || /^picked /.test($("readout").textContent!)) $("readout").textContent = words ? `picked ${words}` : "nothing is picked";
}

let tagAt: [number, number] = [0, 0];

/** What is picked, beside the place that was clicked, within the view. */
function placeTag(words: string): void {
  const t = $("tag");
  t.hidden = !words || !tagAt[0];
  if (t.hidden) return;
  t.textContent = words;
  t.style.left = `${Math.max(0, Math.min(tagAt[0], $("piece").clientWidth - t.offsetWidth - 18))}px`;
  t.style.top = `${tagAt[1]}px`;
}

function drawChain(): void {
  lines.brass("path", chain.path, true);
  body.dataset.path = String(chain.path.length);
  document.querySelector("[data-do=chain]")?.setAttribute("aria-pressed", String(chain.active));
  if (chain.active) $("readout").textContent = chain.words();
}

/** What a turn of the dial, or a join, would take away and add. */
function drawGhosts(): void {
  const g = dial.ghost;
  lines.brass("gone", g?.closed ?? [], true);
  lines.brass("new", g?.opened ?? [], true);
  if (join.ghost?.uv) sheet.reveal(join.ghost.uv);
  body.dataset.ghost = join.active ? "join" : g ? "dial" : "";
  sheet.touch();
}

/** Draws the fitted shape of the chosen part over the piece. */
function drawShape(): void {
  const p = doc.meta.parts[chosen];
  const at = p && station !== "Seams" && !hiddenParts.has(chosen) ? shapeLines(doc, chosen, p.shape, p.fit) : [];
  piece.faces.setSegments("shape", new Float32Array(at), { color: "#A87B1E", width: 2, order: 6, through: true });
  $("piece-note").textContent = p ? `${p.name} · ${p.shape}, off by ${p.error}` : "";
  piece.touch();
}

function drawSeams(): void {
  lines.seams(station === "Seams");
  lines.held(station === "Seams" ? doc.meta.held : []);
}

function hideParts(parts: Set<number>): void {
  hiddenParts = parts;
  piece.hide(faceHidden);
  drawSeams();
  drawPicks();
  drawShape();
  body.dataset.hidden = String(parts.size);
}

function refreshViews(): void {
  const m = doc.meta;
  picks.within(doc.mesh.bend.length);
  // Parts may have other numbers now.
  for (const set of [chosenParts, hiddenParts]) for (const p of [...set]) if (p >= m.parts.length) set.delete(p);
  if (chosen >= m.parts.length) chosen = -1;
  dial.drop();
  if (join.active) join.drop();
  if (hiddenParts.size) piece.hide(faceHidden); else piece.refresh();
  sheet.update();
  hotEdge = -1;
  lines.hot(-1);
  both((v) => v.paint(show, chosenParts));
  both((v) => v.mark("whole", station === "Seams" ? m.whole : []));
  drawSeams();
  drawPicks();
  drawShape();
  $("part-count").textContent = String(m.parts.length);
  $("undo-name").textContent = m.last_edit || "nothing to undo";
  $("redo-name").textContent = m.next_edit;
  $<HTMLButtonElement>("undo").disabled = !m.last_edit;
  $<HTMLButtonElement>("redo").disabled = !m.next_edit;
  $("worklog-count").textContent = String(m.head);
  $("saved").textContent = `saved ${m.saved}`;
  $("sheet-note").textContent = m.shells.length ? `${m.size} px · ${m.shells.length} shells · ${m.density.toFixed(0)} px/${m.unit} · fill ${(100 * m.coverage).toFixed(0)} %` : "nothing is mapped yet";
  body.dataset.revision = String(m.revision);
  body.dataset.shells = String(m.shells.length);
  htmx.trigger(body, "changed", {});
  void loadTray();
  if (!$("worklog").hidden) void loadWorklog();
}

async function fragment(url: string): Promise<string> { return (await ask(url)).text(); }

const keyHelp: Record<string, string> = {
  Parts: "click a face · Shift adds · Alt takes away · double click: whole part · drag on empty ground frames, L freehand",
  Project: "click a face · Shift adds · double click: whole part",
  Seams: "click an edge · Shift adds · Alt takes away · double click: loop, drag its ends · X chain to the pointer · B edges or faces",
  Sheet: "drag a shell to move it · T quarter turn · O turn over",
};

async function loadTray(): Promise<void> {
  try {
    const html = await fragment(`${doc.base}/tray?station=${station}&part=${chosen}`);
    $("tray").innerHTML = html;
    $("keys").textContent = keyHelp[station] ?? "drag orbits · Shift drag pans · wheel zooms · Home frames";
    lines.brass("suggested", []);
    if (station !== "Seams") return;
    markSeamPicks();
    showOffer();
    await suggestions.load();
    lines.brass("suggested", suggestions.edges());
  } catch (e) { trouble(e); }
}

/** Shows whether edges or faces are picked, and the tools for them. */
function markSeamPicks(): void {
  for (const b of document.querySelectorAll<HTMLElement>("[data-seampick]")) b.setAttribute("aria-pressed", String((b.dataset.seampick === "faces") === seamFaces));
  for (const el of document.querySelectorAll<HTMLElement>("[data-for]")) el.hidden = (el.dataset.for === "faces") !== seamFaces;
  body.dataset.picking = seamFaces ? "faces" : "edges";
}

function showOffer(): void {
  const el = document.getElementById("offer");
  if (!el) return;
  if (offer && offer.revision !== doc.meta.revision) offer = null; // something else was done since
  el.hidden = !offer;
  if (offer) el.textContent = `Do the same on ${offer.more} like it`;
}

async function loadWorklog(): Promise<void> { try { $("worklog").innerHTML = await fragment(`${doc.base}/worklog`); } catch (e) { trouble(e); } }

function goTo(s: string): void {
  station = s;
  card.mark(station);
  if (s !== "Seams") { chain.toggle(false); join.drop(); dial.drop(); seamFaces = false; }
  drawSeams();
  drawShape();
  both((v) => v.mark("whole", s === "Seams" ? doc.meta.whole : []));
  void loadTray();
}

function choose(part: number, face: number, frame: boolean, add = false): void {
  if (!add) chosenParts.clear();
  chosen = part;
  chosenFace = face;
  if (part >= 0) chosenParts.add(part);
  both((v) => v.paint(show, chosenParts));
  if (frame) piece.frame(part);
  drawShape();
  card.mark(station, chosen);
  void loadTray();
}

// Pointing and picking, the same in both views.

function point(p: Pointed | null): void {
  const face = p?.face ?? -1;
  if (face !== hovered) {
    hovered = face;
    both((v) => v.setHover(face));
  }
  const edge = p && !picksFaces() ? p.edge : -1;
  if (edge !== hotEdge) {
    hotEdge = edge;
    lines.hot(edge);
    if (chain.active) void attempt(async () => chain.hover(edge));
  }
  if (!p) { $("readout").textContent = picks.words() ? `picked ${picks.words()}` : "point at the model or the sheet"; return; }
  if (chain.active) { $("readout").textContent = chain.words(); return; }
  const part = doc.layout.facePart[face]!, shell = doc.layout.faceShell[face]!, s = doc.meta.shells[shell];
  const words = [`part ${doc.meta.parts[part]?.name ?? "–"}`, `face ${face}`];
  if (s) words.push(`stretch ${doc.layout.angular[face]!.toFixed(3)}`, `density ${s.density.toFixed(0)} px/${doc.meta.unit}`, `grain ${s.grain.toFixed(1)}°`);
  else words.push("not mapped");
  if (p.edge >= 0) words.push(`edge ${p.edge} bend ${((doc.mesh.bend[p.edge]! * 180) / Math.PI).toFixed(0)}°${doc.layout.cut[p.edge] ? " seam" : ""}`);
  if (doc.exposure) words.push(`exposure ${doc.exposure[face]!.toFixed(2)}`);
  $("readout").textContent = words.join("   ");
}

/** Faces are picked at the stations that are about faces, edges at the others. */
const picksFaces = (): boolean => station === "Parts" || station === "Project" || (station === "Seams" && seamFaces);

function pickFaces(faces: number[], e: { shiftKey: boolean; altKey: boolean }): void {
  if (!e.shiftKey && !e.altKey) picks.faces.clear();
  for (const f of faces) if (e.altKey) picks.faces.delete(f); else picks.faces.add(f);
  drawPicks();
}

function pick(p: Pointed | null, e: PointerEvent): void {
  if (!p) return;
  if (picksFaces()) {
    pickFaces([p.face], e);
    if (!e.shiftKey && !e.altKey) choose(doc.layout.facePart[p.face]!, p.face, false);
    chosenFace = p.face;
    return;
  }
  if (p.edge < 0) { choose(doc.layout.facePart[p.face]!, p.face, false); return; }
  chosenFace = p.face;
  if (chain.active) { void attempt(() => chain.click(p.edge, e)); return; }
  picks.click(p.edge, e);
}

async function pickLoop(edge: number, how: { shiftKey: boolean; altKey: boolean }): Promise<void> {
  picks.takeRun(await doc.pickEdges("run", { edges: [edge] }), how);
}

function attend(canvas: HTMLElement, at: (x: number, y: number) => Pointed | null): void {
  let down: [number, number] = [0, 0];
  let queued: PointerEvent | null = null;
  canvas.addEventListener("pointerdown", (e) => { down = [e.clientX, e.clientY]; });
  canvas.addEventListener("pointermove", (e) => {
    if (e.buttons !== 0) return;
    if (!queued) requestAnimationFrame(() => { const q = queued!; queued = null; point(at(q.offsetX, q.offsetY)); });
    queued = e;
  });
  canvas.addEventListener("pointerleave", () => point(null));
  canvas.addEventListener("pointerup", (e) => {
    if (Math.hypot(e.clientX - down[0], e.clientY - down[1]) > 4) return;
    tagAt = canvas.id === "piece-canvas" ? [e.offsetX, e.offsetY + 32] : [0, 0];
    pick(at(e.offsetX, e.offsetY), e);
  });
  canvas.addEventListener("dblclick", (e) => {
    const p = at(e.offsetX, e.offsetY);
    if (p && picksFaces()) pickFaces(facesOf(doc.layout.facePart[p.face]!), e);
    else if (p && p.edge >= 0 && !chain.active) void attempt(() => pickLoop(p.edge, e));
    else if (p) choose(doc.layout.facePart[p.face]!, p.face, true);
  });
}

function facesOf(part: number): number[] {
  const out: number[] = [];
  doc.layout.facePart.forEach((p, f) => { if (p === part) out.push(f); });
  return out;
}

/** A region was drawn on empty ground. */
function pickRegion(o: Outline, e: PointerEvent): void {
  const faces = piece.facesIn(o, seeThrough);
  if (picksFaces()) { pickFaces(faces, e); return; }
  const within = new Set(faces), edges: number[] = [];
  doc.layout.cut.forEach((_, k) => {
    const [a, b] = [doc.edgeFaces[2 * k]!, doc.edgeFaces[2 * k + 1]!];
    if (within.has(a) && (b < 0 || within.has(b))) edges.push(k);
  });
  picks.take(edges, e.altKey ? "without" : e.shiftKey ? "besides" : "instead");
}

// Verbs, by button and by key.

const value = (id: string): number => Number($<HTMLInputElement>(id).value);
const chosenPart = (): number => {
  if (chosen >= 0) return chosen;
  throw new Refused("Choose a part first: click it on the card or on the model.", 422);
};
const facePick = (): number[] => {
  if (picks.faces.size) return [...picks.faces].sort((a, b) => a - b);
  throw new Refused(`Pick faces first: ${station === "Seams" && !seamFaces ? "press B to pick faces, then " : ""}click one on the model, Shift adds, a double click takes the whole part.`, 422);
};
const recognition = (): object => ({ detail: value("set-detail"), tolerance: value("set-tolerance"), crease_deg: value("set-crease") });
const done = async (e: Promise<void>): Promise<void> => { await e; picks.faces.clear(); drawPicks(); };

const shellFace = (): number => {
  if (chosenFace >= 0) return chosenFace;
  throw new Refused("Pick a shell or a part first.", 422);
};
const pickedEdges = (): number[] => {
  if (picks.edges.size) return [...picks.edges];
  throw new Refused("Pick edges first: click one on the model or the sheet, double click for its loop.", 422);
};

/** An edit of edges, offered for the repeats of their parts afterwards. */
async function editEdges(kind: string, edges: number[]): Promise<void> {
  await doc.edit(kind, { edges });
  offerRepeats(kind, edges);
}

function offerRepeats(kind: string, edges: number[]): void {
  let more = 0;
  for (const e of edges) for (const f of [doc.edgeFaces[2 * e]!, doc.edgeFaces[2 * e + 1]!]) if (f >= 0) more = Math.max(more, doc.meta.parts[doc.layout.facePart[f]!]?.repeats ?? 0);
  offer = more > 0 ? { kind, edges, more, revision: doc.meta.revision } : null;
  showOffer();
}

/** Does what was offered: the same edit at the same places of all repeats. */
async function sameOnRepeats(): Promise<void> {
  if (!offer) return;
  const { kind, edges } = offer;
  const all = (await doc.pickEdges("repeats", { edges })).edges, known = new Set(edges);
  offer = null;
  showOffer();
  await doc.edit(kind, { edges: all.filter((e) => !known.has(e)) });
}

async function edgesByVerb(verb: string, angle = 0): Promise<void> {
  const of = verb === "around" ? { faces: facePick() } : verb === "borders" || verb === "above" ? { angle_deg: angle } : { edges: verb === "repeats" ? pickedEdges() : [picks.last >= 0 ? picks.last : pickedEdges()[0]!] };
  const r = await doc.pickEdges(verb, of);
  if (!r.edges.length) throw new Refused({ borders: "This model has no open borders.", above: `No edge bends by ${angle}° or more.` }[verb] ?? "Nothing is there to pick.", 422);
  picks.take(r.edges, "instead", { ring: r.closed ? "closed ring" : "ring", borders: "open borders", above: `bend ${angle}° and more`, around: "around the picked faces", repeats: "on all repeats" }[verb]);
  if (verb === "around") { picks.faces.clear(); setSeamPicks(false); }
}

function setSeamPicks(faces: boolean): void {
  seamFaces = faces;
  chain.toggle(false);
  markSeamPicks();
}

const weight = (id: string): number => Math.max(0, Number($<HTMLInputElement>(id).value));

const verbs: Record<string, () => Promise<unknown>> = {
  run: async () => { await watch(await doc.run()); await doc.refresh(); sheet.frame(); },
  recognise: () => doc.edit("recognise", recognition()),
  "recognise-part": () => doc.edit("recognise", { ...recognition(), parts: chosenParts.size ? [...chosenParts] : [chosenPart()] }),
  merge: () => doc.edit("merge", { parts: [...chosenParts] }),
  "part-off": () => done(doc.edit(station === "Seams" ? "shell-off" : "part-off", { faces: facePick() })),
  assign: () => done(doc.edit("assign", { faces: facePick(), to: chosenPart() })),
  lock: () => doc.edit("lock", { parts: [...chosenParts], locked: true }),
  unlock: () => doc.edit("lock", { parts: [...chosenParts], locked: false }),
  give: () => doc.edit("give-to-repeats", { part: chosenPart() }),
  stack: () => doc.edit("give-to-repeats", { part: chosenPart(), stacked: true }),
  "follow-mirror": () => doc.edit("follow-mirror", {}),
  alone: async () => { chosenPart(); hideParts(new Set(doc.meta.parts.map((_, i) => i).filter((i) => !chosenParts.has(i)))); },
  aside: async () => { chosenPart(); hideParts(new Set([...hiddenParts, ...chosenParts])); },
  everything: async () => hideParts(new Set()),
  clear: () => doc.edit("clear", { faces: [] }),
  flatten: () => doc.edit("flatten", { faces: [shellFace()] }),
  "flatten-all": () => doc.edit("flatten", {}),
  pack: () => doc.edit("pack", {}),
  turn: () => doc.edit("move", { faces: [shellFace()], shift: { X: 0, Y: 0 }, turn_deg: 90 }),
  flip: () => doc.edit("move", { faces: [shellFace()], shift: { X: 0, Y: 0 }, flip: true }),
  drop: async () => {
    if (join.active) join.drop();
    else if (chain.active) chain.toggle(false);
    else picks.clear();
  },

  cut: () => editEdges("cut", pickedEdges()),
  close: () => editEdges("close", pickedEdges()),
  hold: () => doc.edit("hold", { edges: pickedEdges(), held: true }),
  "let-go": () => doc.edit("hold", { edges: pickedEdges(), held: false }),
  "keep-whole": () => done(doc.edit("keep", { faces: facePick(), whole: true })),
  "let-cut": () => done(doc.edit("keep", { faces: facePick(), whole: false })),
  "hand-over": () => done(doc.edit("hand-over", { faces: facePick() })),
  "join-group": () => done(doc.edit("join-group", { faces: facePick(), limit: value("set-limit") })),
  loop: () => pickLoop(picks.last >= 0 ? picks.last : pickedEdges()[0]!, { shiftKey: true, altKey: false }),
  "carry-on": async () => { if (!picks.carryOn()) throw new Refused(picks.run ? "The loop cannot be carried on: beyond its ends no edge goes on straight enough." : "Pick a loop first: double click an edge.", 422); },
  chain: async () => chain.toggle(),
  join: async () => { if (join.active) await verbs["join-take"]!(); else await join.start(pickedEdges()); },
  "join-take": async () => { const { edges } = await join.take(); offerRepeats("join", edges); },
  swap: () => join.swap(),
  whole: () => join.toggleWhole(),
  "turn-dial": () => doc.edit("dial", { dial: value("set-dial"), pack: true }),
  take: () => doc.edit("cut", { edges: suggestions.edges() }),
  "take-all": () => doc.edit("cut", { edges: suggestions.allEdges() }),
  adjust: async () => picks.take(suggestions.edges(), "instead", "suggested"),
  leave: async () => { suggestions.leave(); lines.brass("suggested", suggestions.edges()); },
  same: sameOnRepeats,
  "pick-edges": async () => setSeamPicks(false),
  "pick-faces": async () => setSeamPicks(true),
  "pick-other": async () => { if (station === "Seams") setSeamPicks(!seamFaces); },
  "save-picks": async () => { await doc.edit("save-picks", { name: $<HTMLInputElement>("set-pickname").value.trim(), edges: pickedEdges() }); },
  "drop-picks": () => doc.edit("save-picks", { name: $<HTMLSelectElement>("set-picks").value, edges: [] }),
  view: async () => {
    const [front, back, left, right, above, below] = ["front", "back", "left", "right", "above", "below"].map((n) => weight(`side-${n}`));
    await doc.edit("view-from", { sides: { front, back, left, right, above, below } });
    doc.exposure = null;
    if (show === "exposure") await showAs("exposure");
  },
};

async function facesByVerb(verb: string): Promise<void> {
  const angle = verb === "facing" ? value("set-angle") : value("set-crease");
  const from = verb === "unmapped" || verb === "invert" ? [...picks.faces] : facePick();
  const faces = await doc.pickFaces(verb, from, angle);
  picks.faces.clear();
  for (const f of faces) picks.faces.add(f);
  drawPicks();
}

const keys: Record<string, string> = { c: "cut", v: "close", e: "flatten", k: "pack", t: "turn", o: "flip", g: "loop", p: "part-off", q: "alone", w: "aside", r: "everything", x: "chain", j: "join", b: "pick-other", y: "carry-on", h: "hand-over", Escape: "drop" };

const legends: Partial<Record<Show, string>> = {
  stretch: `<i class="stretch"></i><div><span>×0.67 area</span><span>1</span><span>×1.5</span></div>`,
  exposure: `<i class="exposure"></i><div><span>0 hidden</span><span>exposure</span><span>1 in view</span></div>`,
};

/** Shows something on model and sheet. */
async function showAs(what: Show): Promise<void> {
  if (what === "exposure" && !doc.exposure) await doc.look();
  show = what;
  for (const o of document.querySelectorAll<HTMLElement>("[data-show]")) o.setAttribute("aria-pressed", String(o.dataset.show === what));
  const l = $("legend");
  l.hidden = !legends[what];
  l.innerHTML = legends[what] ?? "";
  both((v) => v.paint(show, chosenParts));
}

/** Shows how far long work is until it is over; throws what it failed of. */
function watch(work: number): Promise<void> {
  $("work").hidden = false;
  const events = new EventSource(`/works/${work}/events`);
  $("work-cancel").onclick = () => void attempt(() => ask(`/works/${work}/cancel`, {}));
  return new Promise((over, failed) => {
    events.onmessage = (m) => {
      const w = JSON.parse(m.data as string) as { state: string; station: string; progress: number; message: string };
      $<HTMLProgressElement>("work-bar").value = w.progress;
      $("work-text").textContent = w.state === "waiting" ? "waiting for a worker" : w.station || "starting";
      if (w.state === "waiting" || w.state === "running") return;
      events.close();
      $("work").hidden = true;
      if (w.state === "failed") failed(new Refused(`Not done: ${w.message}.`, 500)); else over();
    };
  });
}

function listen(): void {
  document.addEventListener("click", (e) => {
    const t = e.target as HTMLElement;
    const act = t.closest<HTMLElement>("[data-do]")?.dataset.do;
    if (act) { void attempt(verbs[act]!); return; }
    const fold = t.closest<HTMLElement>("[data-fold]")?.dataset.fold;
    if (fold !== undefined) { card.fold(fold); return; }
    const edges = t.closest<HTMLElement>("[data-edgepick]")?.dataset.edgepick;
    if (edges) { void attempt(() => edgesByVerb(edges, edges === "above" ? value("set-above") : 0)); return; }
    const shape = t.closest<HTMLElement>("[data-shape]")?.dataset.shape;
    if (shape) { void attempt(() => doc.edit("set-shape", { part: chosenPart(), shape })); return; }
    const verb = t.closest<HTMLElement>("[data-pick]")?.dataset.pick;
    if (verb) { void attempt(() => facesByVerb(verb)); return; }
    const row = t.closest<HTMLElement>(".card tbody tr");
    const st = t.closest<HTMLElement>("[data-station]")?.dataset.station;
    if (row) { choose(Number(row.dataset.part), Number(row.dataset.face), !e.shiftKey, e.shiftKey); if (st) goTo(st); } else if (st) goTo(st);
    const finding = t.closest<HTMLElement>("[data-finding]");
    if (finding) {
      const faces = finding.dataset.finding!.split(" ").map(Number);
      const face = faces[(faces.indexOf(hovered) + 1) % faces.length]!;
      choose(doc.layout.facePart[face]!, face, true);
      hovered = face;
      both((v) => v.setHover(face));
    }
  });
  document.addEventListener("keydown", (e) => {
    if (e.target instanceof HTMLInputElement || e.target instanceof HTMLSelectElement) return;
    if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === "z") { e.preventDefault(); void attempt(() => (e.shiftKey ? doc.redo() : doc.undo())); return; }
    if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === "y") { e.preventDefault(); void attempt(() => doc.redo()); return; }
    if (e.ctrlKey || e.metaKey || e.altKey) return;
    if (e.key === "Home") { piece.frame(chosen); sheet.frame(); }
    if (e.key === "l" || e.key === "L") { piece.freehand = true; return; }
    if (e.key === "f" && picksFaces()) { void attempt(() => facesByVerb("crease")); return; }
    if (join.active && (e.key === "Enter" || e.key === "m")) { e.preventDefault(); void attempt(verbs[e.key === "m" ? "swap" : "join-take"]!); return; }
    const verb = keys[e.key];
    if (verb) void attempt(verbs[verb]!);
  });
  document.addEventListener("input", (e) => {
    const t = e.target as HTMLInputElement;
    if (t.id === "set-dial") dial.turn(Number(t.value), $("dial-figures"));
  });
  document.addEventListener("keyup", (e) => { if (e.key === "l" || e.key === "L") piece.freehand = false; });
  document.addEventListener("change", (e) => {
    const id = (e.target as HTMLElement).id;
    if (id === "set-weight") void attempt(() => doc.edit("weigh", { parts: [...chosenParts], weight: value("set-weight") }));
    if (id === "set-path") chain.shortest = $<HTMLSelectElement>("set-path").value === "shortest";
    if (id === "set-picks") {
      const set = doc.meta.picks.find((p) => p.name === $<HTMLSelectElement>("set-picks").value);
      if (set) { picks.take(set.edges, "instead", set.name); setSeamPicks(false); $<HTMLInputElement>("set-pickname").value = set.name; }
    }
    if (id === "set-name") void attempt(() => doc.edit("rename", { part: chosenPart(), name: $<HTMLInputElement>("set-name").value }));
  });
  $("through").onclick = (e) => {
    seeThrough = !seeThrough;
    (e.currentTarget as HTMLElement).setAttribute("aria-pressed", String(seeThrough));
  };
  $("undo").onclick = () => void attempt(() => doc.undo());
  $("redo").onclick = () => void attempt(() => doc.redo());
  $("banner-close").onclick = () => { $("banner").hidden = true; };
  $("fit").onclick = () => { piece.frame(-1); sheet.frame(); };
  $("filter").oninput = () => card.filter();
  $("worklog-open").onclick = (e) => {
    const open = $("worklog").hidden;
    $("worklog").hidden = !open;
    (e.currentTarget as HTMLElement).setAttribute("aria-expanded", String(open));
    if (open) void loadWorklog();
  };
  for (const b of document.querySelectorAll<HTMLButtonElement>("[data-show]")) b.onclick = () => void attempt(() => showAs(b.dataset.show as Show));
  const sizes = $<HTMLSelectElement>("template-size");
  const setSizes = (): void => { for (const a of document.querySelectorAll<HTMLAnchorElement>("a.sized")) a.search = `?size=${sizes.value}`; };
  sizes.onchange = setSizes;
  setSizes();
  document.body.addEventListener("htmx:afterSwap", () => card.mark(station));
  listenDivider();
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

async function start(): Promise<void> {
  await Promise.all([doc.load(), document.fonts.load("600 44px 'Barlow Condensed'")]);
  const cloth = proofCloth();
  piece = new Piece($<HTMLCanvasElement>("piece-canvas"), document.querySelector<SVGSVGElement>("#piece-over")!, doc, cloth);
  piece.onRegion = pickRegion;
  sheet = new Sheet($<HTMLCanvasElement>("sheet-canvas"), $<HTMLCanvasElement>("sheet-over"), doc, cloth);
  sheet.onMove = (face, dx, dy) => void attempt(() => doc.edit("move", { faces: [face], shift: { X: dx, Y: dy } })).then(() => sheet.update());
  lines = new Lines(doc, piece, sheet, (p) => hiddenParts.has(p), piece.size);
  sheet.overlays.push((g, screen) => {
    const shell = chosenFace >= 0 ? doc.layout.faceShell[chosenFace]! : -1;
    if (!picksFaces()) {
      drawTwins(g, doc, picks.edges, shell, screen, verdigris);
      if (hotEdge >= 0 && !picks.edges.has(hotEdge)) drawTwins(g, doc, [hotEdge], hovered >= 0 ? doc.layout.faceShell[hovered]! : -1, screen, verdigris);
    }
    if (join.ghost) drawGhost(g, doc, join.ghost, screen, verdigris);
  });
  picks.onChange = drawPicks;
  chain.onChange = drawChain;
  join.onChange = dial.onChange = drawGhosts;
  doc.onWork = watch;
  handles.push(new Handles($("piece"), $("piece-canvas"), (_, p) => piece.spot(p), picks), new Handles($("sheet"), $("sheet-canvas"), (e, p) => sheet.spot(e, p), picks));
  attend($("piece-canvas"), (x, y) => piece.at(x, y));
  attend($("sheet-canvas"), (x, y) => sheet.at(x, y));
  listen();
  refreshViews();
  doc.onChange(refreshViews);
  const frame = (): void => { piece.draw(); sheet.draw(); for (const h of handles) h.update(); requestAnimationFrame(frame); };
  frame();
  body.dataset.ready = "yes";
  if (Number(body.dataset.work)) void attempt(async () => { await watch(Number(body.dataset.work)); await doc.refresh(); });
}

start().catch(trouble);
