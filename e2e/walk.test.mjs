// A machine from its file to the delivered sheet as a person does it, with corrections: gestures are
// counted. A gesture is a click, a key, a drag, a word that is typed, or a file that is dropped.
import assert from "node:assert/strict";
import { execFile } from "node:child_process";
import { readFile, writeFile } from "node:fs/promises";
import { after, before, test } from "node:test";
import { join } from "node:path";
import { promisify } from "node:util";
import { changed, clean, findOn, given, layout, openBench, openPage, ready, startApp, startBrowser } from "./app.mjs";

let app, browser;

before(async () => { app = await startApp(); browser = await startBrowser(); });
after(async () => { await browser?.close(); await app?.stop(); if (app) await clean(app.dir); });

/** A hand whose gestures are counted. */
function hand(page) {
  const h = { gestures: 0 };
  h.key = (k) => { h.gestures++; return page.keyboard.press(k); };
  h.click = (what) => { h.gestures++; return (typeof what === "string" ? page.locator(what).first() : what).click(); };
  h.point = (at) => { h.gestures++; return page.mouse.click(at.x, at.y); };
  h.type = (what) => { h.gestures++; return page.keyboard.type(what); };
  h.verb = async (says) => { await h.key("Control+k"); await h.type(says); await page.waitForFunction((v) => document.querySelector("#palette-0 b")?.textContent === v, says); await h.key("Enter"); };
  h.long = async (act) => {
    const was = await page.getAttribute("body", "data-revision");
    await act();
    await page.waitForFunction((r) => document.body.dataset.revision !== r && document.querySelector("#work").hidden, was, { timeout: 90000 });
  };
  h.station = async (k, name) => { await h.key(k); await page.waitForFunction((n) => document.querySelector("#tray h2")?.textContent === n, name); };
  h.bring = async (file) => {
    await page.goto(`${app.base}/projects`);
    h.gestures++;
    await page.locator("#model").setInputFiles(file);
    await page.waitForURL(/\/arrival$/);
    await page.waitForFunction(() => document.body.dataset.ready === "yes", null, { timeout: 60000 });
    await h.click("#open");
    await ready(page);
  };
  h.deliver = async () => {
    await h.key("Shift+D");
    await page.locator("#deliver-form").waitFor();
    const [d] = await Promise.all([page.waitForEvent("download", { timeout: 90000 }), h.click("#deliver-form .act")]);
    assert.match(d.suggestedFilename(), /\.zip$/);
  };
  return h;
}

const model = (slug, file) => promisify(execFile)("bin/morvek", ["model", slug, "-o", file]);

/** How many gestures from file to delivery are asked for at most, and how many for a machine wholly by hand. */
const asked = 15, byHand = 150;

test(`from file to delivery in at most ${asked} gestures`, { timeout: 180000 }, async (t) => {
  const { page, wrong, context } = await openPage(browser, app.base);
  const h = hand(page), file = join(app.dir, "case.obj");
  await model("survey-case", file);

  await h.bring(file);
  await h.long(() => h.click("#tray [data-do=run]"));

  // Looked over: where something is wrong it leads there, and what can be mended is, shown first.
  await h.station("6", "Proof");
  const open = async () => Number((await page.locator("#tray [data-rest] > .lead b").textContent()).match(/^(\d+)/)?.[1] ?? 0);
  const before = await open();
  if (before) {
    await h.key("n");
    await page.waitForFunction(() => document.querySelector("#findings [aria-pressed=true]"));
  }
  // One part is to lie otherwise: its texture runs across.
  await h.click(".card tbody tr:not([hidden]) .partname");
  await h.station("4", "Flow");
  await changed(page, () => h.key("t"));
  await h.key("Control+z");
  await page.waitForFunction(() => /turn/.test(document.querySelector("#redo-name").textContent));
  // All that is in order is signed, and handed over.
  await changed(page, () => h.verb("Sign all in order"));
  assert.ok(await page.locator(".card .cell.signed").count() > 100);
  await h.deliver();
  t.diagnostic(`${h.gestures} gestures from file to delivery`);
  assert.ok(h.gestures <= asked, `${h.gestures} gestures`);
  assert.deepEqual(wrong, []);
  await context.close();
});

