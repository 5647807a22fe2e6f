// The verbs as the bench does them: by name, at the station that is shown or another.
import { sets, type Verb } from "../verbs/verbs";
import { Refused } from "./doc";
import { called, openForm } from "./forms";
import { unmet } from "./needs";
import { at, doc, foretold, live } from "./state";
import { common, stations, type Act } from "./station";
import { goTo } from "./tray";

/** A verb with the station it belongs to, "" for all. */
export interface Known { verb: Verb; station: string }

const known: Known[] = sets.flatMap((s) => s.verbs.map((verb) => ({ verb, station: s.station })));
const rank = (k: Known): number => (k.station === at.station ? 0 : k.station === "" ? 1 : 2);

/** All verbs, those of the shown station first. */
export const all = (): Known[] => [...known].sort((a, b) => rank(a) - rank(b));

/** The verbs that can be done at the shown station. */
export const here = (): Known[] => all().filter((k) => rank(k) < 2);

/** What a name means here. */
export const find = (name: string): Known | undefined => all().find((k) => k.verb.name === name);

const act = (k: Known): Act => (k.station ? stations[k.station]! : common).verbs[k.verb.name]!;

const once = ["undo", "redo", "again", "run"];
let last: Known | null = null;

/** Does a verb, or shows it first if it has settings or a price. */
export async function does(k: Known): Promise<void> {
  if (k.station && k.station !== at.station) goTo(k.station);
  foretold.drop();
  const why = unmet(k.verb);
  if (why) throw new Refused(`${called(k.verb)}: ${why}.`, 422);
  if (!["choose", "view", "begun", "page"].includes(k.verb.takes) && !once.includes(k.verb.name)) last = k;
  const a = act(k);
  if (typeof a === "function") await a();
  else if ("edits" in a) { await doc.edit(...a.edits()); a.after?.(); } else await openForm(k.verb, a);
}

/** Does what a button says: a verb, or what stands within a form or a list. */
export async function byName(name: string): Promise<void> {
  const button = stations[at.station]!.inner?.[name] ?? common.inner[name];
  if (button) { await button(); return; }
  const k = find(name);
  if (!k) throw new Error(`nobody knows the verb ${name}`);
  await does(k);
}

/** Does the last verb again, to what is picked now. */
export async function again(): Promise<void> {
  if (!last) throw new Refused("Nothing was done yet that could be done again.", 422);
  await does(last);
}

/** Shows what a verb would change while its button is pointed at. */
export function foretell(name: string): void {
  const k = find(name);
  if (!k || live.active || unmet(k.verb)) return;
  const a = act(k);
  if (typeof a !== "function" && "edits" in a) try { foretold.point(...a.edits()); } catch (e) { if (!(e instanceof Refused)) throw e; }
}
