// The bench's own code reads the blocks and applies the patches that the server's tests wrote.
import assert from "node:assert/strict";
import { readFile } from "node:fs/promises";
import { test } from "node:test";
import { build } from "esbuild";

const v = JSON.parse(await readFile("web/wire/testdata/vectors.json", "utf8"));
const out = await build({ stdin: { contents: 'export * from "./web/bench/blocks"; export { take } from "./web/bench/patch";', resolveDir: process.cwd(), loader: "ts" }, bundle: true, write: false, format: "esm" });
const { readExposure, readImages, readLayout, readMesh, take } = await import(`data:text/javascript;base64,${Buffer.from(out.outputFiles[0].text).toString("base64")}`);

const bytes = (text) => { const b = Buffer.from(text, "base64"); return b.buffer.slice(b.byteOffset, b.byteOffset + b.byteLength); };
const floats = (list) => [...Float32Array.from(list)];
/** A layout as the server's tests write it down: what is a list of bytes there is base64. */
const holds = (k) => ({ uv: floats(k.uv), facePart: k.facePart, faceShell: k.faceShell, mapped: [...Buffer.from(k.mapped, "base64")], cut: [...Buffer.from(k.cut, "base64")], stretch: floats(k.stretch), angular: floats(k.angular), grain: floats(k.grain), wish: k.wish });
const plain = (layout) => Object.fromEntries(Object.entries(layout).map(([k, list]) => [k, [...list]]));

test("blocks hold what the server put into them", () => {
  const m = readMesh(bytes(v.mesh));
  for (const name of ["faceStart", "cornerPoint", "cornerEdge", "triFace"]) assert.deepEqual([...m[name]], v.mesh_holds[name], name);
  assert.equal(m.points.length, 3 * v.mesh_holds.points);
  assert.equal(m.bend.length, v.mesh_holds.edges);
  assert.equal(m.triCorner.length, 3 * m.triFace.length);
  assert.deepEqual([...readExposure(bytes(v.exposure))], floats(v.exposure_holds));
  assert.deepEqual(plain(readImages(bytes(v.images))), { face: [-1, 4], edge: [3] });
  assert.deepEqual(plain(readLayout(bytes(v.first.block))), holds(v.first.holds));
  assert.throws(() => readLayout(bytes(v.mesh)), /expected a block/);
});

test("patches lead to what would be told from nothing", () => {
  const layout = readLayout(bytes(v.first.block));
  let meta = v.first.holds.meta;
  assert.ok(v.steps.length >= 8);
  for (const s of v.steps) {
    meta = take(layout, meta, s.brief, s.patch);
    assert.deepEqual(plain(layout), holds(s.after.holds), `after ${s.edit}`);
    assert.deepEqual(plain(layout), plain(readLayout(bytes(s.after.block))), `after ${s.edit}, read anew`);
    assert.deepEqual(meta, s.after.holds.meta, `after ${s.edit}`);
  }
});
