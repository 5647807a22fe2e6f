// Which cloth is laid on model and sheet, in which real size: patterns, and pictures of people, kept
// with the project.
import { ask, sendFile } from "./doc";
import { html, show } from "./html";
import { at, attempt, body, doc, views } from "./state";
import { metres } from "./units";
import { showCloth } from "./views";
import { cloths, lit } from "./view/cloth";

interface Own { id: number; name: string; width: number; height: number }

let own: Own[] = [], shown = 0; // the number of the picture that is laid, 0 for none
let asked = false;
let typed = ""; // how long the cloth is, in millimetres

/** What can be chosen, in the legend. */
export function showClothes(): void {
  const el = document.getElementById("cloth");
  if (!el) return;
  if (!asked) { asked = true; void attempt(load); }
  show(el, html`<div class="chips flex-wrap justify-start!" role="group" aria-label="Pattern of the cloth">${cloths.map((k) => html`<button data-cloth="${k}" aria-pressed="${String(views.cloth.kind === k)}">${k}</button>`)}${lit.map((k) => html`<button data-cloth="${k}" aria-pressed="${String(views.cloth.kind === k)}" title="seen in the light: highlights follow the grain">${k}</button>`)}${own.map((p) => html`<button data-own="${p.id}" aria-pressed="false" title="${p.width} × ${p.height} px">${p.name}</button>`)}<label class="chip cursor-pointer" for="cloth-file" title="A picture of your own, PNG or JPEG, kept with the project">own picture</label><input id="cloth-file" type="file" accept="image/png,image/jpeg" class="visually-hidden">${shown ? html`<button data-drop-own="${shown}" title="Forget this picture">forget</button>` : html``}<span class="set font-body whitespace-nowrap" title="How long the whole cloth is on the model">length <input id="cloth-length" class="w-20!" type="number" min="0" step="any" placeholder="a tile" value="${typed}" aria-label="Length of the cloth, mm"> mm</span></div>`);
}

/** Marks the picture that is laid. */
export function markOwn(): void {
  for (const b of document.querySelectorAll<HTMLElement>("[data-own]")) b.setAttribute("aria-pressed", String(views.cloth.kind === "own" && Number(b.dataset.own) === shown));
}

async function load(): Promise<void> {
  own = (await ask(doc.at("cloths")).then((r) => r.json())) as Own[];
  showClothes();
  markOwn();
}

async function lay(id: number): Promise<void> {
  const i = new Image();
  i.src = `/cloths/${id}`;
  await i.decode();
  shown = id;
  views.cloth.show("own", i);
  showCloth("own");
  showClothes();
  markOwn();
  body.dataset.clothOwn = String(id);
}

async function bring(file: File): Promise<void> {
  const name = file.name.replace(/\.\w+$/, "").slice(0, 40), kept = (await sendFile(doc.at(`cloths?name=${encodeURIComponent(name)}`), file).then((r) => r.json())) as Own;
  await load();
  await lay(kept.id);
}

async function forget(id: number): Promise<void> {
  await ask(doc.at(`cloths/${id}`), undefined, undefined, "DELETE");
  shown = 0;
  showCloth("squares");
  await load();
}

export function listenClothes(): void {
  document.addEventListener("click", (e) => {
    const t = e.target as HTMLElement, id = t.closest<HTMLElement>("[data-own]")?.dataset.own, gone = t.closest<HTMLElement>("[data-drop-own]")?.dataset.dropOwn;
    if (id) void attempt(() => lay(Number(id)));
    else if (gone) void attempt(() => forget(Number(gone)));
    else if (t.closest("[data-cloth]")) { shown = 0; showClothes(); markOwn(); }
  });
  document.addEventListener("change", (e) => {
    const input = e.target as HTMLInputElement;
    if (input.id === "cloth-file" && input.files?.[0]) { const file = input.files[0]; input.value = ""; void attempt(() => bring(file)); }
    if (input.id === "cloth-length") {
      typed = input.value;
      views.cloth.length(Number(typed) > 0 ? Number(typed) / 1000 / (metres[doc.meta.unit] ?? 1) : 0);
      if (at.show === "cloth") showCloth(views.cloth.kind);
    }
  });
}
