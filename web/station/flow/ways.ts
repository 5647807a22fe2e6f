// The ways of flattening side by side: what each makes of the shell, in a small picture and figures.
import { ask } from "../../bench/doc";
import { html, show } from "../../bench/html";
import { outlinePath } from "../../bench/outline";
import { shellsMeant } from "../../bench/chosen";
import { doc } from "../../bench/state";
import { times } from "../../bench/units";

interface Way { method: string; l2: number; angular: number; why?: string; outline: number[] }

let running: AbortController | null = null;

const names: Record<string, string> = { "": "shape", isometric: "lengths", even: "evenly", conformal: "angles", "angle-based": "by angle" };

const chosen = (): string => (document.getElementById("set-method") as HTMLSelectElement | null)?.value ?? "";

function draw(el: HTMLElement, list: Way[]): void {
  show(el, html`${list.map((w) => html`<button class="chip flex h-auto! items-center gap-1 px-1! py-0.5!" data-way="${w.method}" aria-pressed="${String(w.method === chosen())}" ?disabled="${!!w.why}" title="${w.why ?? `L² ${w.l2.toFixed(4)}`}"><svg class="block text-ink max-[1239px]:hidden" viewBox="0 0 40 40" width="34" height="34" aria-hidden="true"><path d="${outlinePath(w.outline, 40, 2)}" fill="none" stroke="currentColor" stroke-width="1"/></svg><span class="grid text-left leading-[1.15]"><b>${names[w.method]}</b><span class="num">${w.why ? "–" : times(w.angular)}</span></span></button>`)}`);
}

/** Compares all ways on the shells that are meant. */
export async function compareWays(): Promise<void> {
  running?.abort();
  const el = document.getElementById("ways"), own = (running = new AbortController());
  if (!el) return;
  el.textContent = "";
  const list = await ask(doc.at("flattenings"), { faces: shellsMeant() }, own.signal).then((r) => r.json() as Promise<Way[]>).catch(() => null); // one can choose without it
  if (list && !own.signal.aborted && el.isConnected) draw(el, list);
}

/** Chooses a way, as the list does. */
export function takeWay(method: string): void {
  const sel = document.getElementById("set-method") as HTMLSelectElement;
  sel.value = method;
  sel.dispatchEvent(new Event("change", { bubbles: true }));
  for (const b of document.querySelectorAll<HTMLElement>("[data-way]")) b.setAttribute("aria-pressed", String(b.dataset.way === method));
}
