// Findings at the Proof station: filtered, accepted with a reason, and mended on a sealed map without
// moving anything else; two states of a map beside each other.
import assert from "node:assert/strict";
import { after, before, test } from "node:test";
import { changed, clean, drawn, findOn, given, noSeriousFindings, number, openBench, openPage, startApp, startBrowser } from "./app.mjs";

let app, browser;

before(async () => { app = await startApp(); browser = await startBrowser(); });
after(async () => { await browser?.close(); await app?.stop(); if (app) await clean(app.dir); });

const rows = (page) => page.locator("#findings > li:not([hidden])");
const proof = async (page) => { await page.locator(".card thead button[data-station=Proof]").click(); await page.locator("#findings").waitFor(); };
/** The coordinates of each corner, face by face. */
const lay = async (page) => (await (await page.request.get(`${page.url()}/deliver/model.obj`)).text()).split("\n").reduce((at, l) => {
  if (l.startsWith("vt ")) at.vt.push(l);
  if (l.startsWith("f ")) at.faces.push(l.slice(2).split(" ").map((c) => at.vt[Number(c.split("/")[1]) - 1] ?? "").join(" "));
  return at;
}, { vt: [], faces: [] }).faces;

const shown = async (page) => { await page.waitForFunction(() => document.body.dataset.ready === "yes", null, { timeout: 60000 }); await drawn(page); };

/** How much of a canvas two pictures of it differ in, as a share of its pixels. */
const pixels = (page, id) => page.evaluate((id) => {
  const from = document.getElementById(id), c = document.createElement("canvas");
  c.width = 160; c.height = 160;
  const g = c.getContext("2d");
  g.drawImage(from, 0, 0, 160, 160);
  return [...g.getImageData(0, 0, 160, 160).data];
}, id);
const apart = (a, b) => a.filter((x, i) => Math.abs(x - b[i]) > 8).length / a.length;

test("what an edit did is seen before and after, told in numbers, and wiped between", { timeout: 180000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Storm lamp, finished/);
  const url = page.url().replace(/\?.*/, "");
  const move = { base: await number(page, "revision"), edit: { kind: "move", params: { faces: [0], shift: { X: 1.2, Y: 0.1 } } } };
  assert.ok((await page.request.post(`${url}/edits`, { data: move })).ok());
  await page.reload();
  await page.waitForFunction(() => document.body.dataset.ready === "yes");
  await page.locator("#worklog-open").click();
  await page.locator("#worklog li", { hasText: "move a shell" }).getByRole("link", { name: /changed$/ }).click();
  await shown(page);
  await noSeriousFindings(page, "before and after");
  assert.match(await page.locator("#changed").textContent(), /6.689 faces lie where they lay, 193 lie otherwise/);
  assert.match(await page.locator("tr.worse", { hasText: "outside the sheet" }).first().textContent(), /0.*193/);
  assert.equal(await page.locator(".parts tbody tr").count(), 1);

  // Both are looked at from the same place.
  const [before, after] = [await pixels(page, "piece-before"), await pixels(page, "piece-after")];
  assert.ok(apart(before, after) < 0.01, "the same model is drawn twice");
  assert.ok(apart(await pixels(page, "sheet-before"), await pixels(page, "sheet-after")) > 0.01, "the shell lies elsewhere");
  const box = await page.locator("#piece-after").boundingBox();
  await page.mouse.move(box.x + 0.75 * box.width, box.y + 0.6 * box.height);
  await page.mouse.down(); await page.mouse.move(box.x + 0.9 * box.width, box.y + 0.5 * box.height, { steps: 4 }); await page.mouse.up();
  await drawn(page);
  const turned = await pixels(page, "piece-before");
  assert.ok(apart(before, turned) > 0.02 && apart(turned, await pixels(page, "piece-after")) < 0.01, "turned together");

  // The part that differs is a click away, and what is under the pointer says both.
  await page.locator(".parts button").click();
  await drawn(page);
  await findOn(page, "#piece-after", /base plate 1, face \d+ lies otherwise: stretch/, [0.6, 0.5]);

  // The line is dragged and moved by keys; the other way puts both beside each other.
  const line = page.locator(".wiper").first();
  await line.focus();
  for (let k = 0; k < 5; k++) await page.keyboard.press("ArrowLeft");
  assert.equal(await line.getAttribute("aria-valuenow"), "40");
  const w = await line.boundingBox();
  await page.mouse.move(w.x + w.width / 2, w.y + 200); await page.mouse.down(); await page.mouse.move(w.x + 120, w.y + 200, { steps: 3 }); await page.mouse.up();
  assert.ok(Number(await line.getAttribute("aria-valuenow")) > 55);
  await page.locator("[data-how=beside]").click();
  assert.ok((await page.locator("#piece-after").boundingBox()).height < 0.6 * box.height);
  const { revision } = await (await page.request.get(`${url}/meta`)).json();
  assert.ok((await page.request.post(`${url}/undo`, { data: { base: revision } })).ok()); // as the other tests want it
  assert.deepEqual(wrong, []);
  await context.close();
});

