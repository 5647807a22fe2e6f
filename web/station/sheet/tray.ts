// The tray of the Sheet station: what the sheet is made for, with what that costs; packing is a
// verb of all stations, dividing one of this.
import { chosenIn, value } from "../../bench/chosen";
import { sheetFigures } from "../../bench/dial";
import { $, dial, doc, live, shellsMeant, views } from "../../bench/state";
import type { Station } from "../../bench/station";

/** The settings of the sheet as the tray says them. */
function settings(pack: boolean): object {
  return {
    sheet: { size: value("sheet-size"), padding: value("sheet-padding"), margin: value("sheet-margin"), tiles: value("sheet-tiles") },
    turns: chosenIn("sheet-turns"), grain_on_v: chosenIn("sheet-grain") === "v", repeats: chosenIn("sheet-repeats"), pack,
  };
}

/** One of them is another: what packing by them would give is counted. */
function count(): void {
  if (doc.meta.shells.length) dial.turn("set-sheet", settings(true), sheetFigures, $("sheet-figures"));
}

export const sheet: Station = {
  help: "click a shell · drag it to move it · T quarter turn · O turn over · Esc lets go",
  verbs: {
    lanes: async () => {
      views.sheet.frame();
      await live.start("lanes", document.getElementById("set-lanes") ? { faces: shellsMeant(), pieces: value("set-lanes"), pack: true } : { pack: true }, false);
    },
    "set-sheet": () => doc.edit("set-sheet", settings(doc.meta.shells.length > 0)),
    "set-only": () => doc.edit("set-sheet", settings(false)),
  },
  keys: { d: "lanes", ".": "turn-on", ",": "turn-back" },
  inputs: Object.fromEntries(["size", "tiles", "padding", "margin", "turns", "grain", "repeats"].map((id) => [`sheet-${id}`, count])),
};
