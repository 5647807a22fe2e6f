// The seal of the shown map: once it is painted, what lies on it does not move.
import { html, show } from "./html";
import { loadPainted, painted } from "./painted";
import { showMap } from "./maps";
import { $, attempt, doc } from "./state";

const box = (): HTMLDetailsElement => $<HTMLDetailsElement>("seal");
const shown = () => doc.meta.maps.find((m) => m.id === doc.meta.map)!;

/** Says whether the shown map is sealed. */
export function showSeal(): void {
  const m = shown();
  $("seal-state").textContent = m.sealed ? "sealed" : "seal";
  $("seal-state").classList.toggle("font-semibold", !!m.sealed);
  document.body.dataset.sealed = m.sealed ? "yes" : "";
  if (box().open) say();
}

function say(): void {
  const m = shown(), p = painted();
  const kept = !m.picture ? html`without a picture` : p?.sha256 === m.picture ? html`with ${p.name}` : html`with a picture that is not the one here now`;
  show($("seal-what"), m.sealed
    ? html`<p>${m.name} is sealed, ${kept}. Whatever would move what lies on it is refused; names, grain and other maps can change.</p><p class="mt-2 flex gap-2"><button class="button" data-do="copy-map">Work on a copy</button><button class="button quiet" data-do="unseal">Unseal</button></p>`
    : html`<p>Seal ${m.name} once it is painted: nothing that lies on it moves any more, whatever is done.</p><p class="mt-2"><button class="button" data-do="seal">${p ? html`Seal with ${p.name}` : "Seal"}</button></p>`);
}

export const seal = (): Promise<void> => doc.edit("seal-map", painted() ? { picture: painted()!.sha256 } : {});
export const unseal = (): Promise<void> => doc.edit("unseal-map", {});

/** A copy of the shown map with all its shells, which is not sealed, and shows it. */
export async function copyMap(): Promise<void> {
  const m = shown();
  await doc.edit("make-map", { name: `${m.name.slice(0, 50)}, copy`, purpose: m.purpose, all: true });
  await showMap(Math.max(...doc.meta.maps.map((x) => x.id)));
}

export function listenSeal(): void {
  box().addEventListener("toggle", () => { if (box().open) void attempt(async () => { await loadPainted(); say(); }); });
  $("banner-copy").onclick = () => void attempt(copyMap);
}