test("a finding is accepted with a reason, is out of the count, and is taken back", { timeout: 120000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Storm lamp, finished/);
  await proof(page);
  await noSeriousFindings(page, "findings");
  const all = await rows(page).count(), open = Number((await page.locator("#tray [data-rest] > .lead b").textContent()).split(" ")[0]);
  const kind = await page.locator("#finding-kind option").nth(3).getAttribute("value");
  await page.locator("#finding-kind").selectOption(kind);
  assert.ok(await rows(page).count() < all);
  await page.locator("#finding-kind").selectOption("!must");
  assert.equal(await rows(page).count(), await page.locator("#findings .finding.must").count());
  await page.locator("#finding-kind").selectOption("");
  const row = page.locator("#findings > li", { hasText: "stretched" }).first();
  const said = await row.locator("b").textContent(), many = Number((await row.locator(".finding").getAttribute("data-finding")).split(" ").length);
  await row.locator(".finding").click();
  await page.keyboard.press("a");
  await page.locator("#accept-reason").waitFor();
  await page.keyboard.press("Enter");
  await page.waitForFunction(() => /say why/.test(document.querySelector("#banner:not([hidden]) #banner-text")?.textContent ?? ""));
  await page.locator("#accept-reason").fill("too small to be seen");
  await changed(page, () => page.keyboard.press("Enter"));
  await page.waitForFunction((n) => Number(document.querySelector("#tray [data-rest] > .lead b")?.textContent.split(" ")[0]) === n, open - many);
  const accepted = page.locator("#findings > li", { hasText: "accepted: too small to be seen" });
  assert.match(await accepted.textContent(), new RegExp(said));
  assert.match(await (await page.request.get(`${page.url()}/deliver/report.json`)).text(), /"accepted": "too small to be seen"/);
  await noSeriousFindings(page, "accepted findings");
  await accepted.locator(".finding").click();
  await changed(page, () => page.getByRole("button", { name: "No longer accept" }).click());
  await page.waitForFunction((n) => Number(document.querySelector("#tray [data-rest] > .lead b")?.textContent.split(" ")[0]) === n, open);

  // What comes after a state was marked is told as new.
  await changed(page, () => page.locator("#fitting [data-do=mark]").click());
  await page.waitForFunction(() => /new since the mark \(0\)/.test(document.querySelector("#tray").textContent));
  const clear = { base: await number(page, "revision"), edit: { kind: "clear", params: { faces: [20, 21] } } };
  assert.ok((await page.request.post(`${page.url()}/edits`, { data: clear })).ok());
  await page.reload();
  await page.waitForFunction(() => document.body.dataset.ready === "yes");
  await proof(page);
  await page.locator("#finding-new").check();
  const fresh = await rows(page).allTextContents();
  assert.ok(fresh.length > 0 && fresh.length < all && fresh.every((f) => /new/.test(f)) && fresh.some((f) => /not mapped 2 faces/.test(f)), fresh.join("; "));
  await changed(page, () => page.locator("#fitting [data-do=forget-mark]").click());
  await page.locator("#finding-new").waitFor({ state: "detached" });
  assert.deepEqual(wrong, []);
  await context.close();
});

