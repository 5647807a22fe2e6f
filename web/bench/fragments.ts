// Fragments that htmx asks the server for, as the templates say: the card, the tray, the
// worklog, maps, suggestions. All are asked for with what is shown (#shown).
import htmx from "htmx.org";
import { patient, refusal } from "./doc";
import { at, doc, trouble } from "./state";
import { effect } from "./store";

interface Told { ctx: { fetch?: typeof patient; text?: string; response?: { status: number } }; error?: unknown }

/** Asks for what an element shows anew; what is still on its way for it is given up. */
export const reload = (el: Element): void => { htmx.trigger(el, "show", {}, false); };

/** What is still on its way for an element is given up. */
export const giveUp = (el: Element): void => { htmx.trigger(el, "htmx:abort", {}, false); };

/** Calls f whenever a fragment was put into the element of an id. */
export function whenShown(id: string, f: () => void): void {
  document.addEventListener("htmx:after:swap", (e) => { if ((e.target as Element | null)?.id === id) f(); });
}

export function listenFragments(): void {
  const told = (e: Event): Told => (e as CustomEvent<Told>).detail;
  document.addEventListener("htmx:config:request", (e) => { told(e).ctx.fetch = patient; });
  document.addEventListener("htmx:response:error", (e) => { const { text, response } = told(e).ctx; trouble(refusal(response!.status, text ?? "")); });
  document.addEventListener("htmx:error", (e) => trouble(told(e).error));
  const field = (name: string): HTMLInputElement => document.querySelector<HTMLInputElement>(`#shown [name=${name}]`)!;
  effect(() => {
    field("map").value = String(doc.meta.map);
    field("station").value = at.station;
    field("part").value = String(at.part);
  });
}
