// What a first day hits: keys everywhere, letting go, clicks on the sheet, findings that
// lead to their place, names that stay names.
import assert from "node:assert/strict";
import { after, before, test } from "node:test";
import { changed, clean, findOn, given, noSeriousFindings, number, openBench, openPage, ready, startApp, startBrowser, verb } from "./app.mjs";

let app, browser;
before(async () => { app = await startApp(); browser = await startBrowser(); });
after(async () => { await browser?.close(); await app?.stop(); if (app) await clean(app.dir); });

const station = async (page, name) => {
  await page.locator(`.card thead button[data-station="${name}"]`).click();
  await page.waitForFunction((n) => document.querySelector("#tray .trayname h2")?.textContent === n, name);
};
const edit = (page, base, kind, params) => page.evaluate(async ([kind, params]) => {
  const url = `/documents/${document.body.dataset.document}`;
  const { revision } = await (await fetch(`${url}/meta`)).json();
  const res = await fetch(`${url}/edits`, { method: "POST", headers: { "Content-Type": "application/json" }, body: JSON.stringify({ base: revision, edit: { kind, params } }) });
  return res.status;
}, [kind, params]);

test("keys and verbs for faces work at every station, and picks are let go first, then parts", async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, "Storm lamp, finished");
  await station(page, "Parts");
  const spot = await findOn(page, "#piece-canvas", /part \S+ .*face \d+/);
  await page.mouse.click(spot.x, spot.y);
  await page.waitForFunction(() => document.body.dataset.faces === "1");
  for (const name of ["Project", "Seams", "Parts"]) {
    await station(page, name);
    await page.keyboard.press("f");
    await page.waitForFunction(() => Number(document.body.dataset.faces) >= 1);
  }
  await station(page, "Flow");
  const picked = await number(page, "faces");
  for (const want of ["edges", "faces"]) { // the key goes round what is picked and keeps what was
    await page.keyboard.press("b");
    await page.waitForFunction((w) => document.body.dataset.picking === w, want);
  }
  assert.equal(await number(page, "faces"), picked);
  await verb(page, "Not mapped");
  await page.waitForFunction(() => document.body.dataset.faces === "0"); // all is mapped
  // Shift on the card adds and takes away; Escape lets the parts go.
  await station(page, "Parts");
  const rows = page.locator(".card tbody tr:visible .partname");
  await rows.nth(0).click();
  await page.waitForFunction(() => document.body.dataset.parts === "1");
  await rows.nth(2).click({ modifiers: ["Shift"] });
  await page.waitForFunction(() => document.body.dataset.parts === "2" && /and 1 more chosen/.test(document.querySelector("#tray .trayname")?.textContent ?? ""));
  await page.getByRole("button", { name: "free", exact: true }).click();
  await page.waitForFunction(() => /takes one part, and 2 are chosen/.test(document.querySelector("#banner-text")?.textContent ?? ""));
  await rows.nth(2).click({ modifiers: ["Shift"] });
  await page.waitForFunction(() => document.body.dataset.parts === "1" && document.querySelectorAll(".card tr.chosen").length === 1);
  await page.keyboard.press("Escape");
  await page.waitForFunction(() => document.querySelectorAll(".card tr.chosen").length === 0 && document.body.dataset.parts === "0");
  assert.deepEqual(wrong, []);
  await context.close();
});

test("shells are chosen and moved at the Sheet station only, with the left button only", async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, "Storm lamp, finished");
  await station(page, "Proof");
  const before = await number(page, "revision");
  const spot = await findOn(page, "#sheet-canvas", /density/, [0.5, 0.4]);
  const drag = async (button) => {
    await page.mouse.move(spot.x, spot.y);
    await page.mouse.down({ button });
    await page.mouse.move(spot.x + 30, spot.y + 20, { steps: 4 });
    await page.mouse.up({ button });
  };
  await drag("left");
  await page.keyboard.press("Home");
  await station(page, "Sheet");
  await drag("right");
  assert.equal(await number(page, "revision"), before, "a drag elsewhere, or with another button, moved a shell");
  await page.keyboard.press("Home");
  assert.match(await page.locator("#tray").textContent(), /2048 px, shells 8 px apart and 8 px from the border, half turns only/);
  // Clicks on shells choose, wherever they land.
  const box = await page.locator("#sheet-canvas").boundingBox();
  let chosen = 0, tried = 0;
  for (let i = 0; i < 40; i++) {
    const x = box.x + box.width * (0.2 + 0.6 * ((i * 0.618) % 1)), y = box.y + box.height * (0.15 + 0.6 * ((i * 0.381) % 1));
    await page.mouse.move(x, y);
    await page.evaluate(() => new Promise((r) => requestAnimationFrame(() => requestAnimationFrame(r))));
    if (!/density/.test(await page.locator("#readout").textContent())) continue;
    tried++;
    await page.mouse.click(x, y);
    if (await page.locator(".card tr.chosen").count() === 1) chosen++;
    assert.equal(await number(page, "picked"), 0);
  }
  assert.ok(tried > 8 && chosen === tried, `${chosen} of ${tried} clicks chose a shell`);
  await changed(page, () => drag("left"));
  assert.deepEqual(wrong, []);
  await context.close();
});

