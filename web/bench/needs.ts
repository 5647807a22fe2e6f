// Why a verb cannot be done now: nothing it takes is picked, or something else is missing.
import { shellsMeant } from "./chosen";
import { join, live, at, chain, doc, picks, points, setup, shells } from "./state";
import type { Verb } from "../verbs/verbs";
import { kind } from "./kinds";
import { labelOf } from "./view/labels";

const some = (n: number, says: string): string => (n > 0 ? "" : says);

/** What a verb takes, or a sentence that it is missing. */
function lacks(takes: string): string {
  switch (takes) {
    case "points": return some(points.picked.size, "pick points first");
    case "edges": return some(picks.edges.size, "pick edges first");
    case "faces": return some(picks.faces.size, "pick faces first");
    case "shells": return some(at.station === "Sheet" ? shells.ids().size : shellsMeant().length, at.station === "Sheet" ? "choose shells first" : "choose a part or a shell first");
    case "parts": return some(at.parts.size, "choose a part first");
    case "begun": return some(Number(join.active || live.active || setup.current !== null || at.form !== ""), "nothing is shown to be taken");
  }
  return "";
}

const needs: Record<string, () => string> = {
  mapped: () => some(doc.meta.shells.length, "nothing is mapped yet"),
  recognised: () => some(doc.meta.parts.filter((p) => p.shape !== "free").length, "no part was recognised yet"),
  chosen: () => some(at.parts.size + picks.faces.size + shells.ids().size, "choose a part first, or pick faces"),
  "one part": () => (at.parts.size > 1 ? `it takes one part, and ${at.parts.size} are chosen` : some(at.parts.size, "choose a part first")),
  "several parts": () => some(at.parts.size - 1, "choose several parts first, with Shift on the card"),
  repeats: () => some(doc.meta.parts[at.part]?.repeats ?? 0, "no other part is like it"),
  picked: () => some(kind() === "shells" ? shells.ids().size : kind() === "points" ? points.picked.size : kind() === "edges" ? picks.edges.size : picks.faces.size, `pick ${kind()} first`),
  painting: () => some(Number(doc.meta.maps.find((m) => m.id === doc.meta.map)?.purpose !== "tiling"), "the shown map is a tiling one"),
  waiting: () => some(shells.waiting(), "nothing waits on the rack"),
  label: () => some(Number(at.face >= 0 && !!labelOf(doc, at.face)), "click a face of a word first"),
  finding: () => some(at.finding + 1, "choose a finding first"),
  mendable: () => some(document.querySelectorAll(`#findings > li:has([data-finding~="${at.finding}"]) [data-mend]`).length, "no verb mends this; go to it and mend it by hand, or accept it"),
  pins: () => some(doc.meta.pins.length, "nothing is pinned"),
};

/** Why a verb cannot be done now; nothing if it can. */
export function unmet(v: Verb): string {
  for (const n of v.needs ?? []) { const why = needs[n]!(); if (why) return why; }
  return lacks(v.takes);
}

/** Whatever decides about needs is watched from now on. */
export function watchNeeds(): void {
  for (const w of [picks, points, setup, live, join, shells, chain]) w.watch();
  void [doc.meta, at.station, at.part, at.parts, at.face, at.form, at.kinds, at.finding];
}
