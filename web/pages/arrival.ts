// What came in: the model turns until somebody takes it in hand, lines of the health list light
// their faces, and the document begins as it is asked for.
import { ask, Doc, Refused } from "../bench/doc";
import { lengthText, metres } from "../bench/units";
import { ProofCloth } from "../bench/view/cloth";
import { Piece } from "../bench/view/piece";

const body = document.body;
const $ = <T extends HTMLElement>(id: string): T => document.getElementById(id) as T;
const doc = new Doc(body.dataset.document!, body.dataset.hash!, 1);
const at = (path: string): string => `/documents/${doc.id}/arrival${path}`;

/** How many millimetres one of a unit is. */
const mm = (unit: string): number => (metres[unit] ?? 1) * 1000;
let typed = false; // a distance, by somebody

/** The size in the unit that is set. */
function size(): void {
  const unit = $<HTMLSelectElement>("unit").value;
  $("size").textContent = lengthText(Number(body.dataset.diagonal), unit);
  const weld = document.getElementById("weld") as HTMLInputElement | null;
  if (weld && !typed) weld.value = String(Number((Number(body.dataset.weld) * mm(unit)).toPrecision(3)));
}

$("unit").addEventListener("change", size);
size();

/** The distance for welding, in model units. */
const within = (): number => Number($<HTMLInputElement>("weld").value) / mm($<HTMLSelectElement>("unit").value);

const checked = (name: string): string[] => [...document.querySelectorAll<HTMLInputElement>(`input[name=${name}]:checked`)].map((x) => x.value);

/** The model it is the next revision of, 0 for none. */
const revises = (): number => Number((document.getElementById("revises") as HTMLSelectElement | null)?.value ?? 0);

document.getElementById("revises")?.addEventListener("change", () => {
  $("open").textContent = revises() ? "See what it keeps" : "Open the bench";
  $("run").hidden = revises() > 0;
});

/** The buttons wait until the page hears them, so that no click is lost. */
function enable(on: boolean): void {
  for (const id of ["open", "run"]) $<HTMLButtonElement>(id).disabled = !on;
}

/** Begins as it is asked for and opens the bench. */
async function begin(run: boolean): Promise<void> {
  enable(false);
  $("trouble").hidden = true;
  const drop = [...document.querySelectorAll<HTMLInputElement>("input[name=keep]:not(:checked)")].map((x) => Number(x.value));
  const near = $<HTMLInputElement>("weld-near").checked;
  const asked = { base: Number(body.dataset.revision), unit: $<HTMLSelectElement>("unit").value, up: $<HTMLSelectElement>("up").value, repairs: [...new Set(checked("repair"))], weld: near || checked("repair").includes("weld") ? within() : 0, drop, merge: !!(document.getElementById("merge") as HTMLInputElement | null)?.checked, run, ...(revises() ? { revises: revises() } : {}) };
  try {
    const answer = (await ask(at(""), asked).then((r) => r.json())) as { url: string };
    location.assign(answer.url);
  } catch (e) {
    $("trouble").textContent = e instanceof Refused ? e.message : "The server does not answer; try again in a moment.";
    $("trouble").hidden = false;
    enable(true);
  }
}
if (document.getElementById("open")) {
  $("open").onclick = () => void begin(false);
  $("run").onclick = () => void begin(true);
  enable(true);
  const weld = $<HTMLInputElement>("weld");
  const count = async (): Promise<void> => {
    const { points } = (await ask(at(`/weld?within=${within()}`)).then((r) => r.json())) as { points: number };
    $("welded").textContent = points === 1 ? "1 point" : `${points} points`;
  };
  weld.addEventListener("input", () => { typed = true; });
  weld.addEventListener("change", () => void count().catch((e: unknown) => { $("welded").textContent = e instanceof Error ? e.message : ""; }));
  void count();
}

async function show(): Promise<void> {
  await doc.load();
  const piece = new Piece($<HTMLCanvasElement>("piece-canvas"), document.querySelector<SVGSVGElement>("#piece-over")!, doc, new ProofCloth(doc));
  piece.faces.paint("parts", new Set());
  const up = document.getElementById("up") as HTMLSelectElement | null;
  up?.addEventListener("change", () => piece.stand(up.value));
  let turning = !matchMedia("(prefers-reduced-motion: reduce)").matches, last = performance.now();
  const stop = (): void => { turning = false; };
  for (const kind of ["pointerdown", "wheel", "keydown"]) $("piece-canvas").addEventListener(kind, stop);
  let slow = 0; // pictures in a row: without a graphics card turning would only be in the way
  const frame = (now: number): void => {
    slow = now - last > 90 ? slow + 1 : 0;
    if (slow > 3) turning = false;
    if (turning) piece.turn((0.35 * Math.min(now - last, 100)) / 1000);
    last = now;
    piece.draw();
    body.dataset.drawn = String(piece.drawn);
    requestAnimationFrame(frame);
  };
  requestAnimationFrame(frame);
  const faces = (await ask(at("/faces")).then((r) => r.json())) as number[][];
  const lines = [...document.querySelectorAll<HTMLButtonElement>("button[data-place]")];
  for (const line of lines) line.onclick = () => {
    const on = line.getAttribute("aria-pressed") !== "true", list = on ? faces[Number(line.dataset.place)]! : [];
    for (const l of lines) l.setAttribute("aria-pressed", String(on && l === line));
    piece.faces.mark("picked", list);
    piece.touch();
    $("lit").hidden = !on;
    $("lit").textContent = list.length ? `${list.length === 1 ? "1 face is" : `${list.length} faces are`} lit` : "no faces to be lit";
    body.dataset.lit = String(list.length);
  };
  body.dataset.ready = "yes";
}
void show();
