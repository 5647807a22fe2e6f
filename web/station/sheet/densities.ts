// Density at the Sheet station: set, made equal, taken over, weighed; a plan of what is needed.
import { chosenIn, shellFaces, value } from "../../bench/chosen";
import { reload } from "../../bench/fragments";
import { at, doc, shells } from "../../bench/state";
import type { Asks, Does } from "../../bench/station";
import { chooseShells } from "./choose";

/** A face of each shell that the tray says densities are for; none for all. */
function meant(): number[] {
  const of = at.form === "density-all" && !shells.ids().size ? "all" : chosenIn("density-of");
  if (of === "all") return [];
  if (of === "material") chooseShells(shells.like("material"), "instead");
  return shellFaces();
}

const edit = (params: object): Promise<void> => doc.edit("density", { ...params, ...(at.andPack ? { pack: true } : {}) });

const asked: Asks = { asks: () => edit({ faces: meant(), px_per_unit: value("density-set") * Number(chosenIn("density-per")) }) };

export const verbs = {
  density: asked,
  "density-all": asked,
  "weigh-hidden": { asks: () => doc.edit("weigh-faces", { hidden: value("density-hidden", 0.15), weight: value("hidden-weight", 0.25) }) },
};

/** What other buttons of the form do. */
export const densityButtons: Record<string, Does> = {
  "density-equal": () => edit({ faces: meant() }),
  "density-like": () => { const [like, ...faces] = shellFaces(); return edit({ faces, like }); },
  "density-across": () => edit({ faces: shellFaces(), across: value("density-across", 1) }),
  weigh: () => doc.edit("weigh-faces", { faces: chosenFaces(), weight: value("density-weight", 1) }),
};

const chosenFaces = (): number[] => { shellFaces(); return shells.faces(); };

/** What is known of the density, in words. */
export function densityWords(): string {
  const { shells: all, unit } = doc.meta, of = shells.ids().size ? [...shells.ids()].map((s) => all[s]!) : all;
  if (!of.length) return "Nothing is mapped yet.";
  const own = of.map((s) => s.density), per = of.map((s) => s.density / s.weight), least = Math.min(...own), most = Math.max(...own);
  const spread = Math.max(...per) / Math.max(Math.min(...per), 1e-12), weights = [...new Set(of.map((s) => s.weight))];
  const what = shells.ids().size ? (of.length === 1 ? "the chosen shell" : `${of.length} chosen shells`) : `all ${of.length} shells`;
  const range = most < 1.005 * least ? `${most.toFixed(0)} px/${unit}` : `${least.toFixed(0)} to ${most.toFixed(0)} px/${unit}`;
  return `${what}: ${range}${spread > 1.02 ? `, ×${spread.toFixed(2)} apart` : of.length > 1 ? ", equal" : ""}${weights.some((w) => w !== 1) ? ` · weight ${weights.map((w) => `×${Number(w.toFixed(2))}`).join(", ")}` : ""}`;
}

/** Writes the density of what is chosen, or of all, into its field. */
export function writeDensity(): void {
  const el = document.getElementById("density-set") as HTMLInputElement | null;
  if (!el || el === document.activeElement) return;
  const ids = [...shells.ids()], d = ids.length ? doc.meta.shells[ids[0]!]!.density : doc.meta.density;
  el.value = String(Number((d / Number(chosenIn("density-per") || 1)).toPrecision(4)));
}

/** Asks for the plan of need. */
export function planNeed(): void {
  const form = document.getElementById("need-form");
  if (form) reload(form);
}
