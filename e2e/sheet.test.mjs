import assert from "node:assert/strict";
import { after, before, test } from "node:test";
import { changed, clean, given, noSeriousFindings, number, openBench, openPage, startApp, startBrowser } from "./app.mjs";

let app, browser;

before(async () => { app = await startApp(); browser = await startBrowser(); });
after(async () => { await browser?.close(); await app?.stop(); if (app) await clean(app.dir); });

test("a shell is divided across: its price first, then taken or left", { timeout: 180000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Storm lamp, finished/);
  await page.locator('.card thead button[data-station="Sheet"]').click();
  await page.locator('[title^="glass wall,"]').first().click();
  await page.waitForFunction(() => document.body.dataset.chosen === "1");
  const count = await number(page, "shells"), revision = await number(page, "revision");
  await page.locator('#fitting [data-do="divide"]').click();
  await given(page);
  await page.locator("#set-lanes").fill("3");
  await page.locator("#set-lanes").press("Enter"); // shown first
  const said = await given(page, /in 3/);
  assert.match(said, /2 more pieces, [\d.]+ \S+ of seam, \d+ % of it in view; (nothing gets sharper|everything gets ×[\d.]+ sharper)/);
  assert.match(said, /glass wall in 3/);
  assert.equal(await page.getAttribute("body", "data-ghost"), "live");
  await noSeriousFindings(page, "lanes");
  // Left, nothing has changed; taken, there are two more shells and all lie packed.
  await page.keyboard.press("Escape");
  await page.locator("#ghost").waitFor({ state: "hidden" });
  assert.equal(await number(page, "revision"), revision);
  await page.locator('#fitting [data-do="divide"]').click();
  await given(page, /in 3/); // as it was set before
  await changed(page, () => page.keyboard.press("Enter"));
  assert.equal(await number(page, "shells"), count + 2);
  assert.match(await page.locator("#undo-name").textContent(), /divide 1 shell across/);
  const meta = await (await page.request.get(`${page.url()}/meta`)).json();
  assert.equal(meta.shells.length, count + 2);
  await changed(page, () => page.keyboard.press("Control+z"));
  assert.equal(await number(page, "shells"), count);
  // Where nothing rules the sheet it says so.
  await page.keyboard.press("Escape");
  await page.keyboard.press("Escape");
  await page.waitForFunction(() => document.body.dataset.chosen === "0");
  await page.keyboard.press("Shift+N");
  await page.waitForFunction(() => /no shell rules/.test(document.querySelector("#banner:not([hidden])")?.textContent) || /sharper/.test(document.querySelector("#ghost:not([hidden])")?.textContent));
  assert.deepEqual(wrong, []);
  await context.close();
});

test("settings of the sheet say what they cost, are set and packed by, and are of one map", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Storm lamp, finished/);
  await page.locator('.card thead button[data-station="Sheet"]').click();
  await page.keyboard.press("h");
  const padded = async (px) => {
    await page.locator("#sheet-padding").fill(px);
    await page.locator("#sheet-padding").press("Tab");
    await page.waitForFunction((p) => JSON.parse(document.querySelector("#ghost:not([hidden])")?.dataset.counted ?? "{}").sheet?.padding === Number(p), px, { timeout: 60000 });
  };
  await padded("24");
  const [, was, will] = /fill ([\d.]+) → ([\d.]+) % .* least gap 8\.0 → 24\.0 px, border 8\.0 px/.exec(await page.locator("#ghost").textContent());
  assert.ok(Number(will) < Number(was), `more room between shells fills more: ${was} → ${will}`);
  await noSeriousFindings(page, "sheet settings");
  const revision = await number(page, "revision");
  await page.keyboard.press("Enter");
  await page.waitForFunction((r) => Number(document.body.dataset.revision) > r && document.querySelector("#work").hidden, revision, { timeout: 60000 });
  assert.equal(await page.locator("#undo-name").textContent(), "set the sheet and pack it");
  await page.waitForFunction(() => /shells 24 px apart/.test(document.querySelector("#tray")?.textContent ?? ""));
  const meta = await (await page.request.get(`${page.url()}/meta`)).json();
  assert.equal(meta.settings.sheet.padding, 24);
  assert.ok(Math.abs(meta.coverage * 100 - Number(will)) < 0.2, `${meta.coverage}, foretold ${will} %`);

  // Another map has its own; what cannot be is refused in words.
  await page.locator("#maps-name").click();
  await page.locator("#map-new").fill("Bake");
  await page.locator("#map-with").selectOption("all");
  await page.locator("[data-do=make-map]").click();
  await page.waitForFunction(() => document.body.dataset.map === "2");
  await page.keyboard.press("h");
  await page.locator("#sheet-size").selectOption("4096");
  await changed(page, () => page.locator("[data-do=set-only]").click());
  assert.equal(await page.locator("#undo-name").textContent(), "set the sheet");
  await page.keyboard.press("h");
  await page.locator("#sheet-margin").fill("4 * (1000 + 250)");
  await page.locator("#sheet-margin").press("Tab");
  await page.waitForFunction(() => /argin of 5000 px does not go/.test(document.querySelector("#tray [data-form=set-sheet] [data-formsays]").textContent));
  await page.locator("#sheet-margin").fill("3 feet");
  await page.locator("#sheet-margin").press("Tab");
  assert.match(await page.locator("#sheet-margin").getAttribute("title"), /“feet” is no unit here/);
  await page.locator(".maplist button", { hasText: "Map 1" }).click();
  await page.waitForFunction(() => document.body.dataset.map === "1" && document.querySelector("#sheet-size")?.value === "2048");

  // Twice as wide as high: packed onto both halves, written as a picture of its own.
  await page.keyboard.press("Escape");
  await page.keyboard.press("Escape");
  await page.keyboard.press("h");
  await padded("8");
  await page.locator("#sheet-shape").selectOption("wide");
  await page.waitForFunction(() => JSON.parse(document.querySelector("#ghost:not([hidden])")?.dataset.counted ?? "{}").sheet?.wide, null, { timeout: 60000 });
  const before = await number(page, "revision");
  await page.keyboard.press("Enter");
  await page.waitForFunction((r) => Number(document.body.dataset.revision) > r && document.querySelector("#work").hidden, before, { timeout: 60000 });
  await page.waitForFunction(() => /4096 × 2048 px/.test(document.querySelector("#sheet-note").textContent) && /4096 × 2048 px/.test(document.querySelector("#tray")?.textContent));
  const file = await (await page.request.get(`${page.url()}/deliver/model.obj`)).text();
  const u = file.split("\n").filter((l) => l.startsWith("vt ")).map((l) => Number(l.split(" ")[1]));
  assert.ok(u.length > 0 && u.every((x) => x >= 0 && x <= 1) && u.some((x) => x > 0.7), "the file holds places of 0 to 1");
  assert.deepEqual(wrong, []);
  await context.close();
});
