// The maps of the document: which is shown, and what can be done to them.
import { Refused } from "./doc";
import { reload } from "./fragments";
import { leaveForm } from "./forms";
import { shellsMeant } from "./chosen";
import { $, at, attempt, doc, picks, views } from "./state";

const box = (): HTMLDetailsElement => $<HTMLDetailsElement>("maps");
const said = (id: string): string => $<HTMLInputElement>(id).value.trim();

/** Says which map is shown, everywhere it is said. */
export function showMaps(): void {
  const { maps, map } = doc.meta, shown = maps.find((m) => m.id === map)!;
  $("maps-name").textContent = shown.name;
  document.body.dataset.map = String(map);
  const url = new URL(location.href);
  if (map === maps[0]!.id) url.searchParams.delete("map"); else url.searchParams.set("map", String(map));
  if (url.href !== location.href) history.replaceState(null, "", url);
  if (box().open) reload($("maps-list"));
}

export function listenMaps(): void {
  box().addEventListener("toggle", () => { if (box().open) reload($("maps-list")); });
  $("maps-list").addEventListener("click", (e) => {
    const map = (e.target as HTMLElement).closest<HTMLElement>(".maplist [data-map]")?.dataset.map;
    if (map) void attempt(() => showMap(Number(map)));
  });
  $("maps-list").addEventListener("keydown", (e) => {
    if (e.key === "Escape") { box().open = false; $("maps-name").focus(); }
    if (e.key === "Enter" && e.target instanceof HTMLInputElement) void attempt(e.target.id === "map-new" ? makeMap : setMap);
  });
}

/** Shows a map in both views. */
export async function showMap(map: number): Promise<void> {
  if (map === doc.meta.map) return;
  leaveForm(); // what was set was meant for the other map
  await doc.show(map);
  views.sheet.frame();
}

/** Makes a map, with copies of shells if faces of them are given or all are asked for, and shows it. */
async function make(name: string, purpose: string, of: { all?: boolean; faces?: number[] }): Promise<void> {
  await doc.edit("make-map", { name, purpose, ...of });
  await showMap(Math.max(...doc.meta.maps.map((m) => m.id)));
}

const chosenShells = (): number[] => {
  const faces = shellsMeant().filter((f) => doc.layout.faceShell[f]! >= 0);
  if (faces.length) return faces;
  throw new Refused("Choose the shells first: click one on the sheet or on the model, or choose parts on the card.", 422);
};

export async function makeMap(): Promise<void> {
  const name = said("map-new"), along = said("map-with");
  if (!name) throw new Refused("Give the new map a name.", 422);
  await make(name, said("map-newpurpose"), along === "all" ? { all: true } : along === "chosen" ? { faces: chosenShells() } : {});
  $<HTMLInputElement>("map-new").value = "";
}

export const setMap = (): Promise<void> => doc.edit("set-map", { name: said("map-name"), purpose: said("map-purpose") });

export async function removeMap(): Promise<void> {
  const gone = doc.meta.map;
  await showMap(doc.meta.maps.find((m) => m.id !== gone)!.id);
  await doc.edit("remove-map", { map: gone });
}

export const copyShells = (): Promise<void> => doc.edit("copy-shells", { faces: chosenShells(), to: Number(said("map-to")) });

/** Where patterns that repeat belong: the shown map if it is tiling, else a tiling one, made if there is none, with the shells of some faces. */
export async function goTiling(faces: number[]): Promise<void> {
  const { maps, map } = doc.meta, tiling = maps.find((m) => m.purpose === "tiling");
  if (maps.find((m) => m.id === map)!.purpose === "tiling") return;
  const kept = { face: at.face, edges: [...picks.edges], faces: [...picks.faces] };
  const mapped = faces.filter((f) => doc.layout.faceShell[f]! >= 0);
  if (!tiling) await make("Tiling", "tiling", { faces: mapped });
  else {
    if (mapped.length) await doc.edit("copy-shells", { faces: mapped, to: tiling.id });
    await showMap(tiling.id);
  }
  at.face = kept.face;
  if (kept.edges.length) picks.take(kept.edges, "instead");
  picks.takeFaces(kept.faces, "instead");
}
