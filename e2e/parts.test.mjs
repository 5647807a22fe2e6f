import assert from "node:assert/strict";
import { after, before, test } from "node:test";
import { changed, clean, findOn, given, layout, number, openBench, openPage, ready, startApp, startBrowser, verb } from "./app.mjs";

let app, browser;

before(async () => { app = await startApp(); browser = await startBrowser(); });
after(async () => { await browser?.close(); await app?.stop(); if (app) await clean(app.dir); });

test("a newcomer lands on the lamp as it came, its finished twin beside it", { timeout: 120000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await page.goto(app.base + "/");
  await ready(page);
  assert.equal(await page.locator("h1").textContent(), "Storm lamp");
  assert.equal(await page.locator("#undo-name").textContent(), "nothing to undo");
  await page.locator("details.doc summary").click();
  await page.getByRole("link", { name: "Storm lamp, finished" }).click();
  await page.waitForFunction(() => document.querySelector("h1").textContent === "Storm lamp, finished" && document.body.dataset.ready === "yes");
  await page.goto(app.base + "/"); // and comes back where one left off
  await ready(page);
  assert.equal(await page.locator("h1").textContent(), "Storm lamp, finished");
  assert.deepEqual(wrong, []);
  await context.close();
});

test("parts by hand: faces picked, parted off, locked, shown alone", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Storm lamp, finished/);
  const parts = async () => Number(await page.locator("#part-count").textContent());
  const faces = async (n) => page.waitForFunction((want) => Number(document.body.dataset.faces) === want, n);

  // The card and the tray say what a part reads as.
  await page.locator('[title^="glass wall"]').click();
  await page.waitForFunction(() => /glass wall reads as cylinder/.test(document.querySelector("#tray").textContent));
  assert.match(await page.locator("#piece-note").textContent(), /glass wall · cylinder, off by 0 mm/);

  // Pick a face by mouse, grow it to the crease, part half of it off.
  const spot = await findOn(page, "#piece-canvas", /part glass wall/);
  await page.mouse.click(spot.x, spot.y);
  await faces(1);
  await page.keyboard.press("f");
  await faces(480);
  await page.keyboard.press("Escape");
  await faces(0);
  await page.mouse.click(spot.x, spot.y);
  await faces(1);
  const before = await parts();
  await changed(page, () => page.keyboard.press("p"));
  assert.equal(await parts(), before + 1);
  assert.equal(await page.locator("#undo-name").textContent(), "part off 1 face");
  await changed(page, () => page.keyboard.press("Control+z"));
  assert.equal(await parts(), before);

  // A region on empty ground picks what is in view only; see-through picks more.
  const box = await page.locator("#piece-canvas").boundingBox();
  await page.keyboard.press("Home");
  const drag = async () => {
    await page.mouse.move(box.x + 3, box.y + 3);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width - 3, box.y + box.height - 3, { steps: 4 });
    await page.mouse.up();
    await page.waitForFunction(() => Number(document.body.dataset.faces) > 0);
    return number(page, "faces");
  };
  const seen = await drag();
  await page.locator("#through").click();
  const all = await drag();
  assert.ok(seen > 50 && all > 1.5 * seen, `${seen} faces in view, ${all} see-through`);
  await page.keyboard.press("Escape");

  // Alone, aside, all.
  await page.locator('[title^="glass wall"]').click();
  await page.keyboard.press("q");
  assert.equal(await number(page, "hidden"), before - 1);
  await page.keyboard.press("r");
  assert.equal(await number(page, "hidden"), 0);
  await page.keyboard.press("w");
  assert.equal(await number(page, "hidden"), 1);
  assert.equal(await page.locator("#aside-note").textContent(), "1 part set aside · show all");
  await page.keyboard.press("r");

  // A shape set by hand is locked and survives a new recognition.
  await page.locator('[title^="glass wall"]').click();
  await changed(page, () => page.locator("[data-shape=free]").click());
  await page.waitForFunction(() => /reads as free.*locked/.test(document.querySelector("#tray").textContent));
  await verb(page, "Recognise all");
  await given(page);
  await changed(page, () => page.keyboard.press("Enter"));
  assert.match(await page.locator('[title^="glass wall"]').getAttribute("title"), /free/);
  await changed(page, () => page.keyboard.press("Control+z"));
  assert.deepEqual(wrong, []);
  await context.close();
});

