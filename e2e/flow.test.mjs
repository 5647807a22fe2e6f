import assert from "node:assert/strict";
import { after, before, test } from "node:test";
import { changed, clean, findOn, form, noSeriousFindings, number, openBench, openPage, startApp, startBrowser, verb } from "./app.mjs";

let app, browser;

before(async () => { app = await startApp(); browser = await startBrowser(); });
after(async () => { await browser?.close(); await app?.stop(); if (app) await clean(app.dir); });

/** The finished lamp at the Flow station with a part chosen. */
async function flow(part) {
  const opened = await openPage(browser, app.base);
  const { page } = opened;
  await openBench(page, app.base, /Storm lamp, finished/);
  await page.getByRole("button", { name: /^Flow/ }).first().click();
  await page.locator(`[title^="${part},"]`).first().click();
  await page.waitForFunction((p) => document.querySelector("#tray .trayname span")?.textContent === p && document.querySelector("#set-where"), part); // hidden until it is asked for
  return opened;
}

/** Moves over a part on the sheet until a point is under the pointer. */
async function findPoint(page, part) {
  const at = await findOn(page, "#sheet-canvas", new RegExp(`part ${part} `));
  for (let r = 0; r < 40; r += 3) for (let a = 0; a < 6.3; a += 0.5) {
    await page.mouse.move(at.x + r * Math.cos(a), at.y + r * Math.sin(a));
    await page.evaluate(() => new Promise((q) => requestAnimationFrame(() => requestAnimationFrame(q))));
    if ((await number(page, "hotpoint")) >= 0) return { x: at.x + r * Math.cos(a), y: at.y + r * Math.sin(a) };
  }
  throw new Error(`no point of ${part} under the pointer`);
}

const shellOf = async (page, part) => {
  const meta = await (await page.request.get(`${page.url()}/meta`)).json();
  return meta.shells.find((s) => s.part === meta.parts.findIndex((p) => p.name === part));
};

test("points are moved by hand, pinned, and relaxed; nothing tears", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await flow("glass wall");
  const before = await shellOf(page, "glass wall");
  const count = await number(page, "shells");
  const spot = await findPoint(page, "glass wall");
  await page.mouse.click(spot.x, spot.y);
  assert.equal(await number(page, "points"), 1);
  await noSeriousFindings(page, "points");
  await changed(page, async () => {
    await page.mouse.move(spot.x, spot.y);
    await page.mouse.down();
    await page.keyboard.down("Alt");
    await page.mouse.move(spot.x + 9, spot.y - 6, { steps: 6 });
    await page.mouse.up();
    await page.keyboard.up("Alt");
  });
  assert.match(await page.locator("#undo-name").textContent(), /move 1 point/);
  assert.equal(await number(page, "shells"), count);
  const moved = await shellOf(page, "glass wall");
  assert.ok(moved.l2 > before.l2 + 1e-6, `L² ${moved.l2} after ${before.l2}`);
  // Relaxed it is as it was, to a trifle.
  await page.keyboard.press("i");
  await form(page, "relax");
  await page.locator("#set-where").selectOption("all");
  await page.waitForFunction(() => /"hold_border":false/.test(document.querySelector("#ghost").dataset.counted ?? ""));
  await page.waitForFunction(() => /settled after \d+ rounds?/.test(document.querySelector("#ghost").textContent));
  await changed(page, () => page.keyboard.press("Enter"));
  assert.match(await page.locator("#undo-name").textContent(), /relax a shell/);
  const relaxed = await shellOf(page, "glass wall");
  assert.ok(relaxed.l2 - before.l2 < 0.02 * (moved.l2 - before.l2) + 1e-9, `L² ${relaxed.l2}, before ${before.l2}`);
  // A pin is kept, and let go.
  const pin = await findPoint(page, "glass wall");
  await page.mouse.click(pin.x, pin.y);
  await changed(page, () => page.keyboard.press("d"));
  await page.waitForFunction(() => /1 point is pinned/.test(document.querySelector("#tray").textContent));
  await changed(page, () => verb(page, "Unpin"));
  await page.waitForFunction(() => !/pinned/.test(document.querySelector("#tray").textContent));
  assert.deepEqual(wrong, []);
  await context.close();
});

