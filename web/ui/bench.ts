// The bench: ties the views, the route card, the trays and the keys together.
import htmx from "htmx.org";
import { Doc, Refused, ask } from "./doc";
import { proofCloth } from "./cloth";
import { Piece, type Pointed } from "./piece";
import { Sheet } from "./sheet";
import type { Faces, Show } from "./scene";

const $ = <T extends HTMLElement>(id: string): T => document.getElementById(id) as T;
const body = document.body;
const doc = new Doc(body.dataset.document!, body.dataset.hash!);

let station = "Parts";
let chosen = -1; // part
let chosenFace = -1;
let show: Show = "parts";
let hovered = -1;
const picked = new Set<number>();
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

function cornersOf(edges: Iterable<number>): number[] {
  const out: number[] = [];
  for (const e of edges) out.push(doc.edgeCorners[2 * e]!, doc.edgeCorners[2 * e + 1]!);
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
  body.dataset.picked = String(picked.size);
  if (picked.size === 0) { $("tag").hidden = true; return; }
  let length = 0;
  for (const e of picked) length += doc.edgeLength(e);
  pickText = `${picked.size} ${picked.size === 1 ? "edge" : "edges"} · ${length.toPrecision(3)} ${doc.meta.unit}${pickNote ? " · " + pickNote : ""}`;
  $("tag").textContent = pickText;
  $("readout").textContent = `picked ${pickText}`;
}
let pickText = "";

function refreshViews(): void {
  const m = doc.meta;
  for (const e of [...picked]) if (e >= doc.mesh.bend.length) picked.delete(e);
  piece.faces.setPlaces();
  sheet.update();
  both((v) => v.paint(show, chosen));
  drawLines();
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
    $("keys").textContent = { Seams: "click an edge · Shift adds · Alt takes away · double click: whole loop", Sheet: "drag a shell to move it · T quarter turn · O turn over" }[station] ?? "drag orbits · Shift drag pans · wheel zooms · Home frames";
  } catch (e) { trouble(e); }
}

async function loadWorklog(): Promise<void> { try { $("worklog").innerHTML = await fragment(`${doc.base}/worklog`); } catch (e) { trouble(e); } }

function goTo(s: string): void {
  station = s;
  markCard();
  drawLines();
  void loadTray();
}

function choose(part: number, face: number, frame: boolean): void {
  chosen = part;
  chosenFace = face;
  both((v) => v.paint(show, chosen));
  if (frame) piece.frame(part);
  $("piece-note").textContent = part >= 0 ? doc.meta.parts[part]?.name ?? "" : "";
  markCard(true);
  void loadTray();
}

function markCard(scroll = false): void {
  for (const b of document.querySelectorAll<HTMLElement>(".card thead button")) b.toggleAttribute("aria-current", b.dataset.station === station);
  for (const r of document.querySelectorAll<HTMLElement>(".card tbody tr")) {
    const on = r.dataset.part === String(chosen);
    r.classList.toggle("chosen", on);
    if (on && scroll) r.scrollIntoView({ block: "nearest" });
  }
  filterCard();
}

function filterCard(): void {
  const words = $<HTMLInputElement>("filter").value.toLowerCase();
  for (const r of document.querySelectorAll<HTMLElement>(".card tbody tr")) r.hidden = !r.dataset.name!.includes(words);
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

function pick(p: Pointed | null, e: PointerEvent): void {
  if (!p) return;
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
    if (picked.size && canvas.id === "piece-canvas") {
      const t = $("tag");
      t.hidden = false;
      t.style.left = `${e.offsetX}px`;
      t.style.top = `${e.offsetY + 32}px`;
    }
  });
  canvas.addEventListener("dblclick", (e) => {
    const p = at(e.offsetX, e.offsetY);
    if (p && p.edge >= 0) void attempt(() => pickLoop(p.edge, e.shiftKey));
    else if (p) choose(doc.layout.facePart[p.face]!, p.face, true);
  });
}

// Verbs, by button and by key.

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
  recognise: () => doc.edit("recognise", {}),
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
  drop: async () => { picked.clear(); drawPicks(); },
};
const keys: Record<string, string> = { c: "cut", v: "close", e: "flatten", k: "pack", t: "turn", o: "flip", g: "loop", Escape: "drop" };

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
    const row = t.closest<HTMLElement>(".card tbody tr");
    const st = t.closest<HTMLElement>("[data-station]")?.dataset.station;
    if (st) station = st;
    if (row) { choose(Number(row.dataset.part), Number(row.dataset.face), true); drawLines(); } else if (st) goTo(st);
    const finding = t.closest<HTMLElement>("[data-finding]");
    if (finding) {
      const face = Number(finding.dataset.face);
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
    const verb = keys[e.key];
    if (verb) void attempt(verbs[verb]!);
  });
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
    both((v) => v.paint(show, chosen));
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
  piece = new Piece($<HTMLCanvasElement>("piece-canvas"), doc, cloth);
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
