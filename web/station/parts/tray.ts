// The tray of the Parts station: reading, taking apart and uniting, faces going from part to part.
import { done, facePick, onePart, someParts, value } from "../../bench/chosen";
import { partFigures } from "../../bench/dial";
import { $, at, attempt, dial, doc } from "../../bench/state";
import type { Station } from "../../bench/station";
import { choose } from "../../bench/tray";

/** How a mesh is read, by what the tray says. */
const reading = (): object => ({ tolerance: value("set-tolerance"), crease_deg: value("set-crease") });
const recognition = (): object => ({ ...reading(), detail: value("set-detail", 0.5) });
/** What the detail is turned for: the chosen parts, or all. */
const detailed = (): object => ({ ...recognition(), ...(at.part >= 0 ? { parts: [...at.parts] } : {}) });

/** Edits that are shown while their button is pointed at. */
const foretold: Record<string, () => object> = { split: () => ({ part: onePart() }), unite: () => ({ ...reading(), part: onePart() }) };

/** Takes a part apart or unites it, and keeps what is at the clicked place chosen. */
async function regroup(kind: "split" | "unite"): Promise<void> {
  const params = foretold[kind]!(), face = at.face >= 0 ? at.face : doc.layout.facePart.indexOf(at.part);
  await doc.edit(kind, params);
  choose(doc.layout.facePart[face]!, face, false);
}

/** Shows what a button would do while it is pointed at or has the focus. */
function foretell(e: Event): void {
  const b = (e.target as HTMLElement).closest<HTMLElement>("[data-foretell]");
  if (!b || b.contains((e as MouseEvent).relatedTarget as Node | null)) return;
  if (e.type === "mouseover" || e.type === "focusin") { void attempt(async () => dial.turn(b.dataset.foretell!, foretold[b.dataset.foretell!]!(), partFigures, $("detail-figures"))); return; }
  dial.drop();
  $("detail-figures").textContent = "";
}
for (const kind of ["mouseover", "focusin", "mouseout", "focusout"]) document.addEventListener(kind, foretell);

export const parts: Station = {
  help: "click a face · Shift adds · Alt takes away · double click: whole part · A takes apart · U unites · drag on empty ground frames, L freehand",
  verbs: {
    recognise: () => doc.edit("recognise", recognition()),
    "recognise-part": () => doc.edit("recognise", { ...recognition(), parts: someParts() }),
    "turn-detail": () => doc.edit("detail", detailed()),
    split: () => regroup("split"),
    unite: () => regroup("unite"),
    merge: () => doc.edit("merge", { parts: [...at.parts] }),
    assign: () => done(doc.edit("assign", { faces: facePick(), to: onePart() })),
    lock: () => doc.edit("lock", { parts: [...at.parts], locked: true }),
    unlock: () => doc.edit("lock", { parts: [...at.parts], locked: false }),
    give: () => doc.edit("give-to-repeats", { part: onePart() }),
    stack: () => doc.edit("give-to-repeats", { part: onePart(), stacked: true }),
    "follow-mirror": () => doc.edit("follow-mirror", {}),
  },
  keys: { a: "split", u: "unite" },
  clicks: { shape: (shape) => void attempt(() => doc.edit("set-shape", { part: onePart(), shape })) },
  changes: {
    "set-name": () => void attempt(() => doc.edit("rename", { part: onePart(), name: $<HTMLInputElement>("set-name").value })),
    "set-weight": () => void attempt(() => doc.edit("weigh", { parts: [...at.parts], weight: value("set-weight") })),
  },
  inputs: { "set-detail": () => dial.turn("detail", detailed(), partFigures, $("detail-figures")) },
};
