// Which cloth is laid on model and sheet, in which real size: patterns, and pictures of people, kept
// with the project.
import { ask, Refused, sendFile } from "./doc";
import { html, show, type Markup } from "./html";
import { at, attempt, body, doc, views } from "./state";
import { metres } from "./units";
import { cloths, lit, type Cloth, type ProofCloth } from "./view/cloth";
import { mostLayers } from "./view/scene";

interface Own { id: number; name: string; width: number; height: number }

let own: Own[] = [];
let asked = false;
let material = ""; // that is dressed, "" for the whole model
const typed = new Map<string, string>(); // how long each cloth is, in millimetres

const pictured = new Map<string, number>(); // which picture was laid on each last

/** The number of the picture that is laid now, 0 for none. */
const shown = (): number => (laid().kind === "own" ? (pictured.get(views.cloths.has(material) ? material : "") ?? 0) : 0);

/** The cloth that is chosen now. */
export const laid = (): ProofCloth => views.cloths.on(material);

/** Lays a pattern, or a picture, on what is chosen. */
export function dress(kind: Cloth, picture?: HTMLImageElement): void {
  const c = views.cloths.own(material);
  if (!c) throw new Refused(`At most ${mostLayers} cloths are laid at once; let another material have that of the whole model first.`, 422);
  c.show(kind, picture);
  at.worn++;
}

/** What can be dressed: the whole model, or one of its materials. */
function dressed(): Markup | string {
  const all = [...new Set(doc.meta.parts.map((p) => p.material))].filter((m) => m !== "").sort();
  if (all.length < 2) return "";
  if (material !== "" && !all.includes(material)) material = "";
  return html`<span class="set font-body whitespace-nowrap">on <select id="cloth-on" class="max-w-[110px]" aria-label="What the cloth is laid on"><option value="">everything</option>${all.map((m) => html`<option value="${m}" ?selected=${m === material}>${m}${views.cloths.has(m) ? " ·" : ""}</option>`)}</select>${views.cloths.has(material) ? html` <button class="chip" id="cloth-same" title="Lets this material have what everything has">as all</button>` : ""}</span>`;
}

/** What can be chosen, in the legend. */
export function showClothes(): void {
  const el = document.getElementById("cloth");
  if (!el) return;
  if (!asked) { asked = true; void attempt(load); }
  show(el, html`<div class="chips flex-wrap justify-start!" role="group" aria-label="Pattern of the cloth">${cloths.map((k) => html`<button data-cloth="${k}" aria-pressed="${String(laid().kind === k)}">${k}</button>`)}${lit.map((k) => html`<button data-cloth="${k}" aria-pressed="${String(laid().kind === k)}" title="seen in the light: highlights follow the grain">${k}</button>`)}${own.map((p) => html`<button data-own="${p.id}" aria-pressed="false" title="${p.width} × ${p.height} px">${p.name}</button>`)}<label class="chip cursor-pointer" for="cloth-file" title="A picture of your own, PNG or JPEG, kept with the project">own picture</label><input id="cloth-file" type="file" accept="image/png,image/jpeg" class="visually-hidden">${shown() ? html`<button data-drop-own="${shown()}" title="Forget this picture">forget</button><label class="set" title="It is laid once on the sheet, and does not go on over its borders"><input type="checkbox" id="cloth-once" ?checked=${laid().once}> once</label>` : html``}${dressed()}<span class="set font-body whitespace-nowrap" title="How long the whole cloth is on the model">length <input id="cloth-length" class="w-20!" type="number" min="0" step="any" placeholder="a tile" value="${typed.get(material) ?? ""}" aria-label="Length of the cloth, mm"> mm</span></div>`);
}

/** Marks the picture that is laid. */
export function markOwn(): void {
  for (const b of document.querySelectorAll<HTMLElement>("[data-own]")) b.setAttribute("aria-pressed", String(Number(b.dataset.own) === shown()));
}

async function load(): Promise<void> {
  own = (await ask(doc.at("cloths")).then((r) => r.json())) as Own[];
  showClothes();
  markOwn();
}

async function layOwn(id: number): Promise<void> {
  const i = new Image();
  i.src = `/cloths/${id}`;
  await i.decode();
  dress("own", i);
  pictured.set(material, id);
  showClothes();
  markOwn();
  body.dataset.clothOwn = String(id);
}

async function bring(file: File): Promise<void> {
  const name = file.name.replace(/\.\w+$/, "").slice(0, 40), kept = (await sendFile(doc.at(`cloths?name=${encodeURIComponent(name)}`), file).then((r) => r.json())) as Own;
  await load();
  await layOwn(kept.id);
}

async function forget(id: number): Promise<void> {
  await ask(doc.at(`cloths/${id}`), undefined, undefined, "DELETE");
  dress("squares");
  await load();
}

export function listenClothes(): void {
  document.addEventListener("click", (e) => {
    const t = e.target as HTMLElement, id = t.closest<HTMLElement>("[data-own]")?.dataset.own, gone = t.closest<HTMLElement>("[data-drop-own]")?.dataset.dropOwn;
    if (id) void attempt(() => layOwn(Number(id)));
    else if (gone) void attempt(() => forget(Number(gone)));
    else if (t.closest("#cloth-same")) {
      views.cloths.drop(material);
      at.worn++;
      showClothes();
      markOwn();
    } else if (t.closest("[data-cloth]")) { showClothes(); markOwn(); }
  });
  document.addEventListener("change", (e) => {
    const on = e.target as HTMLSelectElement;
    if (on.id === "cloth-on") {
      material = on.value;
      showClothes();
      markOwn();
    }
    const input = e.target as HTMLInputElement;
    if (input.id === "cloth-file" && input.files?.[0]) { const file = input.files[0]; input.value = ""; void attempt(() => bring(file)); }
    if (input.id === "cloth-once") {
      laid().once = input.checked;
      dress("own");
    }
    if (input.id === "cloth-length") {
      typed.set(material, input.value);
      laid().length(Number(input.value) > 0 ? Number(input.value) / 1000 / (metres[doc.meta.unit] ?? 1) : 0);
      dress(laid().kind);
    }
  });
}
