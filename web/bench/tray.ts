// The tray of the station, the worklog, and what is chosen.
import { ask } from "./doc";
import { morph } from "./html";
import { $, at, card, dial, doc, trouble, views } from "./state";
import { stations } from "./station";
import { batch } from "./store";

async function fragment(url: string, signal?: AbortSignal): Promise<string> { return (await ask(url, undefined, signal)).text(); }

let running: AbortController | null = null;

/** Shows the tray of the station, as it was sent or asked for; one that is still on its way is given up. */
export async function loadTray(sent?: string): Promise<void> {
  running?.abort();
  const own = (running = new AbortController());
  try {
    const text = sent ?? await fragment(doc.at(`tray?station=${at.station}&part=${at.part}`), own.signal);
    if (own.signal.aborted) return;
    dial.drop();
    morph($("tray"), text);
    restoreFields();
    showChosen();
    const here = stations[at.station]!;
    $("keys").textContent = here.help;
    views.lines.brass("suggested", []);
    await here.shown?.(own.signal);
  } catch (e) { if (!own.signal.aborted) trouble(e); }
}

/** What the fields of a tray were set to stays when the tray is shown again. */
const kept = new Map<string, string>();
const fields = ["set-word", "set-grain", "set-degrees", "set-true", "set-tolerated", "set-within", "set-method", "set-where", "set-along", "set-reach", "set-limit", "set-angle", "set-above", "set-path"];
document.addEventListener("change", (e) => {
  const t = e.target as HTMLInputElement | HTMLSelectElement;
  if (fields.includes(t.id)) kept.set(t.id, t.value);
});
function restoreFields(): void {
  for (const [id, v] of kept) {
    const el = document.getElementById(id) as HTMLInputElement | HTMLSelectElement | null;
    if (el) el.value = v;
  }
}

/** Says how many parts are chosen, where they are several. */
function showChosen(): void {
  const el = document.querySelector<HTMLElement>("#tray .trayname .soft");
  if (el && at.parts.size > 1) el.textContent = `${doc.meta.parts[at.part]?.name ?? ""} and ${at.parts.size - 1} more chosen`;
}

export async function loadWorklog(sent?: string): Promise<void> { try { morph($("worklog"), sent ?? await fragment(doc.at("worklog"))); } catch (e) { trouble(e); } }

export function goTo(s: string): void {
  batch(() => {
    if (s !== at.station) stations[at.station]!.left?.();
    at.station = s;
  });
  card.mark(at.station);
  void loadTray();
}

/** Chooses a part instead of others, or adds it to them or takes it out of them; -1 for none. */
export function choose(part: number, face: number, frame: boolean, add = false): void {
  batch(() => {
    const parts = new Set(add ? at.parts : []);
    if (add && parts.delete(part)) {
      at.part = [...parts].at(-1) ?? -1;
      at.face = at.part < 0 ? -1 : doc.layout.facePart.indexOf(at.part);
    } else {
      at.part = part;
      at.face = face;
      if (part >= 0) parts.add(part);
    }
    at.parts = parts;
    at.whole = false;
  });
  if (frame) views.piece.frame(part);
  void loadTray();
}
