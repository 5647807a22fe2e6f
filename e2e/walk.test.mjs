// A machine from its file to the delivered sheet as a person does it, with corrections: gestures are
// counted. A gesture is a click, a key, a drag, a word that is typed, or a file that is dropped.
import assert from "node:assert/strict";
import { execFile } from "node:child_process";
import { after, before, test } from "node:test";
import { join } from "node:path";
import { promisify } from "node:util";
import { changed, clean, openPage, ready, startApp, startBrowser } from "./app.mjs";

let app, browser;

before(async () => { app = await startApp(); browser = await startBrowser(); });
after(async () => { await browser?.close(); await app?.stop(); if (app) await clean(app.dir); });

/** How many gestures from file to delivery are asked for at most. */
const asked = 15;

test(`from file to delivery in at most ${asked} gestures`, { timeout: 180000 }, async (t) => {
  const { page, wrong, context } = await openPage(browser, app.base);
  const file = join(app.dir, "case.obj");
  await promisify(execFile)("bin/morvek", ["model", "survey-case", "-o", file]);
  let gestures = 0;
  const key = (k) => { gestures++; return page.keyboard.press(k); };
  const click = (what) => { gestures++; return page.locator(what).first().click(); };
  const type = (what) => { gestures++; return page.keyboard.type(what); };
  const long = async (act) => {
    const was = await page.getAttribute("body", "data-revision");
    await act();
    await page.waitForFunction((r) => document.body.dataset.revision !== r && document.querySelector("#work").hidden, was, { timeout: 90000 });
  };

  await page.goto(`${app.base}/projects`);
  gestures++;
  await page.locator("#model").setInputFiles(file);
  await page.waitForURL(/\/arrival$/);
  await page.waitForFunction(() => document.body.dataset.ready === "yes", null, { timeout: 60000 });
  await click("#open");
  await ready(page);
  await long(() => click("#tray [data-do=run]"));

  // Looked over: where something is wrong it leads there, and what can be mended is, shown first.
  await key("6");
  await page.waitForFunction(() => document.querySelector("#tray h2")?.textContent === "Proof");
  const open = async () => Number((await page.locator("#tray [data-rest] > .lead b").textContent()).match(/^(\d+)/)?.[1] ?? 0);
  const before = await open();
  if (before) {
    await key("n");
    await page.waitForFunction(() => document.querySelector("#findings [aria-pressed=true]"));
  }
  // One part is to lie otherwise: its texture runs across.
  await click(".card tbody tr:not([hidden]) .partname");
  await key("4");
  await page.waitForFunction(() => document.querySelector("#tray h2")?.textContent === "Flow");
  await changed(page, () => key("t"));
  await key("Control+z");
  await page.waitForFunction(() => /turn/.test(document.querySelector("#redo-name").textContent));
  // All that is in order is signed, and handed over.
  await key("Control+k");
  await type("sign all in order");
  await changed(page, () => key("Enter"));
  assert.ok(await page.locator(".card .cell.signed").count() > 100);
  await key("Shift+D");
  await page.locator("#deliver-form").waitFor();
  const [d] = await Promise.all([page.waitForEvent("download", { timeout: 90000 }), click("#deliver-form .act")]);
  assert.match(d.suggestedFilename(), /\.zip$/);
  t.diagnostic(`${gestures} gestures from file to delivery`);
  assert.ok(gestures <= asked, `${gestures} gestures`);
  assert.deepEqual(wrong, []);
  await context.close();
});
