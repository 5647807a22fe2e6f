// Shells laid by hand: chosen, moved, aligned, racked, stacked, made as sharp as wanted.
import assert from "node:assert/strict";
import { after, before, test } from "node:test";
import { changed, clean, findOn, form, given, noSeriousFindings, number, openBench, openPage, startApp, startBrowser, verb } from "./app.mjs";

let app, browser;

before(async () => { app = await startApp(); browser = await startBrowser(); });
after(async () => { await browser?.close(); await app?.stop(); if (app) await clean(app.dir); });

async function atSheet() {
  const opened = await openPage(browser, app.base);
  const { page } = opened;
  await openBench(page, app.base, /Storm lamp, finished/);
  await page.locator('.card thead button[data-station="Sheet"]').click();
  await page.waitForFunction(() => document.querySelector("#tray h2")?.textContent === "Sheet");
  return opened;
}

const meta = async (page) => (await page.request.get(`${page.url()}/meta`)).json();
const chosen = (page, n) => page.waitForFunction((k) => document.body.dataset.chosen === String(k), n);
const value = async (page, id) => Number(await page.locator(id).inputValue());

/** Clicks a shell of a part on the sheet; with Shift it is chosen too. */
async function click(page, name, from, shift = false) {
  const at = await findOn(page, "#sheet-canvas", new RegExp(`part ${name} `), from);
  if (shift) await page.keyboard.down("Shift");
  await page.mouse.click(at.x, at.y);
  if (shift) await page.keyboard.up("Shift");
  return at;
}

test("shells are chosen, dragged, nudged, set by numbers and aligned", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await atSheet();
  const at = await click(page, "glass wall", [0.25, 0.6]);
  await chosen(page, 1);
  await page.waitForFunction(() => document.body.dataset.tray === "place");
  await noSeriousFindings(page, "shells by hand");
  const x = await value(page, "#place-x"), y = await value(page, "#place-y");

  // A drag moves it, Alt without snapping; the other button moves the view instead.
  await page.mouse.move(at.x, at.y);
  await page.keyboard.down("Alt");
  await page.mouse.down();
  await page.mouse.move(at.x + 40, at.y - 30, { steps: 4 });
  await changed(page, () => page.mouse.up());
  await page.keyboard.up("Alt");
  await page.waitForFunction((was) => Number(document.querySelector("#place-x").value) > was + 50, x);
  assert.ok((await value(page, "#place-y")) > y + 50);
  const revision = await number(page, "revision");
  await page.mouse.move(at.x + 40, at.y - 30);
  await page.mouse.down({ button: "right" });
  await page.mouse.move(at.x + 80, at.y, { steps: 3 });
  await page.mouse.up({ button: "right" });
  assert.equal(await number(page, "revision"), revision);
  await page.keyboard.press("Home");

  // Arrow keys nudge, a run of them is one edit; with Shift by the padding.
  const before = await value(page, "#place-x"), head = (await meta(page)).head;
  await changed(page, async () => { // as long as the key is held
    for (let i = 0; i < 3; i++) await page.keyboard.down("ArrowRight");
    await page.keyboard.down("Shift");
    await page.keyboard.down("ArrowRight");
    await page.keyboard.up("Shift");
    await page.keyboard.up("ArrowRight");
  });
  const m = await meta(page);
  assert.equal(m.head, head + 1);
  assert.ok(Math.abs((await value(page, "#place-x")) - before - 3 - 8) < 0.2, `${before} → ${await value(page, "#place-x")}`);

  // Numbers are set in px, %, and units of the model; proportions stay unless they are let go of.
  await page.locator("#place-x").fill("100");
  await changed(page, () => page.locator("#place-x").press("Enter"));
  await page.locator("#place-unit").selectOption("%");
  await page.waitForFunction(() => Math.abs(Number(document.querySelector("#place-x").value) - 100 / 20.48) < 0.01);
  await page.locator("#place-unit").selectOption("model");
  const wide = await value(page, "#place-w");
  assert.ok(wide > 0.1 && wide < 2, `the glass wall is ${wide} m wide`);
  await page.locator("#place-unit").selectOption("px");
  const w = await value(page, "#place-w"), h = await value(page, "#place-h");
  await page.locator("#place-w").fill(String(w / 2));
  await changed(page, () => page.locator("#place-w").press("Enter"));
  assert.ok(Math.abs((await value(page, "#place-h")) - h / 2) < 0.2);
  assert.ok(Math.abs((await value(page, "#place-x")) - 100) < 0.1, "its lower left stays");
  await page.locator("#place-lock").click();
  await page.locator("#place-w").fill(String(w));
  await page.locator("#place-w").press("Enter");
  await page.waitForFunction(() => /stretch ×1\.0\d+ → ×2\.0/.test(document.querySelector("#ghost:not([hidden])")?.textContent ?? ""));
  await page.keyboard.press("Escape");
  await page.locator("#ghost").waitFor({ state: "hidden" });

  // Two are aligned; a rectangle chooses, Esc lets go of all.
  await click(page, "base plate 2", [0.15, 0.35], true);
  await chosen(page, 2);
  await page.keyboard.press("a");
  await changed(page, () => page.locator("[data-do=align-left]").click());
  await page.waitForFunction(() => Math.abs(Number(document.querySelector("#place-x").value) - 100) < 0.1 || Number(document.querySelector("#place-x").value) < 100);
  assert.match(await page.locator("#undo-name").textContent(), /align shells by their left sides/);
  await page.keyboard.press("Escape"); // the form, then the shells
  await page.keyboard.press("Escape");
  await chosen(page, 0);
  const box = await page.locator("#sheet-canvas").boundingBox();
  await page.mouse.move(box.x + 4, box.y + 4);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width - 4, box.y + box.height - 4, { steps: 5 });
  await page.mouse.up();
  await chosen(page, m.shells.length);
  await page.keyboard.press("Control+i");
  await chosen(page, 0);
  assert.deepEqual(wrong, []);
  await context.close();
});

