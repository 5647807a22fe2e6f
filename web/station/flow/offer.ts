// What truing up would make of the shell that was chosen, tried without being asked: the
// suggestion the Flow station leads with.
import { figures } from "../../bench/figures";
import { html, show } from "../../bench/html";
import { shellsMeant } from "../../bench/chosen";
import { doc, live } from "../../bench/state";

let running: AbortController | null = null;
let left = ""; // what nobody wants to be offered again

const key = (faces: number[]): string => `${doc.meta.revision} ${String(faces)}`;

/** The share of straight from which nothing more is offered, and the gain that is worth an offer. */
const straight = 0.995, gain = 0.01;

export async function offerTrueUp(): Promise<void> {
  running?.abort();
  const el = document.getElementById("flow-offer");
  const faces = shellsMeant().filter((f) => doc.layout.faceShell[f]! >= 0);
  if (!el || !faces.length) return;
  const was = Math.min(1, ...faces.map((f) => doc.meta.shells[doc.layout.faceShell[f]!]?.straight ?? 1));
  const say = (text: string): void => { if (el.isConnected) el.textContent = text; }; // it may be another tray by now
  if (was > straight) { say("As straight as it gets."); return; }
  if (left === key(faces)) { say("Left as it is."); return; }
  const own = (running = new AbortController());
  const g = await doc.ghost("true-up", { faces }, own.signal, true).catch(() => null); // a lost offer is no trouble
  if (!g || own.signal.aborted || !el.isConnected || live.active) return;
  const will = g.straight ?? 1, pays = !g.refused && g.stretch && (faces.length > 1 || will > was + gain);
  if (!pays) { say(g.refused ? "It stays as it is." : "As straight as it gets."); el.title = g.refused ?? ""; return; }
  say(faces.length > 1 ? `True up ${faces.length} shells.` : "True up this shell.");
  show(document.getElementById("flow-figures")!, html`straight ${Math.floor(100 * was)} → <b>${Math.floor(100 * will)} %</b> · ${figures("true-up", g)}`);
  document.getElementById("flow-take")!.hidden = false;
}

export const takeOffer = (): Promise<void> => doc.edit("true-up", { faces: shellsMeant() });

export function leaveOffer(): void {
  left = key(shellsMeant().filter((f) => doc.layout.faceShell[f]! >= 0));
  document.getElementById("flow-take")!.hidden = true;
  document.getElementById("flow-offer")!.textContent = "Left as it is.";
}
