// Two states of a map beside each other: what differs is told, seen on both, and wiped between.
import assert from "node:assert/strict";
import { after, before, test } from "node:test";
import { changed, clean, drawn, findOn, noSeriousFindings, number, openBench, openPage, startApp, startBrowser } from "./app.mjs";

let app, browser;

before(async () => { app = await startApp(); browser = await startBrowser(); });
after(async () => { await browser?.close(); await app?.stop(); if (app) await clean(app.dir); });

const shown = async (page) => { await page.waitForFunction(() => document.body.dataset.ready === "yes", null, { timeout: 60000 }); await drawn(page); };

/** How much of a canvas two pictures of it differ in, as a share of its pixels. */
const pixels = (page, id) => page.evaluate((id) => {
  const from = document.getElementById(id), c = document.createElement("canvas");
  c.width = 160; c.height = 160;
  const g = c.getContext("2d");
  g.drawImage(from, 0, 0, 160, 160);
  return [...g.getImageData(0, 0, 160, 160).data];
}, id);
const apart = (a, b) => a.filter((x, i) => Math.abs(x - b[i]) > 8).length / a.length;

test("what an edit did is seen before and after, told in numbers, and wiped between", { timeout: 180000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Storm lamp, finished/);
  const url = page.url().replace(/\?.*/, "");
  const move = { base: await number(page, "revision"), edit: { kind: "move", params: { faces: [0], shift: { X: 0.3, Y: 0.1 } } } };
  assert.ok((await page.request.post(`${url}/edits`, { data: move })).ok());
  await page.reload();
  await page.waitForFunction(() => document.body.dataset.ready === "yes");
  await page.locator("#worklog-open").click();
  await page.locator("#worklog li", { hasText: "move a shell" }).getByRole("link").click();
  await shown(page);
  await noSeriousFindings(page, "before and after");
  assert.match(await page.locator("#changed").textContent(), /6.689 faces lie where they lay, 193 lie otherwise/);
  assert.match(await page.locator("tr.worse", { hasText: "outside the sheet" }).first().textContent(), /0.*189/);
  assert.equal(await page.locator(".parts tbody tr").count(), 1);

  // Both are looked at from the same place.
  const [before, after] = [await pixels(page, "piece-before"), await pixels(page, "piece-after")];
  assert.ok(apart(before, after) < 0.01, "the same model is drawn twice");
  assert.ok(apart(await pixels(page, "sheet-before"), await pixels(page, "sheet-after")) > 0.01, "the shell lies elsewhere");
  const box = await page.locator("#piece-after").boundingBox();
  await page.mouse.move(box.x + 0.75 * box.width, box.y + 0.6 * box.height);
  await page.mouse.down(); await page.mouse.move(box.x + 0.9 * box.width, box.y + 0.5 * box.height, { steps: 4 }); await page.mouse.up();
  await drawn(page);
  const turned = await pixels(page, "piece-before");
  assert.ok(apart(before, turned) > 0.02 && apart(turned, await pixels(page, "piece-after")) < 0.01, "turned together");

  // The part that differs is a click away, and what is under the pointer says both.
  await page.locator(".parts button").click();
  await drawn(page);
  const s = await findOn(page, "#piece-after", /base plate 1, face \d+ lies otherwise: stretch/, [0.6, 0.5]);
  assert.ok(s);

  // The line is dragged and moved by keys; the other way puts both beside each other.
  const line = page.locator(".wiper").first();
  await line.focus();
  for (let k = 0; k < 5; k++) await page.keyboard.press("ArrowLeft");
  assert.equal(await line.getAttribute("aria-valuenow"), "40");
  const w = await line.boundingBox();
  await page.mouse.move(w.x + w.width / 2, w.y + 200); await page.mouse.down(); await page.mouse.move(w.x + 120, w.y + 200, { steps: 3 }); await page.mouse.up();
  assert.ok(Number(await line.getAttribute("aria-valuenow")) > 55);
  await page.locator("[data-how=beside]").click();
  await page.locator("[data-show=cloth]").click();
  await drawn(page);
  assert.ok((await page.locator("#piece-after").boundingBox()).height < 0.6 * box.height);

  // Any other state: as it came in, with the map that came along.
  await page.locator("select[name=was]").selectOption("0");
  await page.waitForURL(/was=0/);
  await shown(page);
  assert.match(await page.locator("#changed").textContent(), /0 faces lie where they lay, 6.882 lie otherwise/);
  assert.equal((await page.goto(`${url}/compare?was=4000`)).status(), 404);
  assert.deepEqual(wrong, []);
  await context.close();
});