test("a seam in view is closed from its finding, and what was done here is not told as done elsewhere", { timeout: 120000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Storm lamp, finished/);
  await page.evaluate(() => { window.told = []; new MutationObserver(() => window.told.push(document.querySelector("#others").textContent)).observe(document.querySelector("#others"), { childList: true, subtree: true }); });
  await proof(page);
  const row = page.locator("#findings > li", { hasText: "seam across a smooth area" }).first(), mend = page.locator("#fitting [data-do=mend]");
  await row.locator(".finding").click();
  await mend.waitFor();
  assert.equal(await mend.count(), 1, "what can be mended is offered");
  const count = Number(await page.getAttribute("body", "data-shells"));
  await row.locator("[data-mend]").click();
  await given(page, /stretch/);
  await changed(page, () => page.locator("#ghost [data-do=shown-take]").click());
  assert.ok(Number(await page.getAttribute("body", "data-shells")) < count, "two shells are one");
  await page.waitForTimeout(500);
  assert.deepEqual(await page.evaluate(() => window.told), []);
  await changed(page, () => page.keyboard.press("Control+z"));
  assert.deepEqual(wrong, []);
  await context.close();
});

test("of several places that stand in one row the one that is looked at is mended", { timeout: 120000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /^Careless winch$/);
  await proof(page);
  const many = page.locator('#findings > li:has([data-mend]) .finding[data-finding*=" "]').first(), places = (await many.getAttribute("data-finding")).split(" ").map(Number);
  const { findings } = await (await page.request.get(`${page.url()}/meta`)).json();
  await many.click();
  await many.click(); // on to the second
  for (const mend of [() => page.keyboard.press("m"), () => page.locator("#findings > li:has([aria-pressed=true]) [data-mend]").click()]) {
    const [asked] = await Promise.all([page.waitForRequest((r) => r.method() === "POST" && /"faces"/.test(r.postData() ?? "")), mend()]);
    assert.deepEqual(JSON.parse(/"faces":(\[[\d,]*\])/.exec(asked.postData())[1]), findings[places[1]]);
    await page.keyboard.press("Escape");
  }
  assert.deepEqual(wrong, []);
  await context.close();
});

test("faces that were forgotten on a sealed map are fitted in again, and all others stay", { timeout: 120000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Storm lamp, finished/);
  const gone = [20, 21, 22];
  const edit = async (kind, params) => {
    const r = await page.request.post(`${page.url()}/edits`, { data: { base: (await (await page.request.get(`${page.url()}/meta`)).json()).revision, edit: { kind, params } } });
    assert.ok(r.ok(), await r.text());
  };
  await edit("clear", { faces: gone });
  await edit("seal-map", {});
  await page.reload();
  await page.waitForFunction(() => document.body.dataset.ready === "yes" && document.body.dataset.sealed === "yes");
  const before = await lay(page);
  assert.equal(before.filter((f) => f.includes("  ") || f.trim() === "").length, 3, "three faces are not mapped");
  await proof(page);
  const row = page.locator("#findings > li", { hasText: "not mapped" });
  await row.locator("[data-mend]").click();
  await page.waitForFunction(() => /3 into their hole|beside.*others keep their place/.test(document.querySelector("#ghost:not([hidden])")?.textContent ?? ""), null, { timeout: 30000 });
  const revision = await number(page, "revision");
  await changed(page, () => page.locator("#ghost [data-do=shown-take]").click());
  assert.equal(await number(page, "revision"), revision + 1);
  const after = await lay(page);
  before.forEach((f, i) => { if (!gone.includes(i)) assert.equal(after[i], f, `face ${i}`); });
  assert.equal(after.filter((f) => f.includes("  ") || f.trim() === "").length, 0);
  assert.equal(await page.locator("#findings > li", { hasText: "not mapped" }).count(), 0);
  assert.deepEqual(wrong, []);
  await context.close();
});