test("findings lead to where they are seen, with their faces picked and the sheet there", async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, "Survey case");
  await station(page, "Proof");
  const found = page.locator("[data-finding]");
  await found.first().waitFor();
  const n = Math.min(16, await found.count());
  for (let i = 0; i < n; i++) {
    await found.nth(i).click();
    await page.waitForFunction(() => document.body.dataset.seen === "true" && Number(document.body.dataset.faces) > 0);
    assert.ok(await number(page, "faces") > 0);
  }
  assert.deepEqual(wrong, []);
  await context.close();
});

test("names stay names, and the unit can be told", async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, "Line winch");
  await changed(page, () => page.locator("#set-unit").selectOption("cm"));
  await page.waitForFunction(() => document.querySelector("#set-unit").value === "cm");
  await station(page, "Parts");
  await page.getByRole("button", { name: "Recognise all" }).click();
  await given(page);
  await page.keyboard.press("Enter");
  await page.waitForFunction(() => /^recognise/.test(document.querySelector("#undo-name").textContent), null, { timeout: 60000 }); // it is long work: who renames meanwhile renames a part of before
  const name = "<img src=x onerror=alert(1)><b>bold</b>";
  assert.equal(await edit(page, app.base, "rename", { part: 0, name }), 200);
  assert.equal(await edit(page, app.base, "rename", { part: 0, name: "a\u0000b" }), 422);
  await page.reload();
  await page.waitForFunction(() => document.body.dataset.ready === "yes");
  await page.locator('.card tbody tr[data-part="0"] .partname').click();
  for (const s of ["Parts", "Project", "Seams", "Flow", "Sheet", "Proof"]) {
    await station(page, s);
    await page.waitForFunction((n) => document.querySelector("#tray .trayname .soft")?.textContent === n, name);
    if (s === "Project") await page.locator("#setup-kinds button").first().waitFor();
    assert.equal(await page.locator(`#tray img, .card img, [aria-label="Piece"] img`).count(), 0, `a name became markup at ${s}`);
  }
  assert.deepEqual(wrong, []);
  await context.close();
});

test("a click is not lost and focus stays while the card is shown anew", async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await page.route(/\/card(\?|$)/, async (r) => { await new Promise((f) => setTimeout(f, 700)); await r.continue(); }, { times: 1 }); // rows come after all else stands
  await openBench(page, app.base, /Storm lamp, finished/);
  const name = page.locator('.card tbody tr[data-part="2"] .partname');
  const box = await name.boundingBox();
  await page.mouse.move(box.x + 20, box.y + box.height / 2);
  await page.mouse.down();
  await Promise.all([page.waitForResponse((r) => r.url().includes("/card?")), page.evaluate(() => document.getElementById("card").dispatchEvent(new CustomEvent("show")))]);
  await page.evaluate(() => new Promise((r) => setTimeout(r, 50)));
  await page.mouse.up();
  await page.locator('.card tbody tr[data-part="2"].chosen').waitFor();
  await station(page, "Sheet");
  await page.locator('#fitting [data-do="hold"]').focus(); // twice: it is as it was
  for (let k = 0; k < 2; k++) {
    await changed(page, () => page.keyboard.press("Enter"));
    await page.waitForFunction(() => document.activeElement?.dataset.do === "hold");
  }
  await page.keyboard.press("3"); // the Seams station, where it is not shown: no other verb has its focus
  await page.waitForFunction(() => !document.querySelector('#fitting [data-do="hold"]') && document.activeElement?.id === "piece-canvas");
  assert.deepEqual(wrong, []);
  await context.close();
});

test("the mirrored half follows as far as it can, and says what cannot", async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, "Survey case");
  await station(page, "Parts");
  const tried = async (says) => { await verb(page, says); await given(page); await changed(page, () => page.keyboard.press("Enter")); };
  await tried("Recognise all");
  await station(page, "Flow");
  await tried("Flatten all");
  await station(page, "Parts");
  await changed(page, () => page.getByRole("button", { name: "Mirrored half follows" }).click());
  assert.match(await page.locator("#undo-name").textContent(), /the mirrored half follow: \d+ parts/);
  assert.deepEqual(wrong, []);
  await context.close();
});

test("the first job goes on by itself as it is done, and is gone on with after a reload", { timeout: 120000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Storm lamp$|Storm lamp(?!,)/);
  const step = (title) => page.waitForFunction((t) => document.querySelector("#first:not([hidden]) h2")?.textContent === t, title);
  await page.locator("#first-open").click();
  await step("Look at the parts");
  await noSeriousFindings(page, "the first job");
  await page.locator(".card tbody .partname").first().click();
  await step("Run the whole job");
  await page.locator("#fitting [data-do=run].hint").waitFor();
  await changed(page, () => page.locator("#fitting [data-do=run]").click());
  await step("See what it made");
  await page.keyboard.press("Shift+2");
  await step("Change a seam");
  await page.reload();
  await ready(page);
  await step("Change a seam");
  for (const title of ["Straighten a shell", "Lay one by hand"]) { await page.locator("[data-first=on]").click(); await step(title); }
  await station(page, "Sheet");
  await page.keyboard.press("Control+a");
  await changed(page, () => page.keyboard.press("t"));
  await step("Prove it");
  await station(page, "Proof");
  await page.keyboard.press("n");
  await step("Deliver");
  await page.keyboard.press("Shift+D");
  await page.locator("#deliver").waitFor();
  await page.keyboard.press("Escape");
  await step("That was a whole job");
  await page.locator("[data-first=leave]").click();
  await page.reload();
  await ready(page);
  assert.equal(await page.locator("#first").isHidden(), true);
  assert.deepEqual(wrong, []);
  await context.close();
});
