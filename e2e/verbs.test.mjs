// Verbs are found, done and done again by keys, palette and help; what is chosen is chosen alike at
// every station; cells of the card are signed.
import assert from "node:assert/strict";
import { after, before, test } from "node:test";
import { changed, clean, findOn, form, given, noSeriousFindings, number, openBench, openPage, ready, startApp, startBrowser, verb } from "./app.mjs";

let app, browser;

before(async () => { app = await startApp(); browser = await startBrowser(); });
after(async () => { await browser?.close(); await app?.stop(); if (app) await clean(app.dir); });

let opened;

/** The bench with the finished lamp at its first station, nothing picked: one page for all, since opening it takes long. */
async function lamp() {
  if (!opened) {
    opened = await openPage(browser, app.base);
    await openBench(opened.page, app.base, /Storm lamp, finished/);
  }
  const { page } = opened;
  if (!/documents/.test(page.url())) { await page.goBack(); await ready(page); }
  await page.locator('.card thead button[data-station="Parts"]').click();
  await station(page, "Parts");
  for (let k = 0; k < 4; k++) await page.keyboard.press("Escape");
  await page.keyboard.press("r");
  await page.keyboard.press("Home");
  return opened;
}

const station = (page, name) => page.waitForFunction((n) => document.querySelector("#tray h2")?.textContent === n, name);
const faces = (page, least, most = least) => page.waitForFunction(([a, b]) => { const n = Number(document.body.dataset.faces); return n >= a && n <= b; }, [least, most]);
const said = (page) => page.waitForFunction(() => !document.querySelector("#banner").hidden).then(() => page.locator("#banner-text").textContent());

test("the palette finds verbs, parts and stations, says why not, and does what is chosen", { timeout: 120000 }, async () => {
  const { page, wrong } = await lamp();
  await page.keyboard.press("Control+k");
  await page.locator("#palette-words").fill("straighten");
  await page.waitForFunction(() => [...document.querySelectorAll("#palette-list b")].some((b) => b.textContent === "True up"));
  await noSeriousFindings(page, "palette");
  await page.locator("#palette-words").fill("merge");
  assert.match(await page.locator("#palette-0").textContent(), /choose several parts first/);
  await page.keyboard.press("Enter");
  assert.match(await said(page), /Merge chosen: choose several parts first, with Shift on the card/);
  await verb(page, "hood cone"); // a part
  await page.waitForFunction(() => /hood cone reads as/.test(document.querySelector("#tray").textContent));
  await verb(page, "Relax"); // of another station: it goes there
  await station(page, "Flow");
  await given(page);
  await page.keyboard.press("Escape");
  await page.keyboard.press("Control+k");
  await page.locator("#palette-words").fill("no verb is called so");
  await page.waitForFunction(() => /Nothing is called that/.test(document.querySelector("#palette-list").textContent));
  await page.keyboard.press("Escape");
  // What has the focus keeps it, or a view has it: keys go on working.
  await page.keyboard.press("6");
  await station(page, "Proof");
  assert.notEqual(await page.evaluate(() => document.activeElement === document.body), true);
  assert.deepEqual(wrong, []);
});

