// How fast the bench feels: the first page, an edit until it is seen, pointing. Prints a table; the
// machine is noisy, so no test depends on it. Run after script/build: node e2e/felt.mjs
import { execFile } from "node:child_process";
import { join } from "node:path";
import { promisify } from "node:util";
import { changed, clean, drawn, openPage, ready, startApp, startBrowser } from "./app.mjs";

const app = await startApp(), browser = await startBrowser();
const median = (list) => [...list].sort((a, b) => a - b)[list.length >> 1];

async function felt(faces) {
  const file = join(app.dir, `mast-${faces}.obj`);
  await promisify(execFile)("bin/morvek", ["model", "station-mast", "-faces", String(faces), "-o", file]);
  const { page, context } = await openPage(browser, app.base);
  await page.goto(`${app.base}/projects`);
  await page.locator("#model").setInputFiles(file);
  await page.waitForURL(/\/arrival$/, { timeout: 120000 });
  await page.waitForFunction(() => document.body.dataset.ready === "yes", null, { timeout: 120000 });
  await page.locator("#open").click();
  await ready(page);
  const was = await page.getAttribute("body", "data-revision");
  await page.locator("#tray [data-do=run]").click();
  await page.waitForFunction((r) => document.body.dataset.revision !== r && document.querySelector("#work").hidden, was, { timeout: 240000 });
  const at = page.url();

  let requests = 0, bytes = 0;
  const client = await context.newCDPSession(page);
  await client.send("Network.enable");
  client.on("Network.requestWillBeSent", () => { requests++; });
  client.on("Network.loadingFinished", (e) => { bytes += e.encodedDataLength; });
  const opened = [];
  for (let k = 0; k < 3; k++) {
    requests = bytes = 0;
    const t = Date.now();
    await page.goto(at);
    await ready(page);
    await drawn(page);
    opened.push(Date.now() - t);
  }
  const first = { requests, bytes };
  await page.locator('.card thead button[data-station="Flow"]').click();
  await page.locator(".card tbody tr:not([hidden]) .partname").first().click();
  await page.waitForFunction(() => document.querySelector("#tray h2")?.textContent === "Flow");
  await drawn(page);
  const edits = [];
  await page.evaluate(() => { // until the page knows the new state: without drawing, which has no graphics card here
    window.known = [];
    let pressed = 0;
    addEventListener("keydown", () => { pressed = performance.now(); }, true);
    new MutationObserver(() => window.known.push(performance.now() - pressed)).observe(document.body, { attributes: true, attributeFilter: ["data-revision"] });
  });
  requests = bytes = 0;
  for (let k = 0; k < 8; k++) {
    const t = Date.now();
    await changed(page, () => page.keyboard.press("t"));
    await page.evaluate(() => new Promise((r) => requestAnimationFrame(() => requestAnimationFrame(r))));
    edits.push(Date.now() - t);
  }
  const edit = { requests: requests / 8, bytes: bytes / 8 };
  // Pointing: what the page computes for it, without drawing, which has no graphics card here.
  const pointing = await page.evaluate(async () => {
    const long = [];
    new PerformanceObserver((l) => long.push(...l.getEntries().map((e) => e.duration))).observe({ type: "longtask" });
    const el = document.querySelector("#piece-canvas"), took = [];
    for (let i = 0; i < 120; i++) {
      el.dispatchEvent(new PointerEvent("pointermove", { clientX: 400 + 2 * i, clientY: 300 + (i % 40), bubbles: true, pointerId: 1, pointerType: "mouse" }));
      await new Promise((r) => requestAnimationFrame(() => { const t = performance.now(); requestAnimationFrame(() => { took.push(performance.now() - t); r(); }); }));
    }
    return { frame: took.sort((a, b) => a - b)[Math.floor(0.95 * took.length)], long: long.length };
  });
  console.log(`${String(faces).padStart(7)} faces | first page ${median(opened)} ms, ${first.requests} requests, ${(first.bytes / 1e6).toFixed(2)} MB | edit to new state ${median(await page.evaluate(() => window.known)).toFixed(0)} ms, to picture ${median(edits)} ms, ${edit.requests} requests, ${(edit.bytes / 1e3).toFixed(0)} kB | pointing: p95 frame ${pointing.frame.toFixed(0)} ms, ${pointing.long} long tasks in 120`);
  await context.close();
}

try {
  for (const faces of process.argv.length > 2 ? process.argv.slice(2).map(Number) : [20000, 100000, 250000]) await felt(faces);
} finally {
  await browser.close();
  await app.stop();
  await clean(app.dir);
}
