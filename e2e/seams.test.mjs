import assert from "node:assert/strict";
import { after, before, test } from "node:test";
import { changed, clean, drawn, findOn, given, noSeriousFindings, number, openBench, openPage, startApp, startBrowser, verb } from "./app.mjs";

let app, browser;

before(async () => { app = await startApp(); browser = await startBrowser(); });
after(async () => { await browser?.close(); await app?.stop(); if (app) await clean(app.dir); });

/** The finished lamp at the Seams station, one part framed. */
async function seams(part) {
  const opened = await openPage(browser, app.base);
  const { page } = opened;
  await openBench(page, app.base, /Storm lamp, finished/);
  if (part) await page.locator(`[title^="${part},"]`).first().click();
  await page.getByRole("button", { name: /^Seams/ }).first().click();
  await page.waitForFunction(() => /lacks an opening|suggested|needs? an opening/.test(document.querySelector("#suggest")?.textContent ?? ""));
  return opened;
}

const picked = (page, n) => page.waitForFunction((want) => Number(document.body.dataset.picked) === want, n);
const run = async (page) => (await page.getAttribute("body", "data-run")).split(" ").map(Number);

test("a loop by double click, its ends dragged and moved by key, kept as a set", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await seams("glass wall");
  const spot = await findOn(page, "#piece-canvas", /part glass wall .*edge \d+ bend 0°/);
  await page.mouse.dblclick(spot.x, spot.y);
  await picked(page, 48);
  assert.deepEqual(await run(page), [0, 48, 48]);
  assert.match(await page.locator("#tag").textContent(), /48 edges · 295 mm · loop/);

  await noSeriousFindings(page, "loop");
  // Both views show a handle at each end; one is dragged along the loop on the sheet.
  for (const view of ["#piece", "#sheet"]) assert.equal(await page.locator(`${view} .handle:visible`).count(), 2);
  const knob = await page.locator('#sheet .handle[data-end="to"]').boundingBox();
  const from = { x: knob.x + knob.width / 2, y: knob.y + knob.height / 2 };
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move(from.x + 40, from.y, { steps: 8 });
  await page.mouse.up();
  const [lo, hi, all] = await run(page);
  assert.ok(hi - lo < 48 && hi - lo > 2 && all === 48, `the loop is ${lo} to ${hi} of ${all} now`);
  assert.equal(await number(page, "picked"), hi - lo);
  assert.match(await page.locator("#tag").textContent(), /part of a loop/);

  // With the keyboard, an edge at a time; at least one stays.
  await page.locator('#piece .handle[data-end="from"]').focus();
  await page.keyboard.press("ArrowRight");
  await picked(page, hi - lo - 1);
  for (let i = 0; i < 60; i++) await page.keyboard.press("ArrowRight");
  await picked(page, 1);
  await page.keyboard.press("ArrowLeft");
  await picked(page, 2);

  // The set is there tomorrow.
  await verb(page, "Pick sets");
  await page.locator("#set-pickname").fill("glass, two");
  await changed(page, () => page.keyboard.press("Enter"));
  await page.keyboard.press("Escape");
  await picked(page, 0);
  await page.reload();
  await page.waitForFunction(() => document.body.dataset.ready === "yes");
  await page.getByRole("button", { name: /^Seams/ }).first().click();
  await verb(page, "glass, two");
  await picked(page, 2);

  // The whole loop again from the keyboard.
  await page.locator("#piece-canvas").focus();
  await page.keyboard.press("g");
  await picked(page, 48);
  assert.deepEqual(wrong, []);
  await context.close();
});

/** Waits until the pointer was seen and the chain that leads to it is known. */
async function known(page) {
  await drawn(page);
  await page.waitForFunction(() => document.body.dataset.chain !== "seeking");
}

test("a chain leads to the pointer live and is taken by a click", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await seams("hood cone");
  const from = await findOn(page, "#piece-canvas", /part hood cone .*edge \d+ bend \S+ seam/);
  await page.mouse.click(from.x, from.y);
  await picked(page, 1);
  await page.keyboard.press("x");
  // Along the rim, some way off, the path follows before anything is clicked.
  let path = 0, at = from;
  for (let dx = 10; dx < 90 && path < 4; dx += 3) {
    for (let dy = 24; dy >= -24 && path < 4; dy -= 4) {
      at = { x: from.x + dx, y: from.y + dy };
      await page.mouse.move(at.x, at.y);
      await known(page);
      path = await number(page, "path");
    }
  }
  assert.ok(path >= 4, `a path of ${path} edges`);
  assert.match(await page.locator("#readout").textContent(), /chain of \d+ edges · .*mm · click takes it/);
  assert.equal(await number(page, "picked"), 1);
  await page.mouse.click(at.x, at.y);
  await picked(page, path);
  await page.keyboard.press("Escape"); // leaves the chain, not the pick
  await page.mouse.move(at.x + 4, at.y + 30);
  await drawn(page);
  assert.equal(await number(page, "path"), 0);
  assert.equal(await number(page, "picked"), path);

  // Verbs on edges: a ring, all above an angle, the open borders of a closed lamp's parts.
  await page.keyboard.press("Escape");
  await verb(page, "Edges that bend");
  await page.locator("#set-above").fill("60");
  await page.keyboard.press("Enter");
  await page.waitForFunction(() => Number(document.body.dataset.picked) > 200);
  assert.match(await page.locator("#readout").textContent(), /bend 60° and more/);
  assert.deepEqual(wrong, []);
  await context.close();
});