test("all, others, rings, what is alike, and sets are picked at every station", { timeout: 180000 }, async () => {
  const { page, wrong } = await lamp();
  const spot = await findOn(page, "#piece-canvas", /part glass wall/);
  await page.mouse.click(spot.x, spot.y);
  await faces(page, 1);
  await page.keyboard.press("+");
  await faces(page, 9);
  await page.keyboard.press("+");
  await faces(page, 25);
  await page.keyboard.press("-");
  await faces(page, 9, 15); // at a border of the model nothing lies beyond
  const patch = await number(page, "faces");
  await verb(page, "Pick sets");
  await page.locator("#set-pickname").fill("a patch");
  await changed(page, () => page.keyboard.press("Enter"));
  await page.keyboard.press("#"); // its border: edges, where they can be worked on
  await page.waitForFunction(() => Number(document.body.dataset.picked) >= 12 && document.body.dataset.faces === "0");
  await page.keyboard.press("Escape");
  await page.keyboard.press("3");
  await station(page, "Seams");
  await page.keyboard.press("Control+a");
  await page.waitForFunction(() => Number(document.body.dataset.picked) > 10000);
  await page.keyboard.press("Control+i");
  await page.waitForFunction(() => document.body.dataset.picked === "0");
  await verb(page, "a patch");
  await faces(page, patch);
  assert.equal(await page.getAttribute("body", "data-picking"), "faces");
  await verb(page, "Same shape");
  await faces(page, 481, 6882);
  await verb(page, "Pick sets");
  await page.locator("#set-pickname").fill("the patch");
  await changed(page, () => page.locator("[data-do=set-rename]").click());
  await page.keyboard.press("Escape");
  await page.keyboard.press("4");
  await station(page, "Flow");
  await verb(page, "the patch");
  await faces(page, patch);
  await verb(page, "Pick sets");
  await changed(page, () => page.locator("[data-do=set-drop]").click());
  assert.match(await page.locator("#undo-name").textContent(), /drop the pick set the patch/);
  await page.keyboard.press("Escape");
  await page.keyboard.press("Escape");
  await faces(page, 0);
  await page.keyboard.press("5");
  await station(page, "Sheet");
  await page.keyboard.press("Control+a");
  const shells = await number(page, "shells");
  await page.waitForFunction((n) => Number(document.body.dataset.chosen) === n, shells);
  for (let k = 0; k < 3; k++) await changed(page, () => page.keyboard.press("Control+z"));
  assert.deepEqual(wrong, []);
});

test("picked faces and chosen shells are shown alone and set aside, and come back", { timeout: 120000 }, async () => {
  const { page, wrong } = await lamp();
  const hidden = (n) => page.waitForFunction((k) => document.body.dataset.aside === String(k), n);
  const spot = await findOn(page, "#piece-canvas", /part glass wall/);
  await page.mouse.dblclick(spot.x, spot.y);
  await faces(page, 480);
  await page.keyboard.press("q");
  await hidden(6882 - 480);
  assert.match(await page.locator("#aside-note").textContent(), /^6402 faces set aside · show all$/);
  await page.locator("#aside-note").click();
  await hidden(0);
  assert.equal(await page.locator("#aside-note").isVisible(), false);
  await page.locator('[title^="body wall 1,"]').first().click();
  await page.keyboard.press("5");
  await station(page, "Sheet");
  await page.waitForFunction(() => Number(document.body.dataset.chosen) > 0); // it may come in pieces
  const pictures = () => page.evaluate(() => ["#piece-canvas", "#sheet-canvas"].map((id) => document.querySelector(id).toDataURL()));
  const was = await pictures();
  await page.keyboard.press("w"); // gone from both views
  await page.waitForFunction((w) => ["#piece-canvas", "#sheet-canvas"].every((id, i) => document.querySelector(id).toDataURL() !== w[i]), was);
  await page.keyboard.press("r");
  await hidden(0);
  assert.deepEqual(wrong, []);
});

test("the last verb is done again; a number is typed as a sum and shown before it is taken", { timeout: 120000 }, async () => {
  const { page, wrong } = await lamp();
  await page.locator('[title^="glass wall,"]').first().click();
  await page.keyboard.press("4");
  await station(page, "Flow");
  await changed(page, () => page.keyboard.press("t"));
  await page.locator('[title^="hood cone,"]').first().click();
  await page.waitForFunction(() => document.querySelector("#tray .trayname span")?.textContent === "hood cone");
  await changed(page, () => page.keyboard.press(";"));
  assert.match(await page.locator("#undo-name").textContent(), /turn a shell/);
  for (let k = 0; k < 2; k++) await changed(page, () => page.keyboard.press("Control+z"));
  await page.keyboard.press("i");
  await form(page, "relax");
  await given(page);
  await page.keyboard.press("Escape");
  await page.locator('[title^="body wall 2,"]').first().click();
  await verb(page, "Turn by");
  await page.locator("#set-degrees").fill("3 * (10 + 5)");
  await changed(page, () => page.keyboard.press("Enter"));
  assert.match(await page.locator("#undo-name").textContent(), /turn (a shell|shells)/);
  await changed(page, () => page.keyboard.press("Control+z"));
  assert.deepEqual(wrong, []);
});

