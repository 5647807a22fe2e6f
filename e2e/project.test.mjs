import assert from "node:assert/strict";
import { after, before, test } from "node:test";
import { changed, clean, noSeriousFindings, openBench, openPage, startApp, startBrowser, verb } from "./app.mjs";

let app, browser;

before(async () => { app = await startApp(); browser = await startBrowser(); });
after(async () => { await browser?.close(); await app?.stop(); if (app) await clean(app.dir); });

/** The finished lamp at the Project station with a part chosen. */
async function project(part) {
  const opened = await openPage(browser, app.base);
  const { page } = opened;
  await openBench(page, app.base, /Storm lamp, finished/);
  await page.getByRole("button", { name: /^Project/ }).first().click();
  await choose(page, part);
  return opened;
}

async function choose(page, part) {
  await page.locator(`[title^="${part},"]`).first().click();
  await page.waitForFunction((p) => document.querySelector("#tray .trayname span")?.textContent === p && document.querySelector("#setup-kinds [data-kind]"), part);
  const more = page.locator("[data-do=more-kinds]");
  if (await more.count()) await more.click();
}

const lead = (page) => page.locator("#setup-lead").textContent();
const says = (page, pattern) => page.waitForFunction((p) => new RegExp(p).test(document.querySelector("#setup-lead")?.textContent ?? ""), pattern.source);

test("a projection is set up with knobs and numbers, compared, laid and kept", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await project("glass wall");
  assert.match(await lead(page), /Its shape asks for cylindrical ×1\.000.*; next \w+ ×1\.\d+/);
  assert.equal(await page.locator("#compare figure").count(), 2);
  await noSeriousFindings(page, "projection");
  // The opening follows its knob, and the ghost follows at once.
  const was = Number(await page.locator("#set-turn").inputValue());
  const knob = await page.locator(".knob.turn").boundingBox();
  await page.mouse.move(knob.x + 8, knob.y + 8);
  await page.mouse.down();
  await page.mouse.move(knob.x - 110, knob.y + 40, { steps: 10 });
  await page.mouse.up();
  await says(page, /^cylindrical: stretch ×1\.000 → ×1\.000.* one shell/);
  const turned = Number(await page.locator("#set-turn").inputValue());
  assert.ok(Math.abs(turned - was) > 40, `turned from ${was}° to ${turned}°`);
  assert.equal(await page.getAttribute("body", "data-ghost"), "project");
  // By key as well.
  await page.locator(".knob.turn").focus();
  await page.keyboard.press("ArrowRight");
  await page.waitForFunction((t) => Math.abs(Number(document.querySelector("#set-turn").value) - t - 5) < 0.01, turned);
  // Width and height hold together; nothing is not a width, and says so.
  const width = Number(await page.locator("#set-width").inputValue());
  await page.locator("#set-width").fill("0");
  await says(page, /A width of 0 is not possible/);
  await page.locator("#set-width").fill(String(width / 2));
  await says(page, /^cylindrical: stretch/);
  assert.ok(Math.abs(Number(await page.locator("#set-height").inputValue()) - width / 2) < 1e-3 * width);
  await page.locator("#setup-lock").click();
  await page.locator("#set-height").fill(String(width));
  await says(page, /→ ×[12]\.\d+/);
  await page.locator("#setup-lock").click();
  await says(page, /→ ×1\.000/);
  await changed(page, () => page.getByRole("button", { name: "Lay it so" }).click());
  assert.match(await page.locator("#undo-name").textContent(), /lay 480 faces cylindrical/);
  // What was set is offered again.
  await says(page, /^Laid by cylindrical/);
  assert.ok(Math.abs(Number(await page.locator("#set-turn").inputValue()) - turned - 5) < 0.2);
  await changed(page, () => page.locator("#undo").click());
  await says(page, /^Its shape asks for cylindrical/);
  assert.deepEqual(wrong, []);
  await context.close();
});

test("front on back is noticed and laid apart; leaving changes nothing", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await project("glass wall");
  const revision = await page.getAttribute("body", "data-revision");
  await page.locator("[data-kind=planar]").click();
  await says(page, /240 faces look away and land on those in front/);
  await page.locator("#setup-apart").click();
  await says(page, /^planar: stretch .* 2 shells/);
  await page.locator("[data-kind=box]").click();
  await says(page, /^box: stretch .* 4 shells/);
  await page.locator("#piece-canvas").focus();
  await page.keyboard.press("Escape");
  await says(page, /^Its shape asks for cylindrical/);
  assert.equal(await page.getAttribute("body", "data-revision"), revision);
  assert.deepEqual(wrong, []);
  await context.close();
});

