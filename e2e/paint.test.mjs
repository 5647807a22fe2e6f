// The whole circle: a sheet goes to the painter, comes back painted, is seen on the model, and is
// sealed; what would move it is refused.
import assert from "node:assert/strict";
import { readFile, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { after, before, test } from "node:test";
import { changed, clean, findOn, noSeriousFindings, number, openBench, openPage, startApp, startBrowser } from "./app.mjs";

let app, browser;

before(async () => { app = await startApp(); browser = await startBrowser(); });
after(async () => { await browser?.close(); await app?.stop(); if (app) await clean(app.dir); });

const shown = (page, now) => page.waitForFunction((before) => document.body.dataset.painted && document.body.dataset.painted !== before, now, { timeout: 30000 });

test("a sheet is sent, painted, seen, painted anew, and sealed", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Storm lamp, finished/);
  const small = { sheet: { size: 512, padding: 2, margin: 2, tiles: 1 }, turns: "180", grain_on_v: false, repeats: "" }; // quicker to paint
  assert.ok((await page.request.post(`${page.url()}/edits`, { data: { base: await number(page, "revision"), edit: { kind: "set-sheet", params: small } } })).ok());
  await page.reload();
  await page.waitForFunction(() => document.body.dataset.ready === "yes");
  await page.locator("[data-show=painted]").click();
  await page.locator("#painted [data-do=send]").click();
  const link = page.locator('#painted a[href^="/paintshop"]');
  await link.waitFor({ timeout: 90000 });
  const [shop] = await Promise.all([context.waitForEvent("page"), link.click()]);
  await shop.locator("#recipe .act").waitFor();
  await noSeriousFindings(shop, "paint shop");
  await shop.locator('select[data-material="glass"]').selectOption("brass");
  await shop.locator("#recipe .act").click();
  await shop.waitForFunction(() => document.querySelector("#state").textContent === "painted", null, { timeout: 60000 });
  await page.bringToFront();
  await shown(page, "");
  assert.match(await page.locator("#painted").textContent(), /painted\.png, 512 × 512 px/);

  // Any other program can write there: the picture is shown anew, a broken one is said.
  const first = await page.evaluate(() => document.body.dataset.painted);
  const folder = join(app.dir, "exchange", new URL(shop.url()).searchParams.get("sheet"));
  const mask = await readFile(join(folder, "storm-lamp-normals.png"));
  await writeFile(join(folder, "painted.png"), mask);
  await shown(page, first);
  const second = await page.evaluate(() => document.body.dataset.painted);
  await writeFile(join(folder, "painted.png"), mask.subarray(0, 4000));
  await page.waitForFunction(() => /painted\.png: the picture is broken/.test(document.querySelector("#painted").textContent), null, { timeout: 15000 });
  assert.equal(await page.evaluate(() => document.body.dataset.painted), second);

  // A picture is taken by hand too; one of other proportions is not.
  await page.setInputFiles("#painted-file", { name: "strip.png", mimeType: "image/png", buffer: Buffer.from("iVBORw0KGgoAAAANSUhEUgAAAAQAAAABCAAAAADmMMRxAAAADElEQVR4nGP4DwQADRgD/aF/yrQAAAAASUVORK5CYII=", "base64") });
  await page.waitForFunction(() => /the sheet wants 1 : 1|broken/.test(document.querySelector("#banner:not([hidden]) #banner-text")?.textContent ?? ""));

  // Sealed, the sheet stays as it is; the refusal offers a copy, and that can be packed.
  const before = await (await page.request.get(`${page.url()}/deliver/model.obj`)).text();
  await page.locator("#seal-state").click();
  await noSeriousFindings(page, "seal");
  await changed(page, () => page.locator("#seal-what [data-do=seal]").click());
  await page.waitForFunction(() => document.body.dataset.sealed === "yes");
  assert.equal(await page.locator("#seal-state").textContent(), "sealed");
  await page.keyboard.press("Escape");
  await page.locator("#seal-state").click();
  await page.locator(".card thead button[data-station=Sheet]").click();
  await page.locator("#piece-canvas").focus();
  await page.keyboard.press("k");
  await page.waitForFunction(() => /Map 1 is sealed, and to pack the sheet would move/.test(document.querySelector("#banner:not([hidden]) #banner-text")?.textContent ?? ""), null, { timeout: 60000 });
  const refused = await page.request.post(`${page.url()}/edits`, { data: { base: await number(page, "revision"), edit: { kind: "clear", params: { faces: [] } } } });
  assert.equal(refused.status(), 422);
  assert.equal((await refused.json()).sealed, 1);
  await page.locator("#banner-copy").click();
  await page.waitForFunction(() => document.body.dataset.map === "2" && document.body.dataset.sealed === "");
  await page.locator("#piece-canvas").focus();
  await changed(page, () => page.keyboard.press("k"));
  const url = page.url().replace(/\?.*/, "");
  assert.equal(await (await page.request.get(`${url}/deliver/model.obj?map=1`)).text(), before, "the sealed map is as it was");
  assert.deepEqual(wrong, []);
  await context.close();
});

test("the next revision of a model keeps the map of the one before", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /^Line winch$|Line winch(?!,)/);
  const first = page.url(), id = first.split("/").pop();
  const { work } = await (await page.request.post(`${first}/run`, { data: { base: await number(page, "revision") } })).json();
  assert.match(await (await page.request.get(`${app.base}/works/${work}/events`, { timeout: 120000 })).text(), /"state":"done"/);
  await openBench(page, app.base, /Line winch, revision B/);
  const next = page.url();
  await page.goto(`${next}/arrival`);
  await page.waitForFunction(() => document.body.dataset.ready === "yes", null, { timeout: 60000 });
  await noSeriousFindings(page, "arrival of a revision");
  await page.locator("#revises").selectOption(id);
  assert.equal(await page.locator("#open").textContent(), "See what it keeps");
  await page.locator("#open").click();
  await page.waitForURL(/revision/);
  await page.waitForFunction(() => document.body.dataset.ready === "yes", null, { timeout: 60000 });
  assert.equal(await number(page, "stay"), 10152);
  await noSeriousFindings(page, "what a revision keeps");
  assert.match(await page.locator("#parts tr", { hasText: "drum wall 1" }).textContent(), /1.280/);
  await page.locator("#parts tr", { hasText: "bolt 23 washer wall" }).getByRole("button").click(); // it is gone: shown on the model before
  await findOn(page, "#piece-before", /bolt 23 washer (wall|plate \d), face \d+ of the model before: is no more/, [0.5, 0.5]);
  await findOn(page, "#piece-after", /of the model after: /, [0.5, 0.5]);
  assert.equal((await (await page.request.get(`${next}/meta`)).json()).head, 0, "nothing is done yet");
  await page.locator("#take").click();
  await page.waitForFunction(() => /^keep the map of the model before: 10152 faces as they were, /.test(document.querySelector("#undo-name")?.textContent ?? ""), null, { timeout: 120000 });
  const [was, is] = await Promise.all([first, next].map(async (u) => new Set((await (await page.request.get(`${u}/deliver/model.obj`)).text()).match(/^vt .*$/gm))));
  assert.ok([...is].filter((l) => was.has(l)).length > 0.8 * is.size, "most coordinates are those of before");
  assert.deepEqual(wrong, []);
  await context.close();
});