test("cells are signed, the card is filtered, sorted and walked through", { timeout: 120000 }, async () => {
  const { page, wrong } = await lamp();
  const shown = () => page.locator(".card tbody tr:not([hidden])").count();
  const signed = () => page.locator(".card .cell.signed").count();
  await page.locator('[title^="glass wall,"]').first().click();
  await changed(page, () => page.keyboard.press("Shift+T"));
  assert.equal(await page.locator("#undo-name").textContent(), "sign 1 part");
  assert.equal(await signed(), 6);
  await noSeriousFindings(page, "signed cells");
  await page.locator("#card-state").selectOption("signed");
  assert.equal(await shown(), 1);
  await page.locator("#card-state").selectOption("wrong");
  const faulty = await shown();
  assert.ok(faulty > 1 && faulty < 40, `${faulty} parts with something wrong`);
  await page.locator("#card-state").selectOption("");
  await page.locator("#card-sort").selectOption("name");
  const names = await page.locator(".card tbody tr:not([hidden]) .partname span").allTextContents();
  assert.deepEqual(names, [...names].sort((a, b) => a.localeCompare(b, undefined, { numeric: true })));
  await page.locator("#piece-canvas").focus();
  await changed(page, () => verb(page, "Sign all in order"));
  assert.ok(await signed() > 300);
  // What was signed is told apart from what got worse.
  await page.keyboard.press("4");
  await changed(page, () => page.keyboard.press("t")); // its grain is off
  await page.waitForFunction(() => document.querySelectorAll(".card tr.chosen .cell.signed").length < 6);
  await page.locator(".card tr.chosen .partname").focus();
  await page.keyboard.press("ArrowRight");
  await page.keyboard.press("ArrowDown");
  assert.equal(await page.evaluate(() => document.activeElement.dataset.station), "Parts");
  await page.locator(".card tr.chosen .cell").nth(2).click({ button: "right" }); // what can be done there
  await page.locator("#palette[open]").waitFor();
  await station(page, "Seams");
  await page.keyboard.press("Escape");
  for (let k = 0; k < 3; k++) await changed(page, () => page.keyboard.press("Control+z"));
  assert.equal(await signed(), 0);
  assert.deepEqual(wrong, []);
});

test("help knows every key, over the bench and on a page of its own", { timeout: 120000 }, async () => {
  const { page, wrong } = await lamp();
  await page.keyboard.press("3");
  await station(page, "Seams");
  await page.locator("#piece-canvas").focus();
  await page.keyboard.press("?");
  await page.locator("#help-Seams").waitFor();
  await page.locator("#help-words").fill("stay attached");
  assert.equal(await page.locator("#help-what [data-help]:not([hidden])").count(), 1);
  await noSeriousFindings(page, "help over the bench");
  await page.keyboard.press("Escape");
  await page.goto(`${app.base}/help`);
  await page.locator("#help-words").fill("Shift+T");
  await page.waitForFunction(() => /1 found/.test(document.querySelector("#help-count").textContent));
  await noSeriousFindings(page, "help");
  assert.deepEqual(wrong, []);
});

