// What was painted on the map, on model and sheet: brought in here or by whatever paints it, and
// shown anew when it changes.
import { ask, sendFile } from "./doc";
import { html, show } from "./html";
import { watch } from "./work";
import { at, attempt, both, doc, views } from "./state";

export interface Painted { id: number; map: number; tile: number; name: string; sha256: string; width: number; height: number }

/** What was painted on a map, and how it goes to be painted. */
interface Told { pictures: Painted[]; sends: boolean; sent?: string; trouble?: string }

let told: Told = { pictures: [], sends: false }, of = 0; // of the map
const images = new Map<number, HTMLImageElement>();

/** What was painted on the first tile of the shown map. */
export const painted = (): Painted | undefined => (of === doc.meta.map ? told.pictures[0] : undefined);

const wide = (): number => (doc.meta.settings.sheet.wide ? 2 : 1);
const tiles = (): number => doc.meta.settings.sheet.tiles;

async function image(id: number): Promise<HTMLImageElement> {
  let i = images.get(id);
  if (!i) {
    i = new Image();
    i.src = `/pictures/${id}`;
    images.set(id, i);
    for (const old of images.keys()) if (images.size > 24) images.delete(old); else break;
  }
  await i.decode();
  return i;
}

/** Asks what was painted, and shows it if it is something else than before. */
export async function loadPainted(): Promise<void> {
  const map = doc.meta.map, before = told, answer = (await ask(doc.at("painted")).then((r) => r.json())) as Told;
  if (map !== doc.meta.map) return;
  const same = of === map && answer.pictures.length === before.pictures.length && answer.pictures.every((p, i) => p.id === before.pictures[i]!.id);
  [told, of] = [answer, map];
  if (!same) await wear(); else if (before.trouble !== told.trouble || before.sent !== told.sent || before.sends !== told.sends) say();
}

/** Puts what was painted on the views, or takes it off them. */
async function wear(): Promise<void> {
  if (at.show !== "painted") return;
  const here = told.pictures, parts = await Promise.all(Array.from({ length: tiles() }, async (_, t) => { const p = here.find((x) => x.tile === t); return p ? image(p.id) : null; }));
  if (at.show !== "painted") return;
  views.cloths.whole.wear({ tiles: parts, wide: wide() });
  document.body.dataset.painted = here.map((p) => p.id).join(" ");
  both(() => {});
  say();
}

/** Says in the legend what was painted, and takes pictures there. */
function say(): void {
  const el = document.getElementById("painted");
  if (!el) return;
  const n = tiles(), list = told.pictures;
  show(el, html`<div class="flex items-center gap-2 font-body text-[13px]/[1.4]">${list.length ? html`<span>${list.map((p) => `${n > 1 ? `${1001 + p.tile}: ` : ""}${p.name}, ${p.width} × ${p.height} px`).join(" · ")}</span>` : html`<span>Nothing was painted yet: bring a picture of the whole sheet, PNG or JPEG.</span>`}${n > 1 ? html`<select id="painted-tile" aria-label="Tile">${Array.from({ length: n }, (_, t) => html`<option value="${t}">${1001 + t}</option>`)}</select>` : html``}<label class="chip cursor-pointer" for="painted-file">${list.length ? "bring another" : "bring a picture"}</label><input id="painted-file" type="file" accept="image/png,image/jpeg" class="visually-hidden">${told.sends ? html`<button class="chip" data-do="send" title="Template, masks and baked pictures go to the folder where they are painted; what is saved there is shown here">${told.sent ? "send again" : "send to be painted"}</button>` : html``}${told.sent ? html`<a class="chip" href="/paintshop?sheet=${told.sent}" target="_blank">paint shop</a>` : html``}</div>${told.trouble ? html`<p class="mt-1 font-body text-[13px] font-semibold text-madder">${told.trouble}</p>` : html``}`);
}

/** Brings in line what is shown with whether it is the painting. */
export function showPainted(): void {
  if (!views.cloths) return;
  say();
  if (at.show === "painted") void attempt(async () => { await loadPainted(); await wear(); });
  else { views.cloths.whole.wear(null); document.body.dataset.painted = ""; }
}

/** Another map may be shown now. */
export function takePainted(): void {
  if (at.show === "painted" && of !== doc.meta.map) void attempt(loadPainted);
}

/** Takes a picture as what was painted. */
async function paintWith(file: File, tile: number): Promise<void> {
  await sendFile(doc.at(`painted?tile=${tile}&name=${encodeURIComponent(file.name)}`), file);
  await loadPainted();
}

/** Sends the sheet to be painted: what a painter needs, of the shown map. */
export async function send(): Promise<void> {
  const order = { items: ["obj", "template.png", "template.svg", "mask.part", "mask.material", "bake.normals", "bake.exposure"], maps: [doc.meta.map] };
  const { work } = (await ask(doc.at("deliveries"), order).then((r) => r.json())) as { work: number };
  if (!(await watch(work))) return;
  await ask(`/works/${work}/send`, {});
  await loadPainted();
}

const lookAgain = 1500; // milliseconds

export function listenPainted(): void {
  document.addEventListener("change", (e) => {
    const input = e.target as HTMLInputElement;
    if (input.id !== "painted-file" || !input.files?.[0]) return;
    const file = input.files[0], tile = Number((document.getElementById("painted-tile") as HTMLSelectElement | null)?.value ?? 0);
    input.value = "";
    void attempt(() => paintWith(file, tile));
  });
  setInterval(() => { if (at.show === "painted" && !document.hidden) void loadPainted().catch(() => undefined); }, lookAgain);
}
