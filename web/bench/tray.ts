// The tray of the station, and what is chosen.
import { closeForm, formsShown, leaveForm, tried } from "./forms";
import { giveUp, reload, whenShown } from "./fragments";
import { morph } from "./html";
import { $, at, card, doc, focusView, live, views } from "./state";
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
  formsShown();
  showChosen();
  const here = stations[at.station]!;
  $("keys").textContent = here.help;
  views.lines.brass("suggested", []);
  void here.shown?.();
  if (document.activeElement === document.body) focusView(); // keys go on working
}

/** Says how many parts are chosen, where they are several. */
function showChosen(): void {
  const el = document.querySelector<HTMLElement>("#tray .trayname .soft");
  if (el && at.parts.size > 1) el.textContent = `${doc.meta.parts[at.part]?.name ?? ""} and ${at.parts.size - 1} more chosen`;
}

export function goTo(s: string): void {
  batch(() => {
    const elsewhere = s !== at.station;
    if (elsewhere) { stations[at.station]!.left?.(); leaveForm(); }
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
  if (tried() && !live.active) closeForm(); // it was refused for what was chosen before
  card.reveal(at.part);
  if (frame) views.piece.frame(part);
  loadTray();
}
