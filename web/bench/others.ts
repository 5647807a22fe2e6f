// What others change meanwhile: it is heard of and shown at once, or, where somebody is in the middle of
// something, as soon as that is over.
import { line } from "./doc";
import { html, show } from "./html";
import { $, at, doc, join, live, setup, trouble } from "./state";
import { effect, store } from "./store";
import { tried } from "./forms";
import { me } from "./worklog";

interface Change { revision: number; who: string; says: string }

const news = store({ waiting: null as Change | null, pressed: false });
let shown = 0;

/** Whether something is begun that a new state would take away. */
function busy(): boolean {
  for (const w of [live, join, setup]) w.watch();
  void at.form;
  return news.pressed || join.active || live.active || (tried() && at.form !== "") || setup.ghost !== null;
}

/** A line about what somebody did, for a while. */
function say(c: Change, later: boolean): void {
  show($("others"), html`<span><b>${c.who || "Elsewhere"}</b>: ${c.says}</span>${later ? html`<span class="soft">shown when you are done here</span>` : ""}`);
  $("others").hidden = false;
  clearTimeout(shown);
  if (!later) shown = window.setTimeout(() => { $("others").hidden = true; }, 8000);
}

async function take(c: Change): Promise<void> {
  try {
    if (await doc.catchUp(c.revision)) say(c, false);
    else if (!news.waiting) $("others").hidden = true;
  } catch (e) { trouble(e); }
}

/** What is told may be what was done here; it is known by then. */
async function hear(c: Change): Promise<void> {
  const own = (): boolean => at.working && c.who === me();
  if (own()) return;
  await doc.settled();
  if (!own() && c.revision > doc.meta.revision) news.waiting = c;
}

/** Says that an edit waits for the server. */
function sayAway(): void {
  if (!line.waiting) { if (document.body.dataset.away) { delete document.body.dataset.away; $("others").hidden = true; } return; }
  document.body.dataset.away = "yes";
  clearTimeout(shown);
  show($("others"), html`<span>The server does not answer. Your edit is kept here and sent as soon as it does.</span><button class="button quiet flex-none" data-do="give-up">Give it up</button>`);
  $("others").hidden = false;
}

/** Listens while the page is seen: a browser has few lines to a server. */
export function listenOthers(): void {
  if (doc.past) return;
  effect(sayAway);
  addEventListener("beforeunload", (e) => { if (line.waiting) e.preventDefault(); });
  let stream: EventSource | null = null;
  const listen = (): void => {
    if (document.hidden) { stream?.close(); stream = null; return; }
    if (stream) return;
    stream = new EventSource(`/documents/${doc.id}/events`);
    stream.onmessage = (m) => void hear(JSON.parse(m.data as string) as Change);
    stream.onerror = () => { if (stream?.readyState === EventSource.CLOSED) { stream = null; setTimeout(listen, 3000); } };
  };
  document.addEventListener("visibilitychange", listen);
  addEventListener("pagehide", () => { stream?.close(); stream = null; });
  for (const [kind, down] of [["pointerdown", true], ["pointerup", false], ["pointercancel", false]] as const) document.addEventListener(kind, () => { news.pressed = down; }, true);
  effect(() => {
    const c = news.waiting;
    if (!c) return;
    if (busy()) { say(c, true); return; }
    news.waiting = null;
    void take(c);
  });
  listen();
}