test(`a winch wholly by hand, kind by kind, in at most ${byHand} gestures`, { timeout: 280000 }, async (t) => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /^Line winch$/);
  const h = hand(page), meta = () => page.evaluate(async () => (await fetch(`/documents/${document.body.dataset.document}/meta`)).json());
  await h.click(page.getByRole("button", { name: "Recognise all" }));
  await given(page);
  await changed(page, () => h.key("Enter"));

  // All flats at once: one of them is pointed at, the others are of its shape.
  await h.point(await findOn(page, "#piece-canvas", /part \w+.* plate \d+ /));
  await h.verb("Same shape");
  await page.waitForFunction(() => Number(document.body.dataset.faces) > 1000);
  await h.long(() => h.key("e"));
  const flats = await page.getAttribute("body", "data-shells");
  assert.ok(Number(flats) > 200, `${flats} flats`);

  // Then each kind of wall: opened where it is suggested, laid flat, and done likewise on its kind.
  await h.station("3", "Seams");
  const kinds = await page.evaluate(() => [...document.querySelectorAll(".card tbody tr:not([hidden])")].filter((r) => r.dataset.reads !== "plane").map((r) => r.dataset.called));
  const laid = async (name) => { // as the card and both views show
    const at = (await meta()).parts.findIndex((p) => p.name === name), { parts, shells } = await layout(page);
    return parts.every((p, f) => p !== at || shells[f] >= 0);
  };
  for (const name of kinds) {
    if (await laid(name)) continue;
    await h.click(`.card tbody tr[data-called="${name}"] .partname`);
    await page.waitForFunction((n) => document.querySelector("#suggest .lead b")?.textContent.startsWith(`${n} needs`), name);
    if (!/needs no opening/.test(await page.locator("#suggest .lead b").first().textContent())) await changed(page, () => h.click("#suggest [data-do=suggested-take]"));
    await changed(page, () => h.key("e"));
    const m = await meta(), at = m.parts.findIndex((p) => p.name === name), like = m.parts.some((p, i) => i !== at && p.shape === m.parts[at].shape);
    if (!like) continue;
    await h.key("Shift+R");
    const says = await page.waitForFunction(() => { const g = document.querySelector("#ghost:not([hidden])"); return (g?.dataset.counted && g.textContent) || (!document.querySelector("#banner").hidden && "refused"); }).then((v) => v.jsonValue());
    if (says === "refused") continue;
    await changed(page, () => h.key("Enter"));
  }
  const open = (await meta()).parts.length;
  await h.station("5", "Sheet");
  await h.long(() => h.key("k"));
  await h.station("6", "Proof");
  const report = await page.evaluate(async () => (await fetch(`/documents/${document.body.dataset.document}/deliver/report.json`)).json());
  assert.equal(report.totals.unmapped, 0, `faces of ${open} parts lie nowhere`);
  assert.equal(report.totals.overlap_share, 0);
  await h.deliver();
  t.diagnostic(`${h.gestures} gestures for ${open} parts wholly by hand`);
  assert.ok(h.gestures <= byHand, `${h.gestures} gestures`);
  assert.deepEqual(wrong, []);
  await context.close();
});

