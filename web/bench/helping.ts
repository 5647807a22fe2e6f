// The help over the bench: all verbs and keys, those of the station that is shown in view.
import { listenHelp } from "../help/search";
import { reload, whenShown } from "./fragments";
import { $, at, focusView } from "./state";

export function openHelp(): void {
  const box = $<HTMLDialogElement>("help");
  box.showModal();
  if ($("help-what").childElementCount) toStation(); else reload($("help-what"));
}

function toStation(): void {
  document.getElementById(`help-${at.station}`)?.scrollIntoView();
  document.getElementById("help-words")?.focus({ preventScroll: true });
}

export function listenHelping(): void {
  listenHelp();
  whenShown("help-what", toStation);
  const box = $<HTMLDialogElement>("help");
  box.addEventListener("close", () => { if (document.activeElement === document.body) focusView(); });
}
