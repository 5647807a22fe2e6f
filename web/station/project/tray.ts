// The tray of the Project station: kinds of projection and their parameters, jigs.
import { chosenIn, written } from "../../bench/chosen";
import { Refused } from "../../bench/doc";
import { closeForm } from "../../bench/forms";
import { goTiling } from "../../bench/maps";
import { attempt, doc, picks, setup, views } from "../../bench/state";
import type { Station } from "../../bench/station";
import { drawSetup } from "../../bench/views";
import { jigChosen, round, sayJig, setupFaces, showJigs, startSetup, ups } from "./setupview";

const eye = (): { X: number; Y: number; Z: number } => { const d = views.piece.toEye; return { X: d.x, Y: d.y, Z: d.z }; };

/** A number of the projection that is set up was written. */
function setField(el: HTMLInputElement): void {
  const x = Number(el.value), c = setup.current;
  if (!c || el.value === "" || !Number.isFinite(x)) return;
  if (el.id === "set-width") setup.resize("width", x);
  if (el.id === "set-height") setup.resize("height", x);
  if (el.id === "set-turn") setup.change({ turn_deg: x });
  const part = ({ "set-cx": "X", "set-cy": "Y", "set-cz": "Z" } as const)[el.id as "set-cx"];
  if (part) setup.change({ origin: { ...c.origin, [part]: x } });
}

async function layByJig(): Promise<void> {
  const jig = jigChosen(), faces = setupFaces();
  if (!jig) throw new Refused("Keep a projection as a jig first.", 422);
  if (!faces.length) throw new Refused("Pick faces first, or choose a part: they get the size and the up of the jig.", 422);
  await setup.layByJig(jig, faces);
  picks.takeFaces([], "instead");
}

/** The chosen jig gets the name and the size that are written; width and height of a locked one stay one number. */
async function changeJig(): Promise<void> {
  const jig = jigChosen();
  if (!jig) throw new Refused("Keep a projection as a jig first.", 422);
  const p = jig.projection, changed = (id: string, was: number): number => (written(id) === round(was) ? was : Number(written(id)));
  const width = changed("set-jigwidth", p.width), height = changed("set-jigheight", p.height), one = width === p.width ? height : width;
  await doc.changeJig(jig.id, written("set-jigsname"), { ...p, ...(p.free ? { width, height } : { width: one, height: one }) });
  await setup.loadJigs();
  showJigs(jig.id);
}

export const project: Station<"Project"> = {
  help: "click faces · double click: part · drag the knobs, Shift turns by 15°",
  kinds: ["faces"],
  shows: ["parts", "begun", "choose", "view"],
  verbs: {
    lay: async () => { await setup.lay(); picks.takeFaces([], "instead"); closeForm(); },
    settings: { asks: async () => { await setup.lay(); picks.takeFaces([], "instead"); } },
    "lay-jig": { asks: layByJig },
    "keep-jig": { asks: async () => {
      if (!setup.current) throw new Refused("Set a projection up first: choose a part or pick faces.", 422);
      await doc.keepJig(written("set-jigname"), setup.current);
      await setup.loadJigs();
      showJigs();
    } },
    "clear-these": { edits: () => ["clear", { faces: setupFaces() }] },
  },
  inner: {
    "lock-size": async () => setup.lock(),
    "mirror-map": async () => setup.change({ flip: !setup.current?.flip }),
    apart: async () => setup.change({ apart: !setup.current?.apart }),
    "jig-tiling": async () => { await goTiling(setupFaces()); await startSetup(); await layByJig(); closeForm(); },
    "change-jig": changeJig,
    "drop-jig": async () => { await doc.dropJig(Number(chosenIn("set-jig"))); await setup.loadJigs(); showJigs(); },
    "more-kinds": async () => setup.offerAll(),
    "form-close": async () => closeForm(),
  },
  clicks: { kind: (kind) => setup.choose(kind) },
  changes: {
    "set-axis": () => void attempt(async () => setup.axis(chosenIn("set-axis"), picks.faces.size ? setup.normal([...picks.faces].slice(-1)) : null, eye())),
    "set-upward": () => setup.change({ up: ups[chosenIn("set-upward")]! }),
    "set-jig": sayJig,
  },
  inputs: Object.fromEntries(["set-width", "set-height", "set-turn", "set-cx", "set-cy", "set-cz"].map((id) => [id, setField])),
  shown: async () => { await startSetup(); drawSetup(); },
  left: () => setup.drop(),
};