test("shells wait on the rack and find room again; locked ones stay when all is packed", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await atSheet();
  await page.locator('[title^="screw 1 plate 2,"]').first().click(); // small enough to find room wherever the others lie
  await chosen(page, 1);
  await changed(page, () => page.keyboard.press("d"));
  await page.waitForFunction(() => document.querySelector("#rack-note:not([hidden])")?.textContent === "rack 1");
  assert.equal(await page.locator("#undo-name").textContent(), "put 1 shell on the rack");
  await page.locator("#rack-note").click();
  await page.keyboard.press("Home");
  await changed(page, () => page.keyboard.press("f"));
  await page.locator("#rack-note").waitFor({ state: "hidden" });
  assert.equal(await page.locator("#undo-name").textContent(), "lay shells into free room: 1 shell");
  assert.equal(await page.locator("#place-hold").getAttribute("aria-pressed"), "false");
  await changed(page, () => page.locator("#place-hold").click());
  await page.waitForFunction(() => document.querySelector("#place-hold").getAttribute("aria-pressed") === "true");
  const x = await value(page, "#place-x"), y = await value(page, "#place-y");
  const revision = await number(page, "revision");
  await page.keyboard.press("Shift+K"); // packed anew, whatever was laid by hand
  await given(page, /fill/);
  await page.keyboard.press("Enter");
  await page.waitForFunction((r) => Number(document.body.dataset.revision) > r && document.querySelector("#work").hidden, revision, { timeout: 60000 });
  assert.equal(await value(page, "#place-x"), x);
  assert.equal(await value(page, "#place-y"), y);

  // What somebody laid by hand stays when packing is asked for.
  await page.keyboard.press("Shift+ArrowLeft");
  await page.waitForFunction(() => /move a shell/.test(document.querySelector("#undo-name").textContent));
  await page.keyboard.press("k");
  await page.waitForFunction(() => /laid by hand stays, and nothing waits/.test(document.querySelector("#banner:not([hidden])")?.textContent ?? ""));
  // Let go of, all are packed anew.
  await changed(page, () => page.locator("#place-hold").click());
  const then = await number(page, "revision");
  await verb(page, "Pack all anew");
  await given(page, /fill/);
  await page.keyboard.press("Enter");
  await page.waitForFunction((r) => Number(document.body.dataset.revision) > r && document.querySelector("#work").hidden, then, { timeout: 60000 });
  assert.equal((await meta(page)).placed, 0);
  assert.deepEqual(wrong, []);
  await context.close();
});

