// The worklog: what was done and by whom, states that have a name, and the way back to a state.
import { ask } from "./doc";
import { reload } from "./fragments";
import { morph } from "./html";
import { $, attempt, doc, focusView } from "./state";

const year = 365 * 24 * 3600;

/** Shows the worklog, as it was sent or asked for. */
export function loadWorklog(sent?: string): void { if (sent === undefined) reload($("worklog")); else morph($("worklog"), sent); }

/** Whoever works here calls himself so from now on. */
function call(name: string): void {
  document.cookie = `who=${encodeURIComponent(name.trim())}; path=/; max-age=${year}; samesite=lax`;
  loadWorklog();
}

/** How whoever works here calls himself. */
export const me = (): string => document.body.dataset.seat || decodeURIComponent(/(?:^|; )who=([^;]*)/.exec(document.cookie)?.[1] ?? "");

async function name(): Promise<void> {
  await ask(doc.at("moments"), { name: $<HTMLInputElement>("moment-name").value });
  $<HTMLInputElement>("moment-name").value = "";
  focusView();
  loadWorklog();
}

/** Makes the model what it was in the state that is shown. */
export async function goBack(): Promise<void> {
  await ask(doc.at("go-back"), { base: doc.meta.revision, key: crypto.randomUUID() });
  location.assign(`/documents/${doc.id}?map=${doc.meta.map}`);
}

/** Forgets what was done so far, for good. */
async function endHistory(): Promise<void> {
  await doc.settled();
  await ask(doc.at("end-history"), { base: doc.meta.revision });
  await doc.refresh();
  loadWorklog();
}

function open(shown: boolean): void {
  $("worklog").hidden = !shown;
  document.body.classList.toggle("logged", shown); // it has room of its own beside the views
  $("worklog-open").setAttribute("aria-expanded", String(shown));
  if (shown) loadWorklog();
}

export function listenWorklog(): void {
  $("worklog-open").onclick = () => open($("worklog").hidden === true);
  if (doc.past) open(true); // whoever goes through states goes on from there
  $("worklog").addEventListener("submit", (e) => {
    e.preventDefault();
    if ((e.target as HTMLElement).id === "moment-form") void attempt(name); else $("who").blur();
  });
  $("worklog").addEventListener("change", (e) => { const t = e.target as HTMLInputElement; if (t.id === "who") call(t.value); });
  $("worklog").addEventListener("click", (e) => {
    const id = (e.target as HTMLElement).closest<HTMLElement>("[data-unname]")?.dataset.unname;
    if ((e.target as HTMLElement).closest("[data-end-history]")) void attempt(endHistory);
    if (id) void attempt(async () => { await ask(`/documents/${doc.id}/moments/${id}`, undefined, undefined, "DELETE"); loadWorklog(); });
  });
}