test("a view has all the room, views change places, and the model is seen from where it is wanted", { timeout: 120000 }, async () => {
  const { page, wrong } = await lamp();
  const box = (id) => page.locator(id).boundingBox();
  const wide = (await box("#piece-canvas")).width;
  await page.keyboard.press("Shift+P");
  await page.waitForFunction((w) => document.querySelector("#piece-canvas").clientWidth > 1.8 * w, wide);
  assert.equal(await page.locator("#sheet").isVisible(), false);
  await page.keyboard.press("Shift+U");
  await page.locator("#sheet").waitFor();
  assert.equal(await page.locator("#piece").isVisible(), false);
  await page.keyboard.press("Shift+U");
  await page.keyboard.press("Shift+W");
  await page.waitForFunction(() => document.querySelector("#sheet").getBoundingClientRect().left < document.querySelector("#piece").getBoundingClientRect().left);
  await page.reload(); // as it was left
  await page.waitForFunction(() => document.body.dataset.ready === "yes");
  assert.ok((await box("#sheet")).x < (await box("#piece")).x);
  await page.keyboard.press("Shift+W");
  const picture = () => page.evaluate(() => document.querySelector("#piece-canvas").toDataURL());
  const seen = async (key) => { const was = await picture(); await page.keyboard.press(key); await page.waitForFunction((w) => document.querySelector("#piece-canvas").toDataURL() !== w, was); };
  for (const key of ["7", "8", "9", "9"]) await seen(key);
  await page.locator('[title^="dome,"]').first().click();
  const at = await box("#piece-canvas");
  await page.mouse.move(at.x + 200, at.y + 200);
  await page.mouse.wheel(0, 900); // far away, and back to what is chosen
  await page.evaluate(() => new Promise((r) => requestAnimationFrame(() => requestAnimationFrame(r))));
  await seen("z");
  assert.deepEqual(wrong, []);
});

test("the model is seen in parallel and from inside, and the other view follows a pick", { timeout: 120000 }, async () => {
  const { page, wrong } = await lamp();
  const picture = () => page.evaluate(() => document.querySelector("#piece-canvas").toDataURL());
  const seen = async (act) => { const was = await picture(); await act(); await page.waitForFunction((w) => document.querySelector("#piece-canvas").toDataURL() !== w, was); };
  await seen(() => page.keyboard.press("7"));
  await seen(() => page.keyboard.press("0"));
  assert.equal(await page.evaluate(() => document.body.dataset.parallel), "yes");
  const spot = await findOn(page, "#piece-canvas", /part glass wall/); // pointing holds in parallel too
  for (let k = 0; k < 9; k++) await page.keyboard.press(">"); // nearly half of it is clipped away
  await page.waitForFunction(() => document.body.dataset.clip === "0.45");
  await page.mouse.move(spot.x, spot.y + 1);
  await page.waitForFunction(() => !/part glass wall/.test(document.querySelector("#readout").textContent) || document.body.dataset.clip);
  const inside = await page.locator("#readout").textContent();
  await page.mouse.move(4, 4);
  await page.locator("#clip-note").click();
  await page.mouse.move(spot.x, spot.y);
  await page.waitForFunction((was) => document.querySelector("#readout").textContent !== was && /part glass wall/.test(document.querySelector("#readout").textContent), inside);
  await seen(() => page.keyboard.press("0"));

  // A shell picked on the sheet is brought into sight on the model, unless the views go their own ways.
  await page.locator('.card thead button[data-station="Sheet"]').click();
  await station(page, "Sheet");
  await seen(() => page.keyboard.press("9")); // from above the base is out of sight
  await seen(() => page.keyboard.press("9"));
  const shell = await findOn(page, "#sheet-canvas", /part dome /);
  await page.keyboard.press("Shift+V");
  const was = await picture();
  await page.mouse.click(shell.x, shell.y);
  await page.waitForFunction(() => /1 shell chosen/.test(document.querySelector("#tray").textContent));
  await page.keyboard.press("Escape");
  await page.keyboard.press("Shift+V");
  assert.equal((await picture()).length > 0, was.length > 0);
  await seen(() => page.mouse.click(shell.x, shell.y));
  assert.deepEqual(wrong, []);
});

