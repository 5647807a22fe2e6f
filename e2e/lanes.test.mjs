import assert from "node:assert/strict";
import { after, before, test } from "node:test";
import { changed, clean, noSeriousFindings, number, openBench, openPage, startApp, startBrowser } from "./app.mjs";

let app, browser;

before(async () => { app = await startApp(); browser = await startBrowser(); });
after(async () => { await browser?.close(); await app?.stop(); if (app) await clean(app.dir); });

const panel = async (page) => { await page.waitForFunction(() => /this is what it gives/.test(document.querySelector("#ghost:not([hidden])")?.textContent)); return page.locator("#ghost").textContent(); };

test("a shell is divided across: its price first, then taken or left", { timeout: 180000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Storm lamp, finished/);
  await page.locator('.card thead button[data-station="Sheet"]').click();
  await page.locator('[title^="glass wall,"]').first().click();
  await page.locator("#set-lanes").waitFor();
  const count = await number(page, "shells"), revision = await number(page, "revision");
  await page.locator("#set-lanes").fill("3");
  await page.locator('[data-do="lanes"]').click();
  const said = await panel(page);
  assert.match(said, /2 more pieces, [\d.]+ \S+ of seam, \d+ % of it in view; (nothing gets sharper|everything gets ×[\d.]+ sharper)/);
  assert.match(said, /glass wall in 3/);
  assert.equal(await page.getAttribute("body", "data-ghost"), "live");
  await noSeriousFindings(page, "lanes");
  // Left, nothing has changed; taken, there are two more shells and all lie packed.
  await page.keyboard.press("Escape");
  await page.locator("#ghost").waitFor({ state: "hidden" });
  assert.equal(await number(page, "revision"), revision);
  await page.locator('[data-do="lanes"]').click();
  await panel(page);
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
  await page.locator("#set-lanes").waitFor({ state: "detached" });
  await page.keyboard.press("d");
  await page.waitForFunction(() => /no shell rules/.test(document.querySelector("#banner:not([hidden])")?.textContent) || /sharper/.test(document.querySelector("#ghost:not([hidden])")?.textContent));
  assert.deepEqual(wrong, []);
  await context.close();
});
