import assert from "node:assert/strict";
import { readFile } from "node:fs/promises";
import { after, before, test } from "node:test";
import { changed, clean, findOn, noSeriousFindings, number, openBench, openPage, ready, startApp, startBrowser, verb } from "./app.mjs";

let app, browser;

before(async () => { app = await startApp(); browser = await startBrowser(); });
after(async () => { await browser?.close(); await app?.stop(); if (app) await clean(app.dir); });

const station = (page, name) => page.locator(`.card thead button[data-station=${name}]`).click();
const choose = async (page, part) => {
  await page.locator(`[title^="${part},"]`).first().click();
  await page.waitForFunction((p) => document.querySelector("#tray .trayname span")?.textContent === p, part);
};
const mapShown = (page, map) => page.waitForFunction((m) => document.body.dataset.map === String(m), map);
const maps = async (page) => { if (!(await page.locator("#maps").getAttribute("open") === "")) await page.locator("#maps-name").click(); await page.locator("#map-new").waitFor(); };
/** Shows a map by its name in the list. */
const showMap = async (page, name, map) => { await maps(page); await page.locator(".maplist button", { hasText: name }).click(); await mapShown(page, map); };
const delivered = async (page) => {
  await page.locator("#deliver-open").click();
  const [d] = await Promise.all([page.waitForEvent("download"), page.locator('a[href$="deliver/model.obj"], a[href*="deliver/model.obj?"]').click()]);
  await page.locator("#deliver-close").click();
  return { name: d.suggestedFilename(), text: await readFile(await d.path(), "utf8") };
};

test("a second map is made, worked on, named, copied to, delivered and removed", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Storm lamp, finished/);
  const all = await number(page, "shells"), first = await delivered(page);
  await station(page, "Sheet");
  await choose(page, "glass wall");
  await maps(page);
  await noSeriousFindings(page, "maps");
  await page.locator("[data-do=make-map]").click(); // it has no name yet
  await page.waitForFunction(() => /Give the new map a name/.test(document.querySelector("#banner-text").textContent));
  await page.locator("#map-new").fill("Boards");
  await page.keyboard.press("Enter");
  await mapShown(page, 2);
  assert.equal(await number(page, "shells"), 1);
  assert.match(await page.locator("#sheet-note").textContent(), /1 shells? .* tiling/);
  assert.match(page.url(), /\?map=2$/);

  // Outside the square is no finding here; the other map does not see it.
  await choose(page, "glass wall");
  const at = await findOn(page, "#sheet-canvas", /part glass wall /);
  await page.mouse.move(at.x, at.y);
  await page.mouse.down();
  await page.mouse.move(at.x - 200, at.y, { steps: 5 });
  await changed(page, () => page.mouse.up());
  await station(page, "Proof");
  await page.waitForFunction(() => document.querySelector("#tray h2")?.textContent === "Proof");
  assert.doesNotMatch(await page.locator("#tray").textContent(), /outside|overlap/i);
  await showMap(page, "Map 1", 1);
  assert.equal(await number(page, "shells"), all);
  const again = await delivered(page);
  assert.match(again.name, /-map-1\.obj$/);
  assert.equal(again.text, first.text);

  // It keeps what it is called, and is shown again after a reload.
  await showMap(page, "Boards", 2);
  await page.locator("#map-name").fill("Courses");
  await changed(page, () => page.locator("[data-do=set-map]").click());
  await page.reload();
  await ready(page);
  assert.equal(await page.locator("#maps-name").textContent(), "Courses");
  assert.equal(await number(page, "shells"), 1);
  const boards = await delivered(page);
  assert.match(boards.name, /-courses\.obj$/);
  assert.notEqual(boards.text, first.text);

  // More shells are copied there, from the card.
  await showMap(page, "Map 1", 1);
  await choose(page, "hood cone");
  await changed(page, () => page.locator("[data-do=copy-shells]").click());
  await showMap(page, "Courses", 2);
  assert.ok(await number(page, "shells") > 1);

  // Undone from elsewhere, it is shown where it was changed; removed, it comes back by undo.
  const shells = await number(page, "shells");
  await changed(page, () => page.locator("[data-do=remove-map]").click());
  assert.equal(await page.getAttribute("body", "data-map"), "1");
  await page.waitForFunction(() => document.querySelectorAll(".maplist li").length === 1);
  await changed(page, () => page.locator("#undo").click());
  await showMap(page, "Courses", 2);
  assert.equal(await number(page, "shells"), shells);
  assert.deepEqual(wrong, []);
  await context.close();
});

test("who looks at a map that somebody removed is told, and sees another", { timeout: 120000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await page.route("**/events", (r) => r.abort()); // it does not hear of it
  await openBench(page, app.base, /Line winch/);
  await maps(page);
  await page.locator("#map-new").fill("Paint");
  await page.locator("#map-with").selectOption("none");
  await page.locator("[data-do=make-map]").click();
  await mapShown(page, 2);
  const doc = page.url().split("?")[0];
  const meta = await (await page.request.get(`${doc}/meta`)).json();
  const gone = await page.request.post(`${doc}/edits`, { data: { base: meta.revision, edit: { kind: "remove-map", params: { map: 2 } } } });
  assert.equal(gone.status(), 200);
  await station(page, "Parts");
  await page.getByRole("button", { name: "Recognise all" }).click();
  await mapShown(page, 1);
  await page.waitForFunction(() => /no longer there/.test(document.querySelector("#banner-text").textContent));
  assert.equal(await page.locator("#maps-name").textContent(), "Map 1");
  assert.deepEqual(wrong.filter((w) => !/ERR_FAILED/.test(w)), []);
  await context.close();
});

test("carrying over and jigs offer a tiling map, and go there", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Survey case/);
  await changed(page, () => page.locator("[data-do=run]").first().click());
  await station(page, "Flow");
  await page.getByRole("button", { name: "edges", exact: true }).click();
  const seam = await findOn(page, "#piece-canvas", / edge \d+ bend .*seam/);
  await page.mouse.click(seam.x, seam.y);
  await page.locator("#fitting [data-do=carry-tiling]").click();
  await mapShown(page, 2);
  await page.waitForFunction(() => /the pattern goes on over 1 seam/.test(document.querySelector("#ghost").textContent));
  await changed(page, () => page.keyboard.press("Enter"));
  assert.equal(await page.locator("#maps-name").textContent(), "Tiling");
  assert.match(await page.locator("#undo-name").textContent(), /carry the pattern over 1 edge/);
  await page.waitForFunction(() => document.querySelector("#tray h2")?.textContent === "Flow" && !document.querySelector("[data-do=carry-tiling]"));

  // A jig goes to the same map.
  await showMap(page, "Map 1", 1);
  await station(page, "Project");
  await page.locator(".card tbody tr .partname").first().click();
  await page.locator("#setup-kinds button[aria-pressed=true]").waitFor();
  await verb(page, "Keep as a jig");
  await page.locator("#set-jigname").fill("courses of 80 mm");
  await page.keyboard.press("Enter");
  await page.waitForFunction(() => document.querySelector("#set-jig")?.selectedOptions[0]?.textContent === "courses of 80 mm");
  await page.keyboard.press("j");
  await page.locator("[data-do=jig-tiling]").click();
  await mapShown(page, 2);
  await page.waitForFunction(() => /^lay \d+ face/.test(document.querySelector("#undo-name").textContent));
  const meta = await (await page.request.get(`${page.url().split("?")[0]}/meta?map=2`)).json();
  assert.equal(meta.maps.length, 2);
  assert.deepEqual(wrong, []);
  await context.close();
});