test("flattening is watched, stopped, and taken as it was seen", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await flow("dome");
  await page.keyboard.press("n");
  await page.locator("[data-way]").nth(4).waitFor(); // all ways side by side
  assert.match(await page.locator("[data-way=conformal]").textContent(), /angles\s*×\d\.\d+/);
  await page.locator("[data-way=even]").click();
  assert.equal(await page.locator("#set-method").inputValue(), "even");
  await page.waitForFunction(() => /"method":"even"/.test(document.querySelector("#ghost").dataset.counted ?? ""), null, { timeout: 60000 });
  await page.waitForFunction(() => /round|settled/.test(document.querySelector("#ghost").textContent));
  await page.waitForFunction(() => /settled after \d+ rounds?/.test(document.querySelector("#ghost").textContent));
  assert.match(await page.locator("#ghost").textContent(), /stretch ×1\.\d+ → ×1\.\d+ · L² 1\.\d+/);
  assert.equal(await page.getAttribute("body", "data-ghost"), "live");
  const revision = await page.getAttribute("body", "data-revision");
  await page.keyboard.press("Escape");
  await page.waitForFunction(() => document.querySelector("#ghost").hidden);
  assert.equal(await page.getAttribute("body", "data-revision"), revision);
  await page.keyboard.press("n");
  await page.waitForFunction(() => Number(document.querySelector("#ghost").dataset.round) >= 1);
  await page.keyboard.press("s");
  await changed(page, () => page.keyboard.press("Enter"));
  assert.match(await page.locator("#undo-name").textContent(), /flatten a shell/);
  assert.deepEqual(wrong, []);
  await context.close();
});

test("faces are cleared and flattened into their hole, the rest untouched", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await flow("hood cone");
  await page.keyboard.press("b"); // points, edges, faces
  await page.waitForFunction(() => document.body.dataset.picking === "edges");
  await page.keyboard.press("b");
  await page.waitForFunction(() => document.body.dataset.picking === "faces");
  const spot = await findOn(page, "#piece-canvas", /part hood cone /);
  await page.mouse.click(spot.x, spot.y);
  const layout = async () => [...new Uint8Array(await (await page.request.get(`${page.url()}/layout.bin`)).body())];
  const before = await shellOf(page, "hood cone"), bytes = await layout();
  await changed(page, () => verb(page, "Clear their map"));
  assert.match(await page.locator("#undo-name").textContent(), /clear the map of 1 face/);
  await page.mouse.click(spot.x, spot.y);
  await page.getByRole("button", { name: "Fill their hole" }).click();
  await page.waitForFunction(() => /stretch ×1\.\d+/.test(document.querySelector("#ghost:not([hidden])")?.textContent ?? ""));
  await changed(page, () => page.keyboard.press("Enter"));
  assert.match(await page.locator("#undo-name").textContent(), /into their hole/);
  const after = await shellOf(page, "hood cone");
  assert.ok(Math.abs(after.l2 - before.l2) < 1e-5, `L² ${after.l2}, before ${before.l2}`);
  const now = await layout();
  assert.equal(now.length, bytes.length);
  let other = 0;
  for (let i = 0; i < now.length; i++) if (now[i] !== bytes[i]) other++;
  assert.ok(other < 200, `${other} bytes of the map differ`);
  assert.deepEqual(wrong, []);
  await context.close();
});

test("a shell is trued up with its cost first, a disc says why it stays", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await flow("hood cone");
  // What curves stays, and says so; a bent bar goes as rows and columns, at a price that is shown.
  await page.locator("#piece-canvas").focus();
  await page.keyboard.press("u");
  await page.waitForFunction(() => /stays as it is: most of its loops curve/.test(document.querySelector("#tray [data-form~=true-up] [data-formsays]").textContent));
  await page.locator('[title^="handle bar,"]').first().click();
  await page.waitForFunction(() => document.querySelector("#tray .trayname span")?.textContent === "handle bar");
  await page.keyboard.press("u");
  await page.locator("#set-true").selectOption("grid");
  const shells = async () => {
    const meta = await (await page.request.get(`${page.url()}/meta`)).json();
    return meta.shells.filter((s) => s.part === meta.parts.findIndex((p) => p.name === "handle bar"));
  };
  const mean = (l) => l.reduce((sum, s) => sum + s.straight, 0) / l.length;
  const before = await shells(), n = before.length;
  assert.ok(n >= 4, `${n} shells of the handle`);
  await page.waitForFunction((n) => new RegExp(`[1-9] of ${n} shells straightened, [1-9] straight before`).test(document.querySelector("#ghost").textContent), n);
  await page.getByRole("button", { name: "go where it stretches most" }).click();
  await changed(page, () => page.keyboard.press("Enter"));
  assert.match(await page.locator("#undo-name").textContent(), new RegExp(`true up ${n} shells`));
  const after = await shells();
  assert.ok(mean(after) > mean(before) + 0.1, `${mean(after)} of the loops straight after ${mean(before)}`);
  assert.ok(Math.max(...after.map((s) => s.angular)) > Math.max(...before.map((s) => s.angular)), "straight has its price");
  await changed(page, () => page.locator("#undo").click());
  assert.deepEqual(wrong, []);
  await context.close();
});