test("station by station, by what each of them offers next", { timeout: 180000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /^Survey case$/);
  const h = hand(page), offered = (says) => page.locator("#tray").getByRole("button", { name: says });
  await h.click(page.getByRole("button", { name: "Recognise all" }));
  await given(page);
  await changed(page, () => h.key("Enter"));
  await h.station("3", "Seams");
  await changed(page, () => h.click(offered(/^Take all/)));
  // What is shown on the rack and left again leaves the sheet as large as it was.
  const sheet = async () => { await page.mouse.move(5, 5); await page.evaluate(() => new Promise((q) => requestAnimationFrame(() => requestAnimationFrame(q)))); return (await page.locator("#sheet-canvas").screenshot()).toString("base64"); };
  const large = await sheet();
  await h.click(offered("Flatten all"));
  await given(page);
  assert.notEqual(await sheet(), large, "nothing is shown on the rack");
  await h.key("Escape");
  await page.waitForFunction(() => !document.body.dataset.ghost);
  assert.equal(await sheet(), large, "the sheet is not as it was");
  await h.station("3", "Seams");
  await h.click(offered("Flatten all"));
  await given(page);
  await changed(page, () => h.key("Enter"));
  await h.click(offered("True up all"));
  await given(page, /straight/);
  const insight = await page.evaluate(() => { const b = document.querySelector("#ghost [data-do=shown-take]").getBoundingClientRect(); return document.elementFromPoint(b.x + b.width / 2, b.y + b.height / 2)?.closest("[data-do]")?.dataset.do; });
  assert.equal(insight, "shown-take", "Take lies where it is not seen");
  await changed(page, () => h.key("Enter"));
  await h.long(() => h.click(offered(/^Pack/)));
  // Nothing waits any more, and the sheet has all the room.
  const box = await page.locator("#sheet-canvas").boundingBox(), at = await findOn(page, "#sheet-canvas", /part/, [0.5, 0.75]);
  assert.ok(at.y > box.y + 0.6 * box.height, "the sheet is small in its view");
  const { totals } = await page.evaluate(async () => (await fetch(`/documents/${document.body.dataset.document}/deliver/report.json`)).json());
  assert.deepEqual([totals.unmapped, totals.overlap_share, totals.outside], [0, 0, 0]);
  assert.deepEqual(wrong, []);
  await context.close();
});

/** A polygon mesh as CAD programs hand it over: a soup of triangles, without points in common, names or materials. */
async function soup(obj, file) {
  const points = [], triangles = [];
  for (const line of (await readFile(obj, "utf8")).split("\n")) {
    const [what, ...rest] = line.trim().split(/\s+/);
    if (what === "v") points.push(rest.slice(0, 3).map(Number));
    if (what !== "f") continue;
    const c = rest.map((r) => points[Number(r.split("/")[0]) - 1]);
    for (let i = 1; i + 1 < c.length; i++) triangles.push([c[0], c[i], c[i + 1]]);
  }
  const b = Buffer.alloc(84 + 50 * triangles.length);
  b.writeUInt32LE(triangles.length, 80);
  triangles.forEach((t, i) => t.flat().forEach((x, k) => b.writeFloatLE(x, 84 + 50 * i + 12 + 4 * k)));
  await writeFile(file, b);
}

test("a mesh from a CAD program, from drop to delivery with corrections", { timeout: 280000 }, async (t) => {
  const { page, wrong, context } = await openPage(browser, app.base);
  const h = hand(page), obj = join(app.dir, "valve.obj"), file = join(app.dir, "valve.stl");
  await model("valve-block", obj);
  await soup(obj, file);
  await h.bring(file);
  await h.long(() => h.click("#tray [data-do=run]"));
  const parts = await page.locator("#part-count").textContent();
  assert.ok(Number(parts) > 60 && Number(parts) < 1000, `${parts} parts were read`);

  // A correction: a wall is opened elsewhere, and lies flat anew.
  await h.station("3", "Seams");
  await h.click('.card tbody tr[data-reads="cylinder"]:not([hidden]) .partname');
  const name = await page.locator("#tray .trayname .soft").textContent();
  const spot = await findOn(page, "#piece-canvas", new RegExp(`part ${name} .*edge \\d+ bend [1-9]?\\d°(?! seam)`));
  await h.point(spot);
  await page.waitForFunction(() => Number(document.body.dataset.picked) === 1);
  await changed(page, () => h.key("c"));
  await changed(page, () => h.key("e"));
  await h.station("5", "Sheet");
  await h.long(() => h.key("k"));
  // What would be sent back is gone through; what can be mended is.
  await h.station("6", "Proof");
  await page.waitForFunction(() => document.querySelector("#tray [data-rest] > .lead b"));
  const report = async () => page.evaluate(async () => (await fetch(`/documents/${document.body.dataset.document}/deliver/report.json`)).json());
  const { totals } = await report();
  assert.deepEqual([totals.unmapped, totals.mirrored, totals.overlap_share], [0, 0, 0]);
  await changed(page, () => h.verb("Sign all in order"));
  await h.deliver();
  t.diagnostic(`${h.gestures} gestures for a CAD mesh of ${parts} parts`);
  assert.ok(h.gestures <= 20, `${h.gestures} gestures`);
  assert.deepEqual(wrong, []);
  await context.close();
});
