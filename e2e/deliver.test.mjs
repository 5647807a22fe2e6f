// What is handed over: chosen in one dialog, made in the queue, fetched as a ZIP that is the same each
// time.
import assert from "node:assert/strict";
import { createHash } from "node:crypto";
import { readFile } from "node:fs/promises";
import { after, before, test } from "node:test";
import { inflateRawSync } from "node:zlib";
import { clean, noSeriousFindings, openBench, openPage, ready, startApp, startBrowser } from "./app.mjs";

let app, browser;

before(async () => { app = await startApp(); browser = await startBrowser(); });
after(async () => { await browser?.close(); await app?.stop(); if (app) await clean(app.dir); });

/** The files of a ZIP by name. */
function unzip(b) {
  const out = new Map();
  const end = b.lastIndexOf("PK\x05\x06", undefined, "latin1");
  for (let at = b.readUInt32LE(end + 16), n = b.readUInt16LE(end + 10); n > 0; n--) {
    const [method, size, name, extra, note, head] = [b.readUInt16LE(at + 10), b.readUInt32LE(at + 20), b.readUInt16LE(at + 28), b.readUInt16LE(at + 30), b.readUInt16LE(at + 32), b.readUInt32LE(at + 42)];
    const from = head + 30 + b.readUInt16LE(head + 26) + b.readUInt16LE(head + 28), data = b.subarray(from, from + size);
    out.set(b.toString("utf8", at + 46, at + 46 + name), method ? inflateRawSync(data) : data);
    at += 46 + name + extra + note;
  }
  return out;
}

async function deliver(page) {
  const [d] = await Promise.all([page.waitForEvent("download", { timeout: 90000 }), page.locator("#deliver-form .act").click()]);
  return { name: d.suggestedFilename(), data: await readFile(await d.path()) };
}

const open = async (page) => { await page.locator("#deliver-open").click(); await page.locator("#deliver-form").waitFor(); };

test("what is chosen is made and fetched, and is the same the next time", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Storm lamp, finished/);
  await open(page);
  await noSeriousFindings(page, "deliver");
  assert.equal(await page.locator("#deliver-warning").count(), 0);
  for (const box of await page.locator("#deliver-form input[name=item]").all()) await box.uncheck();
  await page.locator("#deliver-form .act").click();
  await page.waitForFunction(() => /choose what is to be delivered/.test(document.querySelector("#deliver-trouble:not([hidden])")?.textContent ?? "") || !document.querySelector("#deliver").open);
  if (!(await page.locator("#deliver").evaluate((d) => d.open))) await open(page);
  for (const n of ["obj", "glb", "template.svg", "template.ora", "mask.material", "bake.normals", "bake.exposure", "report.csv"]) await page.locator(`#deliver-form input[value="${n}"]`).check();
  await page.locator("#deliver-size").selectOption("512");
  const first = await deliver(page);
  assert.match(first.name, /^storm-lamp-r\d+\.zip$/);
  const files = unzip(first.data), list = JSON.parse(files.get("delivery.json"));
  for (const f of list.files) assert.equal(createHash("sha256").update(files.get(f.name)).digest("hex"), f.sha256, f.name);
  for (const n of ["storm-lamp.obj", "storm-lamp.glb", "storm-lamp-template.svg", "storm-lamp-template.ora", "storm-lamp-normals.png", "storm-lamp-exposure.png", "masks/material.png", "storm-lamp-shells.csv"]) assert.ok(files.has(n), n);
  assert.equal(files.get("storm-lamp-normals.png").readUInt32BE(16), 512);
  assert.equal(files.get("storm-lamp.obj").toString().match(/^f /gm).length, 6882);

  // The choice is remembered, by whoever opens it next.
  await page.reload();
  await ready(page);
  await open(page);
  assert.ok(await page.locator('#deliver-form input[value="mask.material"]').isChecked());
  assert.ok(!(await page.locator('#deliver-form input[value="report.json"]').isChecked()));
  const again = await deliver(page);
  assert.ok(again.data.equals(first.data), "the same delivery twice");
  await open(page);
  const before = page.locator('#deliver-form a[href^="/deliveries/"]');
  await before.nth(1).waitFor(); // the list is fetched
  assert.equal(await before.count(), 2);
  assert.ok((await (await page.request.get(new URL(await before.first().getAttribute("href"), app.base).href)).body()).equals(first.data));
  await page.keyboard.press("Escape");
  assert.ok(!(await page.locator("#deliver").evaluate((d) => d.open)));
  assert.deepEqual(wrong, []);
  await context.close();
});

test("a delivery with findings goes after one plain warning", { timeout: 120000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Storm lamp$|Storm lamp(?!,)/);
  await open(page);
  assert.match(await page.locator("#deliver-warning").textContent(), /\d+ findings? that a painter would send back/);
  assert.equal(await page.locator("#deliver-form .act").textContent(), "Deliver all the same");
  assert.ok(unzip((await deliver(page)).data).has("storm-lamp.obj"));
  assert.deepEqual(wrong, []);
  await context.close();
});

test("what was agreed on goes from one model to the next as a file", { timeout: 120000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Survey case/);
  const edit = async (kind, params) => assert.ok((await page.request.post(`${page.url()}/edits`, { data: { base: (await (await page.request.get(`${page.url()}/meta`)).json()).revision, edit: { kind, params } } })).ok());
  await edit("set-sheet", { sheet: { size: 1024, padding: 6, margin: 5, tiles: 2 }, turns: "90", grain_on_v: true, repeats: "stack" });
  await page.locator(".doc summary").click();
  const [d] = await Promise.all([page.waitForEvent("download"), page.locator('a[href$="/practice"]').click()]);
  const file = await readFile(await d.path(), "utf8");
  assert.equal(d.suggestedFilename(), "survey-case-practice.json");
  assert.equal(JSON.parse(file).sheet.sheet.size, 1024);
  assert.equal((await (await page.request.get(`${app.base}/practice/schema.json`)).json()).type, "object");

  await openBench(page, app.base, /Wind gauge/);
  const bring = async (text) => page.setInputFiles("#practice-file", { name: "ours.json", mimeType: "application/json", buffer: Buffer.from(text) });
  await bring('{"practice": "9"}');
  await page.waitForFunction(() => /has version "9"/.test(document.querySelector("#banner:not([hidden]) #banner-text")?.textContent ?? ""));
  await bring(file);
  await page.waitForFunction(() => document.querySelector("#undo-name").textContent === "take over the practice Survey case");
  const { settings } = await (await page.request.get(`${page.url()}/meta`)).json();
  assert.deepEqual([settings.sheet.size, settings.sheet.tiles, settings.turns, settings.grain_on_v, settings.repeats], [1024, 2, "90", true, "stack"]);
  assert.deepEqual(wrong, []);
  await context.close();
});