test("equal shells are stacked, set a tile aside, taken out; a density is set and mended", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await atSheet();
  await page.locator('[title^="screw 1 plate 2,"]').first().click();
  await chosen(page, 1);
  await verb(page, "Same size");
  await chosen(page, 8);
  await page.locator("#fitting [data-do=stack]").click();
  await page.waitForFunction(() => /7 shells on one/.test(document.querySelector("#ghost:not([hidden])")?.textContent ?? ""));
  await changed(page, () => page.keyboard.press("Enter"));
  let m = await meta(page);
  assert.equal(m.shells.filter((s) => s.stack === 8).length, 8);
  assert.equal(m.shells.filter((s) => s.above).length, 7);
  assert.ok(m.shells.every((s) => s.stack !== 8 || s.weight === 1));
  await changed(page, () => verb(page, "Stack a tile aside"));
  assert.match(await page.locator("#undo-name").textContent(), /offset a stack by 1 tile/);
  await changed(page, () => verb(page, "Stack a tile aside"));
  assert.match(await page.locator("#undo-name").textContent(), /bring a stack back together/);
  await changed(page, () => verb(page, "Take out of the stack"));
  m = await meta(page);
  assert.ok(m.shells.every((s) => !s.stack));
  assert.equal(Number(await page.getAttribute("body", "data-waiting")), 8);

  // Twice as sharp, said on the sheet and found by the proof, which mends it.
  await page.keyboard.press("Escape");
  await click(page, "base plate 2", [0.15, 0.4]);
  await chosen(page, 1);
  await verb(page, "What density is needed");
  await page.waitForFunction(() => /needs .* px\/m/.test(document.querySelector("#need").textContent));
  await page.keyboard.press("Escape");
  await page.keyboard.press("n");
  await form(page, "density");
  await noSeriousFindings(page, "density");
  const was = await value(page, "#density-set");
  await page.locator("#density-set").fill(String(2 * was));
  await changed(page, () => page.locator("#density-set").press("Enter"));
  await page.keyboard.press("n");
  await page.waitForFunction((d) => new RegExp(`the chosen shell: ${Math.round(d)} px/m`).test(document.querySelector("#density-lead").textContent), 2 * was);
  await page.locator('[data-show="density"]').click();
  assert.match(await page.locator("#legend").textContent(), /×0.67 as sharp/);
  await page.locator('.card thead button[data-station="Proof"]').click();
  const finding = page.locator(".finding", { hasText: "another density" });
  await finding.first().waitFor();
  await page.locator('[data-by="density"]').first().click();
  await page.waitForFunction(() => !document.querySelector("#ghost").hidden && /Take/.test(document.querySelector("#ghost").textContent));
  await changed(page, () => page.keyboard.press("Enter"));
  m = await meta(page);
  assert.ok(m.shells.every((s) => Math.abs(s.density / m.density - 1) < 0.1), "all are about as sharp again");
  assert.deepEqual(wrong, []);
  await context.close();
});

test("shells are arranged as on the model at a price that is said, packed in blocks, and improved until it is enough", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await atSheet();
  const long = async (act) => {
    const revision = await number(page, "revision");
    await act();
    await page.waitForFunction((r) => Number(document.body.dataset.revision) > r && document.querySelector("#work").hidden, revision, { timeout: 90000 });
  };
  await page.keyboard.press("Shift+K");
  await form(page, "pack-all");
  await page.locator("#pack-blocks").selectOption("material");
  await page.waitForFunction(() => /"blocks":"material"/.test(document.querySelector("#ghost").dataset.counted ?? ""), null, { timeout: 60000 });
  await long(() => page.keyboard.press("Enter"));
  assert.equal(await page.locator("#undo-name").textContent(), "pack the sheet in blocks");
  await verb(page, "As on the model");
  await page.waitForFunction(() => /fill [\d.]+ → [\d.]+ %/.test(document.querySelector("#ghost:not([hidden])")?.textContent ?? ""), null, { timeout: 60000 });
  const [, will] = /→ ([\d.]+) %/.exec(await page.locator("#ghost").textContent());
  await long(() => page.keyboard.press("Enter"));
  assert.equal(await page.locator("#undo-name").textContent(), "arrange the shells as seen from the front");
  const arranged = await meta(page);
  assert.ok(Math.abs(arranged.coverage * 100 - Number(will)) < 0.2, `${arranged.coverage}, foretold ${will} %`);

  // All is improved, and stopped where it is good enough.
  await page.keyboard.press("i");
  await page.waitForFunction(() => Number(document.querySelector("#ghost:not([hidden])")?.dataset.round) >= 3, null, { timeout: 60000 });
  await page.keyboard.press("s");
  await page.waitForFunction(() => /stopped after \d+ rounds/.test(document.querySelector("#ghost").textContent));
  await long(() => page.keyboard.press("Enter"));
  assert.match(await page.locator("#undo-name").textContent(), /improve the packing in \d+ rounds/);
  assert.ok((await meta(page)).density > arranged.density);
  assert.deepEqual(wrong, []);
  await context.close();
});
