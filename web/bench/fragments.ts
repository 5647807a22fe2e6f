// Fragments that htmx asks the server for, as the templates say: the card, the tray, the
// worklog, maps, suggestions. All are asked for with what is shown (#shown).
import htmx from "htmx.org";
import { patient, refusal } from "./doc";
import { at, doc, trouble } from "./state";

interface Told { ctx: { fetch?: typeof patient; text?: string; response?: { status: number } }; error?: unknown }

/** Asks for what an element shows anew; what is still on its way for it is given up. */
export function reload(el: Element): void {
  sayShown();
  htmx.trigger(el, "show", {}, false);
}

/** What is shown, as fragments are asked for with it. */
function sayShown(): void {
  for (const [name, value] of [["map", doc.meta.map], ["station", at.station], ["part", at.part]] as const) document.querySelector<HTMLInputElement>(`#shown [name=${name}]`)!.value = String(value);
}

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
}
