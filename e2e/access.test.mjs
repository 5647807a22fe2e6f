// Every page by day and by lamplight, at double size and on wide screens: nothing serious for who sees
// or points otherwise, and nothing beside the page.
import assert from "node:assert/strict";
import { after, before, test } from "node:test";
import { clean, noSeriousFindings, openBench, openPage, ready, startApp, startBrowser } from "./app.mjs";

let app, browser;
before(async () => { app = await startApp(); browser = await startBrowser(); });
after(async () => { await browser?.close(); await app?.stop(); if (app) await clean(app.dir); });

test("pages have no serious findings, by day and by lamplight", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Storm lamp, finished/);
  const doc = new URL(page.url()).pathname;
  for (const colorScheme of ["light", "dark"]) {
    await page.emulateMedia({ colorScheme, reducedMotion: "reduce" });
    await page.goto(app.base + doc);
    await ready(page);
    await page.locator('[title^="glass wall,"]').first().click();
    await page.locator("#worklog-open").click();
    const rule = colorScheme === "dark" ? "color-contrast" : null; // nothing else becomes another by lamplight
    for (const s of ["Parts", "Project", "Seams", "Flow", "Sheet", "Proof"]) {
      await page.locator(`.card thead button[data-station=${s}]`).click();
      await page.waitForFunction((n) => document.querySelector("#tray h2")?.textContent === n, s);
      await noSeriousFindings(page, `${s}, ${colorScheme}`, rule);
    }
    for (const at of ["/projects", "/projects/1", "/help", `${doc}/arrival`, `${doc}/compare`, `${doc}/report`, "/paintshop"]) {
      await page.goto(app.base + at);
      await page.waitForLoadState("load");
      if (/arrival|compare/.test(at)) await page.waitForFunction(() => document.body.dataset.ready === "yes");
      await noSeriousFindings(page, `${at}, ${colorScheme}`, rule);
    }
  }
  assert.deepEqual(wrong, []);
  await context.close();
});

test("nothing stands beside the page at double size or is lost on a wide screen", { timeout: 120000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Storm lamp, finished/);
  const doc = new URL(page.url()).pathname, over = () => page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth);
  for (const at of ["/projects", "/projects/1", "/help", `${doc}/arrival`, `${doc}/report`, doc]) {
    await page.setViewportSize({ width: 640, height: 400 }); // 1280 × 800 at 200 %
    await page.goto(app.base + at);
    await page.waitForLoadState("load");
    assert.ok((await over()) <= 1, `${at} is ${await over()} px too wide at 200 %`);
  }
  await ready(page);
  for (const id of ["card", "piece-canvas", "sheet-canvas", "tray", "fitting"]) { // all of it is reached by scrolling down
    await page.locator(`#${id}`).scrollIntoViewIfNeeded();
    const box = await page.locator(id === "tray" ? "#tray h2" : `#${id}`).boundingBox();
    assert.ok(box && box.width > 60 && box.x >= 0 && box.x + Math.min(box.width, 300) <= 640, `${id} is at ${JSON.stringify(box)}`);
  }
  for (const width of [1100, 1920, 2560]) {
    await page.setViewportSize({ width, height: width === 2560 ? 1440 : 800 });
    await page.evaluate(() => new Promise((r) => requestAnimationFrame(() => requestAnimationFrame(r))));
    for (const s of ["Parts", "Project", "Seams", "Flow", "Sheet", "Proof"]) {
      await page.locator(`.card thead button[data-station=${s}]`).click();
      await page.waitForFunction((n) => document.querySelector("#tray h2")?.textContent === n, s);
      const cut = await page.evaluate(() => [...document.querySelectorAll("#fitting button, #tray .button, header .button, header .link")].filter((b) => b.offsetParent && (b.getBoundingClientRect().right > innerWidth + 1 || b.getBoundingClientRect().bottom > innerHeight + 1)).map((b) => b.textContent));
      assert.deepEqual(cut, [], `cut off at ${s}, ${width} px`);
    }
    assert.ok((await over()) <= 1, `at ${width} px`);
  }
  assert.deepEqual(wrong, []);
  await context.close();
});
