// The tray of the Sheet station: packing is a verb of all stations, dividing one of this.
import { value } from "../../bench/chosen";
import { live, shellsMeant, views } from "../../bench/state";
import type { Station } from "../../bench/station";

export const sheet: Station = {
  help: "click a shell · drag it to move it · T quarter turn · O turn over · Esc lets go",
  verbs: {
    lanes: async () => {
      views.sheet.frame();
      await live.start("lanes", document.getElementById("set-lanes") ? { faces: shellsMeant(), pieces: value("set-lanes"), pack: true } : { pack: true }, false);
    },
  },
  keys: { d: "lanes", ".": "turn-on", ",": "turn-back" },
};