test("the detail is shown while it turns; A takes a part apart, U unites it again", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Storm lamp, finished/);
  const parts = async () => Number(await page.locator("#part-count").textContent());
  const before = await parts();

  // The dial says and draws what it would give; taking it does just that, in one edit.
  await verb(page, "Fewer or more parts");
  await page.locator("#set-detail").fill("0.95");
  const [, was, will] = /(\d+) → (\d+) parts: \d+ taken apart/.exec(await given(page, /taken apart/));
  assert.equal(Number(was), before);
  assert.ok(Number(will) > before);
  assert.equal(await page.getAttribute("body", "data-ghost"), "live");
  assert.equal(await parts(), before);
  await changed(page, () => page.keyboard.press("Enter"));
  assert.equal(await parts(), Number(will));
  assert.equal(await page.locator("#set-detail").inputValue(), "0.95");
  await changed(page, () => page.keyboard.press("Control+z"));
  assert.equal(await parts(), before);

  // Pointing at the button shows it, the key does it, and the piece at the clicked place stays chosen.
  await page.locator('[title^="body wall 1,"]').click();
  await page.locator("#fitting [data-do=split]").hover();
  await page.waitForFunction(() => /parts: 1 taken apart/.test(document.querySelector("#readout").textContent));
  assert.equal(await page.getAttribute("body", "data-foretold"), "yes");
  await page.mouse.move(5, 5);
  await page.waitForFunction(() => document.body.dataset.foretold === "");
  await changed(page, () => page.keyboard.press("a"));
  assert.ok(await parts() > before);
  assert.equal(await page.locator("#undo-name").textContent(), "split a part into its pieces");
  await page.waitForFunction(() => /body \w+( \d+)? reads as/.test(document.querySelector("#tray").textContent));
  await changed(page, () => page.keyboard.press("u"));
  assert.equal(await parts(), before);
  await page.waitForFunction(() => /body wall( \d+)? reads as turned/.test(document.querySelector("#tray").textContent));
  assert.deepEqual(wrong, []);
  await context.close();
});

test("repeats are folded, unfolded and stacked; a stack is no overlap", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Storm lamp, finished/);
  const rods = page.locator('tr:not([hidden]) [title^="cage rod"][title*=" bar"]');
  assert.equal(await rods.count(), 1);
  await page.locator("tr", { has: page.locator('[title^="cage rod 1 bar"]') }).locator("[data-fold]").click();
  assert.equal(await rods.count(), 6);
  await page.locator('[title^="cage rod 1 bar"]').click();
  await changed(page, () => verb(page, "Stack repeats"));
  assert.equal(await page.locator("#undo-name").textContent(), "stack the repeats of a part");
  await page.getByRole("button", { name: /^Proof/ }).first().click();
  await page.waitForFunction(() => document.querySelector("#tray h2").textContent === "Proof");
  assert.equal(await page.locator(".finding.must").count(), 0);
  assert.deepEqual(wrong, []);
  await context.close();
});

test("the whole job is cancelled by a click", { timeout: 120000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Line winch/);
  const revision = await number(page, "revision");
  // Others are in the queue before it, so that it cannot be over before the click.
  const others = await page.locator(".doc nav a[href^='/documents/']:not([aria-current])").evaluateAll((l) => l.map((a) => a.getAttribute("href")));
  for (const doc of others) {
    const { revision: base } = await (await page.request.get(`${app.base}${doc}/meta`)).json();
    await page.request.post(`${app.base}${doc}/run`, { data: { base } });
  }
  await page.locator("#tray [data-do=run]").click();
  await page.locator("#work-cancel").click();
  await page.waitForSelector("#work", { state: "hidden" });
  await page.reload();
  await ready(page);
  assert.equal(await number(page, "revision"), revision);
  assert.deepEqual(wrong, []);
  await context.close();
});

test("what was done to one part is done to its kind, of other sizes too", { timeout: 120000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Valve block/);
  await changed(page, () => verb(page, "Run the whole job"));
  await page.locator('[title^="block wall 5,"]').first().click();
  await page.waitForFunction(() => document.querySelector("#tray .trayname span")?.textContent === "block wall 5");
  await page.locator('.card thead button[data-station="Flow"]').click();
  await changed(page, () => page.keyboard.press("t"));
  await page.keyboard.press("Shift+R");
  await given(page, /on 5 parts like block wall 5, 5 of other sizes/);
  await changed(page, () => page.keyboard.press("Enter"));
  assert.match(await page.locator("#undo-name").textContent(), /do likewise on 5 parts/);
  // They lie as it does, in as many shells, however the sheet had divided them.
  const { parts } = await (await page.request.get(`${page.url()}/meta`)).json(), { parts: of, shells } = await layout(page);
  const lies = (name) => { const p = parts.findIndex((q) => q.name === name), own = of.flatMap((q, f) => (q === p ? [shells[f]] : [])); return [Math.min(...own) >= 0, new Set(own).size]; };
  for (let k = 10; k <= 14; k++) assert.deepEqual(lies(`block wall ${k}`), lies("block wall 5"), `block wall ${k}`);
  assert.deepEqual(lies("block wall 5"), [true, 1]);
  assert.deepEqual(wrong, []);
  await context.close();
});
