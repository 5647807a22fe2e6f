// What truing up would make of the shell that was chosen, tried without being asked: the
// suggestion the Flow station leads with.
import { times } from "../../bench/units";
import { $, doc, shellsMeant } from "../../bench/state";

let running: AbortController | null = null;

export async function offerTrueUp(): Promise<void> {
  running?.abort();
  const el = document.getElementById("flow-offer");
  const faces = shellsMeant();
  const was = Math.min(1, ...faces.map((f) => doc.meta.shells[doc.layout.faceShell[f] ?? -1]?.straight ?? 1));
  if (!el || was > 0.995) return;
  const own = (running = new AbortController());
  const say = (text: string): void => {
    if (!el.isConnected) return; // another tray by now
    el.textContent = `· ${text}`;
    $("flow-lead").title = text;
  };
  const g = await doc.ghost("true-up", { faces }, own.signal, true).catch(() => null); // a lost offer is no trouble
  if (!g || own.signal.aborted) return;
  const will = g.straight ?? 1;
  if (g.refused) say(g.refused.replace(/^.* stays as it is: /, "stays: "));
  else if (faces.length > 1) say(g.stretch ? `${g.said!.split(",")[0]} at ${times(g.stretch.will.angular)}` : "as straight as they get");
  else say(g.stretch && will > was + 0.01 ? `trued up ${Math.floor(100 * will)} % at ${times(g.stretch.will.angular)}` : "as straight as it gets");
}