test("opening takes few requests, an edit one", { timeout: 120000 }, async () => {
  const { page, wrong } = await lamp();
  const client = await page.context().newCDPSession(page);
  await client.send("Network.enable");
  let asked = [], bytes = 0;
  client.on("Network.requestWillBeSent", (e) => { if (!/^(data|blob):/.test(e.request.url)) asked.push(new URL(e.request.url).pathname); });
  client.on("Network.loadingFinished", (e) => { bytes += e.encodedDataLength; });
  await page.reload();
  await ready(page);
  assert.ok(asked.length <= 18 && bytes < 1_200_000, `${asked.length} requests, ${bytes} bytes: ${asked}`);
  await page.locator('[title^="glass wall,"]').first().click();
  await page.waitForFunction(() => document.querySelector("#tray .trayname span")?.textContent === "glass wall");
  await page.evaluate(() => new Promise((r) => requestAnimationFrame(() => requestAnimationFrame(r))));
  asked = []; bytes = 0;
  await changed(page, () => page.keyboard.press("t"));
  await page.evaluate(() => new Promise((r) => setTimeout(r, 300)));
  assert.ok(asked.length === 1 && bytes < 60_000, `${asked.length} requests, ${bytes} bytes: ${asked}`);
  await changed(page, () => page.keyboard.press("Control+z"));
  assert.deepEqual(wrong, []);
});

test("by halves a pick is one of both, and cuts appear on the other half", { timeout: 120000 }, async () => {
  const { page, wrong } = await lamp();
  const picked = (n) => page.waitForFunction((k) => document.body.dataset.picked === String(k), n);
  await page.keyboard.press("7");
  await page.locator('.card thead button[data-station="Seams"]').click();
  await station(page, "Seams");
  await page.waitForFunction(() => document.body.dataset.picking === "edges");
  const spot = await findOn(page, "#piece-canvas", /part glass wall .*edge \d+ bend 0°(?! seam)/);
  await page.mouse.click(spot.x, spot.y);
  await picked(1);
  await page.keyboard.press("Shift+I");
  await picked(2);
  await page.keyboard.press("Escape");
  await picked(0);
  await page.keyboard.press("Shift+H");
  await page.waitForFunction(() => document.body.dataset.halves === "yes");
  await page.mouse.click(spot.x, spot.y);
  await picked(2);
  await changed(page, () => page.keyboard.press("c"));
  assert.equal(await page.locator("#undo-name").textContent(), "cut 2 edges");
  await changed(page, () => page.keyboard.press("Control+z"));

  // What is flattened on one half is on the other, beside it or on it, and what lies across the plane is said.
  await page.keyboard.press("Escape");
  await page.keyboard.press("4");
  await station(page, "Flow");
  await page.locator(".card .partname", { hasText: "handle bar" }).click();
  const rack = async () => Number((await page.locator("#rack-note").textContent()).match(/\d+/)?.[0] ?? 0);
  const flatten = () => changed(page, () => page.keyboard.press("e"));
  const was = await rack();
  await flatten();
  assert.match(await page.locator("#undo-name").textContent(), /^flatten \d+ shells, on the other half too: \d+ shells; left as they are: \d+ shells across the plane$/);
  const apart = (await rack()) - was;
  await changed(page, () => page.keyboard.press("Control+z"));
  await page.locator("#halves-on").click();
  assert.equal(await page.getAttribute("#halves-on", "aria-pressed"), "true");
  await flatten();
  assert.ok(apart > 0 && (await rack()) - was <= apart, "stacked on it takes no more room");
  await changed(page, () => page.keyboard.press("Control+z"));
  await page.keyboard.press("3");
  await station(page, "Seams");
  await page.keyboard.press("Escape");
  await page.keyboard.press("Escape");
  await page.locator("#halves-off").click();
  await page.keyboard.press("Escape");
  await page.mouse.click(spot.x, spot.y);
  await picked(1);
  await page.keyboard.press("Escape");
  assert.deepEqual(wrong, []);
});
