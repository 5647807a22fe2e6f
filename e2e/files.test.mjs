// What is written as glTF passes the validator of those who keep the standard, whatever it was
// read from.
import assert from "node:assert/strict";
import { execFile } from "node:child_process";
import { mkdtemp, readFile, rm, writeFile } from "node:fs/promises";
import { createRequire } from "node:module";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { after, before, test } from "node:test";
import { promisify } from "node:util";

const validator = createRequire(import.meta.url)("gltf-validator");
const run = promisify(execFile);
let dir;

before(async () => { dir = await mkdtemp(join(process.env.MORVEK_TMP ?? tmpdir(), "morvek-files-")); });
after(async () => { await rm(dir, { recursive: true, force: true }); });

/** The whole job on a file; findings are no failure here. */
const morvek = (...args) => run("bin/morvek", args).catch((e) => { if (e.code !== 1) throw e; });

async function valid(file) {
  const report = await validator.validateBytes(new Uint8Array(await readFile(file)), { externalResourceFunction: () => Promise.reject(new Error("there is none")) });
  assert.deepEqual(report.issues.messages.filter((m) => m.severity < 2).map((m) => `${m.code} ${m.pointer} ${m.message}`), []);
  return report.info;
}

/** A box of quads with colours of points and a material library. */
const box = `mtllib box.mtl
o crate
v 0 0 0 1 0 0
v 2 0 0 0 1 0
v 2 1 0 0 0 1
v 0 1 0 1 1 1
v 0 0 1 1 0 0
v 2 0 1 0 1 0
v 2 1 1 0 0 1
v 0 1 1 1 1 1
usemtl ash
f 4 3 2 1
f 5 6 7 8
f 1 2 6 5
usemtl tin
f 2 3 7 6
f 3 4 8 7
f 4 1 5 8
`;

test("OBJ becomes glTF, that becomes glTF and PLY, and each is read again", { timeout: 120000 }, async () => {
  const at = (name) => join(dir, name);
  await writeFile(at("box.obj"), box);
  await writeFile(at("box.mtl"), "newmtl ash\nKd 0.6 0.5 0.3\nnewmtl tin\nd 0.5\nmap_Kd tin.png\n");
  await writeFile(at("tin.png"), Buffer.from("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==", "base64"));
  await morvek("run", "--quiet", at("box.obj"), "-o", at("box.glb"));
  const info = await valid(at("box.glb"));
  assert.equal(info.totalTriangleCount, 12);
  assert.equal(info.materialCount, 2);
  assert.ok(info.hasTextures, "the picture of the library goes along");
  for (const [from, to] of [["box.glb", "again.glb"], ["again.glb", "box.gltf"], ["box.gltf", "box.ply"], ["box.ply", "last.glb"]]) {
    await morvek("run", "--quiet", at(from), "-o", at(to));
    if (!to.endsWith(".ply")) assert.equal((await valid(at(to))).totalTriangleCount, 12, to);
  }
});