test("a join shows its ghost and cost, swaps what stays, and is one edit", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await seams("hood cone");
  const shells = await number(page, "shells");
  const revision = await number(page, "revision");
  const spot = await findOn(page, "#piece-canvas", /part hood (cone|wall 1) .*edge \d+ bend -\S+ seam/);
  await page.mouse.click(spot.x, spot.y);
  await picked(page, 1);
  await page.keyboard.press("j");
  const panel = page.locator("#ghost");
  await panel.waitFor({ state: "visible" });
  const words = await panel.textContent();
  assert.match(words, /moves to hood cone/);
  assert.match(words, /rims differ by \d+\.\d+ %/);
  assert.match(words, /stretch ×1\.\d+ → ×1\.\d+/);
  assert.match(words, /rims bend apart/); // a wall on a fan
  await noSeriousFindings(page, "join");
  assert.equal(await number(page, "revision"), revision);
  await page.keyboard.press("m");
  await page.waitForFunction(() => /hood cone moves to/.test(document.querySelector("#ghost").textContent));
  await page.keyboard.press("Escape");
  await panel.waitFor({ state: "hidden" });
  assert.equal(await number(page, "shells"), shells);

  // Pieces of a ring that was divided for the sheet fit as they are.
  await page.keyboard.press("d");
  await page.locator("#set-dial").fill("1");
  await given(page, /shells/);
  await changed(page, () => page.keyboard.press("Enter"));
  const apart = await number(page, "shells");
  await page.locator('[title^="body wall 2,"]').first().click();
  const corner = await findOn(page, "#piece-canvas", /part body wall 2 .*edge \d+ bend 5° seam/);
  await page.mouse.click(corner.x, corner.y);
  await picked(page, 1);
  await page.keyboard.press("j");
  await page.waitForFunction(() => /It fits as it is/.test(document.querySelector("#ghost").textContent));
  assert.match(await panel.textContent(), /rims differ by 0\.0/);
  await changed(page, () => page.keyboard.press("Enter"));
  assert.equal(await number(page, "shells"), apart - 1);
  assert.equal(await page.locator("#undo-name").textContent(), "join along a border");
  await changed(page, () => page.keyboard.press("Control+z"));
  assert.equal(await number(page, "shells"), apart);
  await changed(page, () => page.keyboard.press("Control+z")); // the dial
  assert.deepEqual(wrong, []);
  await context.close();
});

test("the dial counts live and is taken as one edit", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await seams();
  const shells = await number(page, "shells");
  await page.keyboard.press("d");
  const count = async (to) => {
    await page.locator("#set-dial").fill(to);
    await page.waitForFunction((v) => JSON.parse(document.querySelector("#ghost").dataset.counted ?? "{}").dial === Number(v), to);
    const m = (await page.locator("#ghost").textContent()).match(/^(?:(\d+) → )?(\d+) shells/);
    return Number(m[2]);
  };
  const few = await count("0"), many = await count("1");
  assert.ok(few < shells && many > shells, `${few} < ${shells} < ${many}`);
  assert.match(await page.locator("#ghost").textContent(), /seam · .*in view · worst/);
  assert.equal(await number(page, "shells"), shells);
  await changed(page, () => page.keyboard.press("Enter"));
  assert.equal(await number(page, "shells"), many);
  assert.match(await page.locator("#undo-name").textContent(), /^seams for 100 % less stretch/);
  await changed(page, () => page.keyboard.press("Control+z"));
  assert.equal(await number(page, "shells"), shells);
  assert.deepEqual(wrong, []);
  await context.close();
});

test("exposure is shown, faces are kept whole and parted off as a shell", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await seams("glass wall");
  await page.locator("[data-show=exposure]").click();
  await page.waitForFunction(() => !document.querySelector("#legend").hidden);
  assert.match(await page.locator("#legend").textContent(), /hidden.*in view/);
  await page.keyboard.press("b");
  const spot = await findOn(page, "#piece-canvas", /part glass wall .*exposure 0\.\d+/);
  await page.mouse.click(spot.x, spot.y);
  await page.waitForFunction(() => Number(document.body.dataset.faces) === 1);
  await changed(page, () => page.getByRole("button", { name: "Keep whole" }).click());
  assert.equal(await page.locator("#undo-name").textContent(), "keep 1 face whole");
  const shells = await number(page, "shells");
  await page.mouse.click(spot.x, spot.y);
  await page.waitForFunction(() => Number(document.body.dataset.faces) === 1);
  await changed(page, () => page.keyboard.press("p"));
  assert.equal(await number(page, "shells"), shells + 1);
  assert.equal(await page.locator("#undo-name").textContent(), "part off 1 face as a shell");

  // Joined back as a group: all faces of the wall, the loose one among them.
  await page.mouse.dblclick(spot.x, spot.y);
  await page.waitForFunction(() => Number(document.body.dataset.faces) > 100);
  await page.getByRole("button", { name: "Join their shells" }).click();
  await given(page);
  await changed(page, () => page.keyboard.press("Enter"));
  assert.equal(await number(page, "shells"), shells);

  // What is cut on one of six rods is offered for the others.
  await page.locator("[data-show=parts]").click();
  await page.locator("#piece-canvas").focus();
  await page.keyboard.press("Escape");
  await page.keyboard.press("b");
  await page.locator('[title^="cage rod 1 bar,"]').first().click();
  const rod = await findOn(page, "#piece-canvas", /part cage rod \d bar .*edge \d+ bend \d+°\s+exposure/);
  await page.mouse.click(rod.x, rod.y);
  await picked(page, 1);
  await changed(page, () => page.keyboard.press("c"));
  const offer = page.locator("#offer");
  await offer.waitFor({ state: "visible" });
  assert.equal(await offer.textContent(), "Do the same on 5 like it");
  await changed(page, () => offer.click());
  assert.equal(await page.locator("#undo-name").textContent(), "cut 5 edges");
  assert.equal(await offer.isVisible(), false);
  assert.deepEqual(wrong, []);
  await context.close();
});
