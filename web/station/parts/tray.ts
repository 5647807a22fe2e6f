// The tray of the Parts station: reading, taking apart and uniting, faces going from part to part.
import { chosenPart, facePick, onePart, someParts, value, written } from "../../bench/chosen";
import { at, attempt, doc, picks } from "../../bench/state";
import type { Act, Station } from "../../bench/station";
import { choose } from "../../bench/tray";

/** How a mesh is read, by what the form says. */
const reading = (): object => ({ tolerance: value("set-tolerance"), crease_deg: value("set-crease", Number(doc.meta.settings.crease_deg)) });
const recognition = (): object => ({ ...reading(), detail: value("set-detail", 0.5) });

/** Takes a part apart or unites it, and keeps what is at the clicked place chosen. */
function regroup(kind: "split" | "unite", params: () => object): Act {
  let face = -1;
  return {
    edits: () => { face = at.face >= 0 ? at.face : doc.layout.facePart.indexOf(onePart()); return [kind, params()]; },
    after: () => choose(doc.layout.facePart[face]!, face, false),
  };
}

/** Locks the chosen parts, or lets all go if all are locked. */
const lock = (): [string, object] => {
  const parts = someParts();
  return ["lock", { parts, locked: !parts.every((p) => doc.meta.parts[p]!.locked) }];
};

export const parts: Station<"Parts"> = {
  help: "click a face · Shift adds · Alt takes away · double click: whole part · drag on empty ground frames, L freehand",
  kinds: ["faces"],
  shows: ["faces", "parts", "model", "choose", "view"],
  verbs: {
    assign: { edits: () => ["assign", { faces: facePick(), to: onePart() }], after: () => picks.takeFaces([], "instead") },
    "recognise-part": { tries: () => ["recognise", { ...recognition(), parts: someParts() }] },
    recognise: { tries: () => ["recognise", recognition()] },
    "turn-detail": { tries: () => ["detail", { ...recognition(), ...(at.part >= 0 ? { parts: [...at.parts] } : {}) }] },
    split: regroup("split", () => ({ part: onePart() })),
    unite: regroup("unite", () => ({ ...reading(), part: onePart() })),
    merge: { edits: () => ["merge", { parts: someParts() }] },
    lock: { edits: lock },
    rename: { asks: () => doc.edit("rename", { part: chosenPart(), name: written("set-name") }) },
    weigh: { asks: () => doc.edit("weigh", { parts: someParts(), weight: value("set-weight", 1) }) },
    give: { edits: () => ["give-to-repeats", { part: onePart() }] },
    stack: { edits: () => ["give-to-repeats", { part: onePart(), stacked: true }] },
    "follow-mirror": { edits: () => ["follow-mirror", {}] },
  },
  clicks: { shape: (shape) => void attempt(() => doc.edit("set-shape", { part: onePart(), shape })) },
};
