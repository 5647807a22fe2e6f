// The bench: ties the views, the route card, the trays and the keys together.
import htmx from "htmx.org";
import { Doc, Refused, ask } from "./doc";
import { proofCloth } from "./cloth";
import { shapeLines } from "./overlay";
import { Piece, type Pointed } from "./piece";
import type { Outline } from "./region";
import { Sheet } from "./sheet";
import type { Faces, Show } from "./scene";

const $ = <T extends HTMLElement>(id: string): T => document.getElementById(id) as T;
const body = document.body;
const doc = new Doc(body.dataset.document!, body.dataset.hash!);

let station = "Parts";
let chosen = -1; // part
const chosenParts = new Set<number>(); // it and those chosen with Shift
let chosenFace = -1;
let show: Show = "parts";
let hovered = -1;
const picked = new Set<number>(); // edges
const pickedFaces = new Set<number>();
let hiddenParts = new Set<number>();
let seeThrough = false;
let pickNote = "";
let piece: Piece;
let sheet: Sheet;

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

function cornersOf(edges: Iterable<number>): number[] {
  const out: number[] = [];
  const hidden = (f: number): boolean => f < 0 || faceHidden(f);
  for (const e of edges) if (hiddenParts.size === 0 || !hidden(doc.edgeFaces[2 * e]!) || !hidden(doc.edgeFaces[2 * e + 1]!)) out.push(doc.edgeCorners[2 * e]!, doc.edgeCorners[2 * e + 1]!);
  return out;
}

/** Both sides of edges, for the sheet, where an edge lies once on each shell. */
function sides(edges: Set<number>): number[] {
  const out: number[] = [];
  const { faceStart, cornerEdge } = doc.mesh;
  for (let f = 0; f + 1 < faceStart.length; f++) {
    if (!doc.layout.mapped[f]) continue;
    const lo = faceStart[f]!, hi = faceStart[f + 1]!;
    for (let c = lo; c < hi; c++) if (edges.has(cornerEdge[c]!)) out.push(c, c + 1 < hi ? c + 1 : lo);
  }
  return out;
}

function drawLines(): void {
  const seams = new Set<number>(), creases: number[] = [];
  doc.layout.cut.forEach((c, e) => {
    if (c) seams.add(e);
    else if (Math.abs(doc.mesh.bend[e]!) > 0.52) creases.push(e);
  });
  piece.faces.setLines("creases", cornersOf(creases), { color: "#1F2A33", width: 1, opacity: 0.3 });
  piece.faces.setLines("seams", cornersOf(seams), { color: "#1F2A33", width: station === "Seams" ? 4 : 1.6, order: 2 });
  piece.faces.setLines("core", station === "Seams" ? cornersOf(seams) : [], { color: "#FDFCF8", width: 1.4, order: 3 });
  const inner = new Set<number>();
  doc.layout.cut.forEach((c, e) => { if (!c) inner.add(e); });
  sheet.faces.setLines("inner", sides(inner), { color: "#1F2A33", width: 1, opacity: 0.16 });
  sheet.faces.setLines("seams", sides(seams), { color: "#1F2A33", width: 1.3, order: 2 });
  drawPicks();
}

function drawPicks(): void {
  const look = { color: "#14756B", width: 5, order: 5 };
  piece.faces.setLines("halo", cornersOf(picked), { color: "#FDFCF8", width: 8, order: 4 });
  piece.faces.setLines("picks", cornersOf(picked), look);
  sheet.faces.setLines("picks", sides(picked), look);
  piece.touch();
  sheet.touch();
  both((v) => v.mark("picked", pickedFaces));
  body.dataset.picked = String(picked.size);
  body.dataset.faces = String(pickedFaces.size);
  pickText = pickWords();
  if (!pickText) { $("tag").hidden = true; return; }
  $("tag").textContent = pickText;
  $("readout").textContent = `picked ${pickText}`;
}
let pickText = "";

/** What is picked, in words; nothing if nothing is. */
function pickWords(): string {
  const words: string[] = [];
  if (picked.size) {
    let length = 0;
    for (const e of picked) length += doc.edgeLength(e);
    words.push(`${picked.size} ${picked.size === 1 ? "edge" : "edges"} · ${length.toPrecision(3)} ${doc.meta.unit}${pickNote ? " · " + pickNote : ""}`);
  }
  if (pickedFaces.size) {
    let area = 0;
    for (const f of pickedFaces) area += doc.faceArea(f);
    words.push(`${pickedFaces.size} ${pickedFaces.size === 1 ? "face" : "faces"} · ${area.toPrecision(3)} ${doc.meta.unit}²`);
  }
  return words.join("   ");
}

