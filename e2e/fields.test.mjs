// What is written into a field for a number, read by the bench's own code.
import assert from "node:assert/strict";
import { test } from "node:test";
import { build } from "esbuild";

const out = await build({ stdin: { contents: 'export { evaluate } from "./web/bench/arithmetic";', resolveDir: process.cwd(), loader: "ts" }, bundle: true, write: false, format: "esm" });
const { evaluate } = await import(`data:text/javascript;base64,${Buffer.from(out.outputFiles[0].text).toString("base64")}`);

test("fields take sums, units and steps from what stood there", () => {
  for (const [text, unit, want] of [
    ["12", "m", 12], ["1,5", "m", 1.5], [" 2*(3+4) - 6/4", "", 12.5], ["-3", "°", -3], ["15°", "°", 15], ["2 - -3", "", 5],
    ["12 mm", "m", 0.012], ["3/8 in", "mm", 9.525], ["1 ft + 2 in", "in", 14], ["(1+1) cm", "mm", 20], ["6 in / 2", "in", 3], ["2 * 12 mm", "cm", 2.4], ["0.5 + 20 cm", "m", 0.7],
    ["*2", "m", 14], ["/ 2", "m", 3.5], ["+= 10", "px", 17], ["-=1+1", "px", 5], ["×3", "", 21], ["64px", "px", 64], ["1e-3", "m", 0.001],
  ]) assert.ok(Math.abs(evaluate(text, unit, 7) - want) < 1e-9, `${text} in ${unit || "nothing"} is ${evaluate(text, unit, 7)}, not ${want}`);
});

test("what is no number says why", () => {
  for (const [text, unit, why] of [
    ["", "m", /missing/], ["3 +", "", /missing/], ["three", "m", /“three” is no number/], ["3 ells", "m", /“ells” is no unit/], ["3 mm", "px", /in px, not a length/],
    ["2 mm * 3 mm", "m", /only one factor/], ["(2", "", /bracket/], ["2)", "", /too much/], ["1/0", "", /no number/], ["5 6", "", /too much/],
  ]) { const said = evaluate(text, unit, 0); assert.match(String(said), why, `${text}: ${said}`); assert.equal(typeof said, "string"); }
});
