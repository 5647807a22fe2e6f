// A model comes in: in each format, with its size asked, its health lit and repaired, its maps kept
// or dropped.
import assert from "node:assert/strict";
import { execFile } from "node:child_process";
import { readFile, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { after, before, test } from "node:test";
import { promisify } from "node:util";
import { crc32 } from "node:zlib";
import { clean, drawn, noSeriousFindings, openPage, ready, startApp, startBrowser } from "./app.mjs";

const run = promisify(execFile);
let app, browser;

before(async () => { app = await startApp(); browser = await startBrowser(); });
after(async () => { await browser?.close(); await app?.stop(); if (app) await clean(app.dir); });

const points = [[0, 0, 0], [4000, 0, 0], [4000, 1000, 0], [0, 1000, 0], [0, 0, 2000], [4000, 0, 2000], [4000, 1000, 2000], [0, 1000, 2000]];
const sides = [[4, 3, 2, 1], [5, 6, 7, 8], [1, 2, 6, 5], [2, 3, 7, 6], [3, 4, 8, 7], [4, 1, 5, 8]];
const v = points.map((p) => `v ${p.join(" ")}`).join("\n");

/** A crate with everything wrong that can be: a side turned, one twice, one of a point of its own, a fold. */
const careless = `o crate\n${v}\nv 4000.001 1000 2000\nv 1 1 1\nvt 0 0\nvt 0.001 0\nf ${sides[0].map((i) => `${i}/1`).join(" ")}\nf 8/1 7/2 6/1 5/2\n${[[1, 2, 6, 5], [2, 3, 9, 6], [3, 4, 8, 7], [4, 1, 5, 8], [4, 1, 5, 8]].map((f) => `f ${f.map((i) => `${i}/${1 + (i % 2)}`).join(" ")}`).join("\n")}\nf 1/1 2/1 2/1\n`;

const soup = (points) => `solid crate\n${sides.flatMap(([a, b, c, d]) => [[a, b, c], [a, c, d]]).map((t) => `facet normal 0 0 0\nouter loop\n${t.map((i) => `vertex ${points[i - 1].join(" ")}`).join("\n")}\nendloop\nendfacet`).join("\n")}\nendsolid crate\n`;
const stl = soup(points);

/** A ZIP of one file, stored as it is. */
function zip(name, data) {
  const n = Buffer.from(name), crc = crc32(data);
  const head = Buffer.alloc(30), entry = Buffer.alloc(46), end = Buffer.alloc(22);
  head.writeUInt32LE(0x04034b50, 0); head.writeUInt16LE(20, 4); head.writeUInt32LE(crc, 14); head.writeUInt32LE(data.length, 18); head.writeUInt32LE(data.length, 22); head.writeUInt16LE(n.length, 26);
  entry.writeUInt32LE(0x02014b50, 0); entry.writeUInt16LE(20, 4); entry.writeUInt16LE(20, 6); entry.writeUInt32LE(crc, 16); entry.writeUInt32LE(data.length, 20); entry.writeUInt32LE(data.length, 24); entry.writeUInt16LE(n.length, 28);
  end.writeUInt32LE(0x06054b50, 0); end.writeUInt16LE(1, 8); end.writeUInt16LE(1, 10); end.writeUInt32LE(46 + n.length, 12); end.writeUInt32LE(30 + n.length + data.length, 16);
  return Buffer.concat([head, n, data, entry, n, end]);
}

async function bring(page, file) {
  await page.goto(app.base + "/projects");
  await page.locator("#model").setInputFiles(file);
  await page.waitForURL(/\/arrival$/);
  await page.waitForFunction(() => document.body.dataset.ready === "yes", null, { timeout: 60000 });
}

const line = (page, says) => page.locator("#arrival li", { hasText: says });

test("what is wrong with a model is lit, repaired where that is asked, and can be repaired otherwise", { timeout: 120000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  const file = join(app.dir, "careless.obj");
  await writeFile(file, careless);
  await bring(page, file);
  assert.match(await page.locator("#size").textContent(), /4\.58 m/);
  assert.match(await page.locator("#arrival").textContent(), /In metres it would be 4\.58 km across, so it is taken to be in mm/);
  await page.locator("#unit").selectOption("cm");
  assert.match(await page.locator("#size").textContent(), /45\.83 m/);
  await page.locator("#unit").selectOption("mm");
  await noSeriousFindings(page, "arrival");
  await line(page, "wound against").locator("button").click();
  await page.waitForFunction(() => document.body.dataset.lit === "1");
  await page.locator("#weld").fill("0.01");
  await page.locator("#weld").blur();
  await page.waitForFunction(() => document.querySelector("#welded").textContent === "1 point");
  await page.locator("#weld-near").check();
  for (const box of await page.locator("#arrival ul.divide-y input[name=repair]").all()) await box.check();
  assert.match(await page.locator("#arrival").textContent(), /Map 1.*(collapsed|lie on each other)/s);
  await page.locator("input[name=keep]").uncheck();
  await page.locator("#open").click();
  await ready(page);
  const meta = await (await page.request.get(`${page.url()}/meta`)).json();
  assert.equal(meta.shells.length, 0, "the map was to be dropped");
  const obj = await (await page.request.get(`${page.url()}/deliver/model.obj`)).text();
  assert.equal(obj.match(/^f /gm).length, 6);
  assert.equal(obj.match(/^v /gm).length, 8);

  // Nothing was done yet, so it can begin otherwise; once something was, it cannot.
  await page.locator("#counts summary").click();
  await page.locator('header a[href$="/arrival"]').click();
  await page.waitForFunction(() => document.body.dataset.ready === "yes");
  assert.match(await page.locator("#arrival").textContent(), /Map 1\s*left out/);
  await page.locator("#arrival label", { hasText: "turned over" }).locator("input").uncheck();
  await page.locator("#run").click();
  await ready(page);
  await page.waitForFunction(() => Number(document.body.dataset.shells) > 0 && document.querySelector("#work").hidden, null, { timeout: 60000 });
  await page.locator("#counts summary").click();
  await page.locator('header a[href$="/arrival"]').click();
  await page.waitForFunction(() => document.body.dataset.ready === "yes");
  assert.equal(await page.locator("#arrival input[name=repair]").count(), 0);
  assert.match(await page.locator("#arrival").textContent(), /1 face wound against its neighbours/);
  assert.deepEqual(wrong, []);
  await context.close();
});

test("each format comes in, is opened on the bench and goes out again", { timeout: 180000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  const at = (name) => join(app.dir, name);
  await writeFile(at("crate.obj"), `o crate\n${v}\n${sides.map((f) => `f ${f.join(" ")}`).join("\n")}\n`);
  await writeFile(at("crate.stl"), stl);
  await writeFile(at("crate.zip"), zip("in/crate.obj", await readFile(at("crate.obj"))));
  for (const to of ["crate.glb", "crate.gltf", "crate.ply"]) await run("bin/morvek", ["run", "--quiet", at("crate.obj"), "-o", at(to)]).catch((e) => { if (e.code !== 1) throw e; });
  for (const [file, faces] of [["crate.obj", 6], ["crate.stl", 12], ["crate.zip", 6], ["crate.glb", 12], ["crate.gltf", 12], ["crate.ply", 6]]) {
    await bring(page, at(file));
    assert.equal(await page.locator("#arrival ul b").first().textContent(), String(faces), file);
    if (faces === 12) { // triangles, as quads once more
      assert.match(await page.locator("#arrival").textContent(), /12 faces become 6/);
      await page.locator("#merge").check();
    }
    await page.locator("#open").click();
    await ready(page);
    for (const out of ["obj", "glb", "gltf", "ply"]) {
      const answer = await page.request.get(`${page.url()}/deliver/model.${out}`);
      assert.equal(answer.status(), 200, `${file} as ${out}`);
      const body = await answer.body();
      assert.ok(body.length > 150);
      if (file.endsWith(`.${out}`)) assert.ok(body.equals(await readFile(at(file))), `${file} is to be as it came where nothing was changed`);
    }
  }
  assert.deepEqual(wrong, []);
  await context.close();
});

test("a large file is read in the queue: left alone it arrives, cancelled it leaves nothing", { timeout: 180000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  const n = 450, rows = [];
  for (let y = 0; y <= n; y++) for (let x = 0; x <= n; x++) rows.push(`v ${x} ${(x * y) % 7} ${y}`);
  for (let y = 0; y < n; y++) for (let x = 0, a = y * (n + 1) + 1; x < n; x++, a++) rows.push(`f ${a} ${a + 1} ${a + n + 2} ${a + n + 1}`);
  await writeFile(join(app.dir, "moor.obj"), rows.join("\n"));
  await page.goto(app.base + "/projects");
  const before = await page.locator(".models li").count();
  await page.locator("#model").setInputFiles(join(app.dir, "moor.obj"));
  await page.waitForFunction(() => /moor\.obj: (waiting|reading|starting)/.test(document.querySelector("#upload-state").textContent), null, { timeout: 60000 });
  await page.locator("#upload-stop").click();
  await page.waitForFunction(() => document.querySelector("#upload-error:not([hidden])")?.textContent.includes("Cancelled"));
  await page.reload();
  assert.equal(await page.locator(".models li").count(), before);
  assert.equal(await page.locator("[data-upload]").count(), 0);

  // Sent, and the page left: it is read all the same, and seen by whoever comes back.
  await page.locator("#model").setInputFiles(join(app.dir, "moor.obj"));
  await page.waitForFunction(() => /moor\.obj: /.test(document.querySelector("#upload-state").textContent), null, { timeout: 60000 });
  await page.reload();
  await page.locator(".models li", { hasText: "moor" }).waitFor({ timeout: 60000 });
  assert.equal(await page.locator(".models li").count(), before + 1);

  // What cannot be read stays there, with the reason, until somebody has seen it.
  const body = { model: { name: "torn.obj", mimeType: "text/plain", buffer: Buffer.from("v 0 0 0\nf 1 2 3\n") } };
  const { work } = await (await page.request.post(`${app.base}/documents`, { multipart: body })).json();
  await page.request.get(`${app.base}/works/${work}/events`);
  await page.reload();
  const row = page.locator("[data-upload]", { hasText: "torn.obj" });
  assert.match(await row.textContent(), /could not be read: line 2/);
  await noSeriousFindings(page, "projects with a file that failed");
  await row.locator("button").click();
  await row.waitFor({ state: "detached" });
  await page.reload();
  assert.equal(await row.count(), 0);
  assert.deepEqual(wrong, []);
  await context.close();
});

/** How much taller than wide the model is drawn. */
const tall = (page) => page.evaluate(() => {
  const c = document.querySelector("#piece-canvas"), g = Object.assign(document.createElement("canvas"), { width: c.width, height: c.height }).getContext("2d");
  g.drawImage(c, 0, 0);
  const { data } = g.getImageData(0, 0, c.width, c.height), box = [Infinity, Infinity, 0, 0];
  for (let i = 0; i < data.length; i += 4) if (data[i + 3] === 255) { const x = (i / 4) % c.width, y = Math.floor(i / 4 / c.width); box[0] = Math.min(box[0], x); box[1] = Math.min(box[1], y); box[2] = Math.max(box[2], x); box[3] = Math.max(box[3], y); }
  return (box[3] - box[1]) / (box[2] - box[0]);
});

test("a model stands on the side that is said to be down, on arrival and on the bench", { timeout: 120000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await page.emulateMedia({ reducedMotion: "reduce" }); // it does not turn
  const file = join(app.dir, "post.stl");
  await writeFile(file, soup(points.map(([x, y, z]) => [x / 8, y / 2, 3 * z]))); // 500 × 500 × 6000
  await bring(page, file);
  assert.equal(await page.locator("#up").inputValue(), "z");
  await page.waitForFunction(() => Number(document.body.dataset.drawn) > 0);
  assert.ok((await tall(page)) > 2, "a post stands");
  const stands = async (up, is) => {
    const was = await page.getAttribute("body", "data-drawn");
    await page.locator("#up, #set-up").selectOption(up);
    await page.waitForFunction((w) => document.body.dataset.drawn !== w, was);
    await drawn(page);
    assert.ok(is(await tall(page)), `${await tall(page)} with ${up} up`);
  };
  await stands("y", (t) => t < 1);
  await stands("z", (t) => t > 2);
  await page.locator("#open").click();
  await ready(page);
  await drawn(page);
  assert.ok((await tall(page)) > 2, "it stands on the bench");
  await stands("y", (t) => t < 1);
  assert.deepEqual(wrong, []);
  await context.close();
});
