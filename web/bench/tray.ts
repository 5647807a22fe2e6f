// The tray of the station, the worklog, and what is chosen.
import { giveUp, reload, whenShown } from "./fragments";
import { morph } from "./html";
import { $, at, card, dial, doc, views } from "./state";
import { stations } from "./station";
import { batch } from "./store";

whenShown("tray", shown);

/** Shows the tray of the station, as it was sent or asked for; one that is still on its way is given up. */
export function loadTray(sent?: string): void {
  if (sent === undefined) { reload($("tray")); return; }
  giveUp($("tray"));
  morph($("tray"), sent);
  shown();
}

/** The tray stands there: its fields are as they were set, and its station goes to work. */
function shown(): void {
  dial.drop();
  restoreFields();
  showChosen();
  const here = stations[at.station]!;
  $("keys").textContent = here.help;
  views.lines.brass("suggested", []);
  void here.shown?.();
}

/** What the fields of a tray were set to stays when the tray is shown again. */
const kept = new Map<string, string>();
const fields = ["set-word", "set-grain", "set-degrees", "set-true", "set-tolerated", "set-within", "set-method", "set-where", "set-along", "set-reach", "set-limit", "set-angle", "set-above", "set-path", "pack-sizes", "pack-blocks", "place-unit", "place-turn", "place-step", "density-per", "density-of", "density-weight", "density-hidden", "density-across"];
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

/** Shows the worklog, as it was sent or asked for. */
export function loadWorklog(sent?: string): void { if (sent === undefined) reload($("worklog")); else morph($("worklog"), sent); }

export function goTo(s: string): void {
  batch(() => {
    const elsewhere = s !== at.station;
    if (elsewhere) stations[at.station]!.left?.();
    at.station = s;
    if (elsewhere) stations[s]!.entered?.();
  });
  loadTray();
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
  card.reveal(at.part);
  if (frame) views.piece.frame(part);
  loadTray();
}