test("a jig gives its size and up to other faces, and is there tomorrow", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await project("glass wall");
  await page.locator("[data-kind=extruded]").click();
  await says(page, /^extruded: stretch/);
  await page.locator("#set-width").fill("0.08");
  await says(page, /^extruded: stretch/);
  const late = (route) => setTimeout(() => route.continue(), 1000);
  await page.route("**/projections*", late); // what is chosen right after leaving counts, however long an answer takes
  await page.locator("#setup-leave").click(); // the size is forgotten with it
  await page.locator("[data-kind=extruded]").click();
  await page.locator("#set-width").fill("0.08");
  await says(page, /^extruded: stretch/);
  await page.unroute("**/projections*", late);
  await verb(page, "Keep as a jig");
  await page.locator("#set-jigname").fill("courses of 80 mm");
  await page.keyboard.press("Enter");
  await page.waitForFunction(() => document.querySelector("#set-jig")?.selectedOptions[0]?.textContent === "courses of 80 mm");
  await page.reload();
  await page.waitForFunction(() => document.body.dataset.ready === "yes");
  await page.getByRole("button", { name: /^Project/ }).first().click();
  await choose(page, "knob shaft wall");
  await page.waitForFunction(() => document.querySelector("#set-jig")?.selectedOptions[0]?.textContent === "courses of 80 mm");
  await page.keyboard.press("j");
  await page.waitForFunction(() => /extruded, 80 mm × 80 mm a sheet/.test(document.querySelector("#jig-size").textContent));
  await changed(page, () => page.locator("#jig-lay").click());
  assert.match(await page.locator("#undo-name").textContent(), /lay \d+ faces extruded/);
  // 80 mm are a sheet: a density of 2048 px on 0.08 m.
  const meta = await (await page.request.get(`${page.url()}/meta`)).json();
  const i = meta.parts.findIndex((p) => p.name === "knob shaft wall");
  assert.ok(Math.abs(meta.shells.find((s) => s.part === i).density - 2048 / 0.08) < 1);
  await changed(page, () => page.locator("#undo").click());
  await page.waitForFunction(() => document.querySelector("#set-jig")?.value);
  await page.keyboard.press("j");
  // It gets another name and size; a locked one keeps its sides equal.
  await page.locator("#jig-change summary").click();
  await page.locator("#set-jigsname").fill("courses of 60 mm");
  await page.locator("#set-jigwidth").fill("0.06");
  await page.locator("[data-do=change-jig]").click();
  await page.waitForFunction(() => document.querySelector("#set-jig")?.selectedOptions[0]?.textContent === "courses of 60 mm" && /60 mm × 60 mm/.test(document.querySelector("#jig-size").textContent));
  await page.locator("#jig-drop").click();
  await page.waitForFunction(() => document.querySelector("#set-jig")?.selectedOptions[0]?.textContent === "none kept yet");
  assert.deepEqual(wrong, []);
  await context.close();
});

test("the map is cleared of a part at the Project station, of all at the Flow station", { timeout: 120000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Storm lamp, finished/);
  const unmapped = async () => { // faces of the findings
    const m = await (await page.request.get(`${page.url()}/deliver/report.json`)).json();
    return m.totals.unmapped;
  };
  assert.equal(await unmapped(), 0);
  await page.locator('.card thead button[data-station="Project"]').click();
  await page.locator('[title^="glass wall,"]').first().click();
  await page.waitForFunction(() => document.querySelector("#tray .trayname span")?.textContent === "glass wall");
  await changed(page, () => page.locator("#fitting [data-do=clear-these]").click());
  const some = await unmapped();
  assert.ok(some > 0 && some < 1000, `${some} faces are not mapped`);
  await page.locator('.card thead button[data-station="Flow"]').click();
  await changed(page, () => verb(page, "Clear the map"));
  assert.equal(await unmapped(), 6882);
  for (let k = 0; k < 2; k++) await changed(page, () => page.keyboard.press("Control+z"));
  assert.equal(await unmapped(), 0);
  assert.deepEqual(wrong, []);
  await context.close();
});
