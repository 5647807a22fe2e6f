// What a click picks at the station: points, edges, faces or shells.
import { at } from "./state";
import { stations, type Kind } from "./station";

export const kind = (): Kind => at.kinds[at.station] ?? stations[at.station]?.kinds[0] ?? "faces";

export const picksFaces = (): boolean => kind() === "faces";
export const picksPoints = (): boolean => kind() === "points" && !at.drawing;
export const picksShells = (): boolean => kind() === "shells";

/** Goes on with another kind, where the station knows it; null for the next of those it knows. */
export function pickKind(to: Kind | null): void {
  const all = stations[at.station]!.kinds;
  if (to && !all.includes(to)) return;
  at.kinds = { ...at.kinds, [at.station]: to ?? all[(all.indexOf(kind()) + 1) % all.length]! };
  at.drawing = false;
}
