// Which edges are drawn on the sheet at a scale, told by the bench's own code.
import assert from "node:assert/strict";
import { test } from "node:test";
import { build } from "esbuild";

const out = await build({ stdin: { contents: 'export { Coarse, faceWidths } from "./web/bench/view/fineness";', resolveDir: process.cwd(), loader: "ts" }, bundle: true, write: false, format: "esm" });
const { Coarse, faceWidths } = await import(`data:text/javascript;base64,${Buffer.from(out.outputFiles[0].text).toString("base64")}`);

/** Shells that are rows of rectangles, [width, height, how many], each with an edge between two neighbours. */
function rows(...shells) {
  const uv = [], faceShell = [], cornerFace = [], faceStart = [0], pairs = [];
  shells.forEach(([w, h, n], s) => {
    for (let i = 0; i < n; i++) {
      if (i) pairs.push(uv.length / 2, uv.length / 2 + 3);
      for (const [x, y] of [[i, 0], [i + 1, 0], [i + 1, 1], [i, 1]]) { uv.push(x * w, y * h); cornerFace.push(faceShell.length); }
      faceShell.push(s);
      faceStart.push(uv.length / 2);
    }
  });
  return { doc: { meta: { shells }, mesh: { faceStart }, cornerFace, layout: { uv, faceShell, mapped: faceShell.map(() => 1) } }, pairs };
}

test("faces are as wide as they are across, and what is not in the map has no width", () => {
  const { doc } = rows([0.01, 0.2, 4], [0.3, 0.02, 2]);
  for (const [s, want] of [[0, 0.01], [1, 0.02]]) assert.ok(Math.abs(faceWidths(doc)[s] - want) < 1e-12, `shell ${s}: ${faceWidths(doc)[s]}`);
  doc.layout.mapped.fill(0);
  assert.deepEqual([...faceWidths(doc)], [0, 0]);
});

test("edges are drawn from where they are three pixels apart, shell by shell", () => {
  const { doc, pairs } = rows([0.01, 0.2, 4], [0.04, 0.3, 3], [0.002, 0.1, 6]), coarse = new Coarse(doc, pairs);
  const shells = (n) => coarse.pairs.slice(0, 2 * n).filter((_, i) => i % 2 === 0).map((c) => doc.layout.faceShell[doc.cornerFace[c]]);
  assert.equal(coarse.seen(70), 0);
  assert.deepEqual(shells(coarse.seen(80)), [1, 1]);
  assert.deepEqual(shells(coarse.seen(310)), [1, 1, 0, 0, 0]);
  assert.deepEqual(shells(coarse.seen(1600)), [1, 1, 0, 0, 0, 2, 2, 2, 2, 2]);
  const key = (p) => Array.from({ length: p.length / 2 }, (_, i) => p.slice(2 * i, 2 * i + 2).join()).sort();
  assert.deepEqual(key(coarse.pairs), key(pairs));
});