/** Draws the fitted shape of the chosen part over the piece. */
function drawShape(): void {
  const p = doc.meta.parts[chosen];
  const at = p && !hiddenParts.has(chosen) ? shapeLines(doc, chosen, p.shape, p.fit) : [];
  piece.faces.setSegments("shape", new Float32Array(at), { color: "#A87B1E", width: 2, order: 6, through: true });
  $("piece-note").textContent = p ? `${p.name} · ${p.shape}, off by ${p.error}` : "";
  piece.touch();
}

function hideParts(parts: Set<number>): void {
  hiddenParts = parts;
  piece.hide(faceHidden);
  drawLines();
  drawShape();
  body.dataset.hidden = String(parts.size);
}

function refreshViews(): void {
  const m = doc.meta;
  for (const e of [...picked]) if (e >= doc.mesh.bend.length) picked.delete(e);
  // Parts may have other numbers now.
  for (const set of [chosenParts, hiddenParts]) for (const p of [...set]) if (p >= m.parts.length) set.delete(p);
  if (chosen >= m.parts.length) chosen = -1;
  if (hiddenParts.size) piece.hide(faceHidden); else piece.refresh();
  sheet.update();
  both((v) => v.paint(show, chosenParts));
  drawLines();
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

async function loadTray(): Promise<void> {
  try {
    $("tray").innerHTML = await fragment(`${doc.base}/tray?station=${station}&part=${chosen}`);
    $("keys").textContent = { Parts: "click a face · Shift adds · Alt takes away · double click: whole part · drag on empty ground frames, L freehand", Project: "click a face · Shift adds · double click: whole part", Seams: "click an edge · Shift adds · Alt takes away · double click: whole loop", Sheet: "drag a shell to move it · T quarter turn · O turn over" }[station] ?? "drag orbits · Shift drag pans · wheel zooms · Home frames";
  } catch (e) { trouble(e); }
}

async function loadWorklog(): Promise<void> { try { $("worklog").innerHTML = await fragment(`${doc.base}/worklog`); } catch (e) { trouble(e); } }

function goTo(s: string): void {
  station = s;
  markCard();
  drawLines();
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
  markCard(true);
  void loadTray();
}

function markCard(scroll = false): void {
  for (const b of document.querySelectorAll<HTMLElement>(".card thead button")) b.toggleAttribute("aria-current", b.dataset.station === station);
  for (const r of document.querySelectorAll<HTMLElement>(".card tbody tr")) {
    r.classList.toggle("chosen", chosenParts.has(Number(r.dataset.part)));
  }
  filterCard();
  if (scroll) document.querySelector(`.card tbody tr[data-part="${chosen}"]`)?.scrollIntoView({ block: "nearest" });
}

const unfolded = new Set<string>(); // parts whose repeats are shown

/** Hides rows that are not asked for, and repeats that are folded under their first. */
function filterCard(): void {
  const words = $<HTMLInputElement>("filter").value.toLowerCase();
  for (const r of document.querySelectorAll<HTMLElement>(".card tbody tr")) {
    const folded = r.dataset.of !== undefined && !unfolded.has(r.dataset.of) && !chosenParts.has(Number(r.dataset.part));
    r.hidden = words ? !r.dataset.name!.includes(words) : folded;
  }
  for (const b of document.querySelectorAll<HTMLElement>("[data-fold]")) b.setAttribute("aria-expanded", String(unfolded.has(b.dataset.fold!)));
}

// Pointing and picking, the same in both views.

function point(p: Pointed | null): void {
  const face = p?.face ?? -1;
  if (face !== hovered) {
    hovered = face;
    both((v) => v.setHover(face));
  }
  if (!p) { $("readout").textContent = picked.size ? `picked ${pickText}` : "point at the model or the sheet"; return; }
  const part = doc.layout.facePart[face]!, shell = doc.layout.faceShell[face]!, s = doc.meta.shells[shell];
  const words = [`part ${doc.meta.parts[part]?.name ?? "–"}`, `face ${face}`];
  if (s) words.push(`stretch ${doc.layout.angular[face]!.toFixed(3)}`, `density ${s.density.toFixed(0)} px/${doc.meta.unit}`, `grain ${s.grain.toFixed(1)}°`);
  else words.push("not mapped");
  if (p.edge >= 0) words.push(`edge ${p.edge} bend ${((doc.mesh.bend[p.edge]! * 180) / Math.PI).toFixed(0)}°`);
  $("readout").textContent = words.join("   ");
}

/** Faces are picked at the stations that are about faces, edges at the others. */
const picksFaces = (): boolean => station === "Parts" || station === "Project";

function pickFaces(faces: number[], e: { shiftKey: boolean; altKey: boolean }): void {
  if (!e.shiftKey && !e.altKey) pickedFaces.clear();
  for (const f of faces) if (e.altKey) pickedFaces.delete(f); else pickedFaces.add(f);
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
  if (e.altKey) picked.delete(p.edge);
  else {
    if (!e.shiftKey) picked.clear();
    picked.add(p.edge);
  }
  pickNote = "";
  chosenFace = p.face;
  drawPicks();
}

async function pickLoop(edge: number, add: boolean): Promise<void> {
  const l = await doc.loop(edge);
  if (!add) picked.clear();
  for (const e of l.edges) picked.add(e);
  pickNote = l.closed ? "loop" : `loop, ${l.ends.filter((x) => x).join(", ")}`;
  drawPicks();
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
    pick(at(e.offsetX, e.offsetY), e);
    if (pickText && canvas.id === "piece-canvas") {
      const t = $("tag");
      t.hidden = false;
      t.style.left = `${e.offsetX}px`;
      t.style.top = `${e.offsetY + 32}px`;
    }
  });
  canvas.addEventListener("dblclick", (e) => {
    const p = at(e.offsetX, e.offsetY);
    if (p && picksFaces()) pickFaces(facesOf(doc.layout.facePart[p.face]!), e);
    else if (p && p.edge >= 0) void attempt(() => pickLoop(p.edge, e.shiftKey));
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
  const within = new Set(faces);
  if (!e.shiftKey && !e.altKey) picked.clear();
  doc.layout.cut.forEach((_, k) => {
    const [a, b] = [doc.edgeFaces[2 * k]!, doc.edgeFaces[2 * k + 1]!];
    if (!within.has(a) || (b >= 0 && !within.has(b))) return;
    if (e.altKey) picked.delete(k); else picked.add(k);
  });
  pickNote = "";
  drawPicks();
}

// Verbs, by button and by key.

const value = (id: string): number => Number($<HTMLInputElement>(id).value);
const chosenPart = (): number => {
  if (chosen >= 0) return chosen;
  throw new Refused("Choose a part first: click it on the card or on the model.", 422);
};
const facePick = (): number[] => {
  if (pickedFaces.size) return [...pickedFaces].sort((a, b) => a - b);
  throw new Refused("Pick faces first: click one on the model, Shift adds, a double click takes the whole part.", 422);
};
const recognition = (): object => ({ detail: value("set-detail"), tolerance: value("set-tolerance"), crease_deg: value("set-crease") });
const done = async (e: Promise<void>): Promise<void> => { await e; pickedFaces.clear(); drawPicks(); };

const shellFace = (): number => {
  if (chosenFace >= 0) return chosenFace;
  throw new Refused("Pick a shell or a part first.", 422);
};
const pickedEdges = (): number[] => {
  if (picked.size) return [...picked];
  throw new Refused("Pick edges first: click one on the model or the sheet, double click for its loop.", 422);
};

const verbs: Record<string, () => Promise<unknown>> = {
  run: async () => watch(await doc.run()),
  recognise: () => doc.edit("recognise", recognition()),
  "recognise-part": () => doc.edit("recognise", { ...recognition(), parts: chosenParts.size ? [...chosenParts] : [chosenPart()] }),
  merge: () => doc.edit("merge", { parts: [...chosenParts] }),
  "part-off": () => done(doc.edit("part-off", { faces: facePick() })),
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
  open: () => doc.edit("open", {}),
  cut: () => doc.edit("cut", { edges: pickedEdges() }),
  close: () => doc.edit("close", { edges: pickedEdges() }),
  flatten: () => doc.edit("flatten", { faces: [shellFace()] }),
  "flatten-all": () => doc.edit("flatten", {}),
  pack: () => doc.edit("pack", {}),
  turn: () => doc.edit("move", { faces: [shellFace()], shift: { X: 0, Y: 0 }, turn_deg: 90 }),
  flip: () => doc.edit("move", { faces: [shellFace()], shift: { X: 0, Y: 0 }, flip: true }),
  loop: () => pickLoop(pickedEdges()[0]!, true),
  drop: async () => { picked.clear(); pickedFaces.clear(); drawPicks(); },
};
async function facesByVerb(verb: string): Promise<void> {
  const angle = verb === "facing" ? value("set-angle") : value("set-crease");
  const from = verb === "unmapped" || verb === "invert" ? [...pickedFaces] : facePick();
  const faces = await doc.pickFaces(verb, from, angle);
  pickedFaces.clear();
  for (const f of faces) pickedFaces.add(f);
  drawPicks();
}

const keys: Record<string, string> = { c: "cut", v: "close", e: "flatten", k: "pack", t: "turn", o: "flip", g: "loop", p: "part-off", q: "alone", w: "aside", r: "everything", Escape: "drop" };

function watch(work: number): void {
  $("work").hidden = false;
  const events = new EventSource(`/works/${work}/events`);
  $("work-cancel").onclick = () => void attempt(() => ask(`/works/${work}/cancel`, {}));
  events.onmessage = (m) => {
    const w = JSON.parse(m.data as string) as { state: string; station: string; progress: number; message: string };
    $<HTMLProgressElement>("work-bar").value = w.progress;
    $("work-text").textContent = w.state === "waiting" ? "waiting for a worker" : `the whole job: ${w.station || "starting"}`;
    if (w.state === "waiting" || w.state === "running") return;
    events.close();
    $("work").hidden = true;
    if (w.state === "failed") trouble(new Refused(`The job stopped: ${w.message}.`, 500));
    void attempt(() => doc.refresh()).then(() => sheet.frame());
  };
}

function listen(): void {
  document.addEventListener("click", (e) => {
    const t = e.target as HTMLElement;
    const act = t.closest<HTMLElement>("[data-do]")?.dataset.do;
    if (act) { void attempt(verbs[act]!); return; }
    const fold = t.closest<HTMLElement>("[data-fold]")?.dataset.fold;
    if (fold !== undefined) {
      if (!unfolded.delete(fold)) unfolded.add(fold);
      filterCard();
      return;
    }
    const shape = t.closest<HTMLElement>("[data-shape]")?.dataset.shape;
    if (shape) { void attempt(() => doc.edit("set-shape", { part: chosenPart(), shape })); return; }
    const verb = t.closest<HTMLElement>("[data-pick]")?.dataset.pick;
    if (verb) { void attempt(() => facesByVerb(verb)); return; }
    const row = t.closest<HTMLElement>(".card tbody tr");
    const st = t.closest<HTMLElement>("[data-station]")?.dataset.station;
    if (st) station = st;
    if (row) { choose(Number(row.dataset.part), Number(row.dataset.face), !e.shiftKey, e.shiftKey); drawLines(); } else if (st) goTo(st);
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
    const verb = keys[e.key];
    if (verb) void attempt(verbs[verb]!);
  });
  document.addEventListener("keyup", (e) => { if (e.key === "l" || e.key === "L") piece.freehand = false; });
  document.addEventListener("change", (e) => {
    const id = (e.target as HTMLElement).id;
    if (id === "set-weight") void attempt(() => doc.edit("weigh", { parts: [...chosenParts], weight: value("set-weight") }));
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
  $("filter").oninput = filterCard;
  $("worklog-open").onclick = (e) => {
    const open = $("worklog").hidden;
    $("worklog").hidden = !open;
    (e.currentTarget as HTMLElement).setAttribute("aria-expanded", String(open));
    if (open) void loadWorklog();
  };
  for (const b of document.querySelectorAll<HTMLButtonElement>("[data-show]")) b.onclick = () => {
    show = b.dataset.show as Show;
    for (const o of document.querySelectorAll<HTMLElement>("[data-show]")) o.setAttribute("aria-pressed", String(o === b));
    const l = $("legend");
    l.hidden = show !== "stretch";
    l.innerHTML = "<i></i><div><span>×0.67 area</span><span>1</span><span>×1.5</span></div>";
    both((v) => v.paint(show, chosenParts));
  };
  const sizes = $<HTMLSelectElement>("template-size");
  const setSizes = (): void => { for (const a of document.querySelectorAll<HTMLAnchorElement>("a.sized")) a.search = `?size=${sizes.value}`; };
  sizes.onchange = setSizes;
  setSizes();
  document.body.addEventListener("htmx:afterSwap", () => markCard());
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
  attend($("piece-canvas"), (x, y) => piece.at(x, y));
  attend($("sheet-canvas"), (x, y) => sheet.at(x, y));
  listen();
  refreshViews();
  doc.onChange(refreshViews);
  const frame = (): void => { piece.draw(); sheet.draw(); requestAnimationFrame(frame); };
  frame();
  body.dataset.ready = "yes";
  if (Number(body.dataset.work)) watch(Number(body.dataset.work));
}

start().catch(trouble);