test("loops that resist are let go, dashed, and the rest is straight", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await flow("wick knob plate 2");
  await page.waitForFunction(() => /straight \d+ → \d+ % · stretch .*×1\.\d+/.test(document.querySelector("#flow-figures").textContent));
  await noSeriousFindings(page, "an offer");
  const straight = Number((await page.locator("#flow-figures").textContent()).match(/straight (\d+)/)[1]);
  await page.locator("#piece-canvas").focus();
  await page.keyboard.press("u");
  await page.waitForFunction(() => /\d+ lines straight, \d+ shortened or let go \(these are dashed\)/.test(document.querySelector("#ghost").textContent));
  await noSeriousFindings(page, "true up");
  const loop = page.locator("#ghost [data-row]").first();
  assert.match(await page.locator("#ghost .rows li").first().textContent(), /let go along [UV] ×\d\.\d+ → ×\d\.\d+/);
  const plain = await page.evaluate(() => document.querySelector("#piece-canvas").toDataURL());
  await loop.hover(); // which one it is, on the model
  await page.waitForFunction((was) => document.querySelector("#piece-canvas").toDataURL() !== was, plain);
  await changed(page, () => page.keyboard.press("Enter"));
  await page.waitForFunction((was) => Number(document.querySelector("#flow-figures")?.textContent.match(/straight (?:\d+ → )?(\d+)/)?.[1]) > was, straight);
  // Nothing is left to gain, and it says so.
  await page.waitForFunction(() => /As straight as it gets|stays as it is/.test(document.querySelector("#flow-offer").textContent));
  assert.deepEqual(wrong, []);
  await context.close();
});

test("a grain is chosen and drawn, and shells turn with it", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await flow("glass wall");
  const grain = () => page.locator("#grain-words").textContent();
  await page.waitForFunction(() => document.querySelector("#grain-words")?.textContent === "around its axis");
  await noSeriousFindings(page, "grain");
  await page.keyboard.press("g");
  await page.locator("#set-grain").selectOption("along");
  await changed(page, () => page.keyboard.press("Enter"));
  await page.waitForFunction(() => document.querySelector("#grain-words")?.textContent === "along its axis");
  assert.ok((await shellOf(page, "glass wall")).grain < 0.1);
  await changed(page, () => page.locator("#undo").click());
  // A stroke from the middle of the part to the side: the texture runs that way.
  const spot = await findOn(page, "#piece-canvas", /part glass wall /);
  await page.keyboard.press("Shift+G");
  await changed(page, async () => {
    await page.mouse.move(spot.x, spot.y);
    await page.mouse.down();
    await page.mouse.move(spot.x + 2, spot.y - 60, { steps: 6 });
    assert.equal(await page.locator("#piece-over .stroke:not([hidden])").count(), 1);
    await page.mouse.up();
  });
  assert.match(await page.locator("#undo-name").textContent(), /set the grain of 1 part/);
  await page.waitForFunction(() => document.querySelector("#grain-words")?.textContent === "in one direction");
  // By a picked edge: back around.
  const before = (await shellOf(page, "glass wall")).grain;
  await page.getByRole("button", { name: "edges", exact: true }).click();
  const edge = await findOn(page, "#piece-canvas", /part glass wall .*edge \d+ bend 0°/);
  await page.mouse.click(edge.x, edge.y);
  await changed(page, () => page.getByRole("button", { name: "Lay along the sheet" }).click());
  assert.match(await page.locator("#undo-name").textContent(), /turn a shell by 1 edge/);
  assert.ok((await shellOf(page, "glass wall")).grain > before + 45);
  assert.deepEqual(wrong, []);
  await context.close();
});

test("a pattern is carried over a seam, borders come on pixels, grain errors are shown", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await flow("body wall 1");
  await page.getByRole("button", { name: "edges", exact: true }).click();
  const seam = await findOn(page, "#piece-canvas", /part \S+ wall.* edge \d+ bend [1-9]\d*° seam/);
  await page.mouse.click(seam.x, seam.y);
  await page.getByRole("button", { name: "Pattern over the seam" }).click();
  await page.waitForFunction(() => /the pattern goes on over 1 seam, \d+\.\d thousandths of a tile left at most/.test(document.querySelector("#ghost").textContent));
  await changed(page, () => page.keyboard.press("Enter"));
  assert.match(await page.locator("#undo-name").textContent(), /carry the pattern over 1 edge/);
  await changed(page, () => page.locator("#undo").click());
  await page.locator(`[title^="knob shaft wall,"]`).first().click();
  await page.waitForFunction(() => document.querySelector("#tray .trayname span")?.textContent === "knob shaft wall");
  await verb(page, "Snap to pixels");
  await page.waitForFunction(() => /4 straight borders on whole pixels, moved by 0\.\d+ px at most/.test(document.querySelector("#ghost").textContent));
  await changed(page, () => page.keyboard.press("Enter"));
  await page.locator("[data-show=grain]").click();
  assert.match(await page.locator("#legend").textContent(), /0° along the grain.*10° off/);
  await noSeriousFindings(page, "grain errors");
  assert.deepEqual(wrong, []);
  await context.close();
});
