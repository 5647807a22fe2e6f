// What the patterns of the cloth show: words that read, boards that go on over a seam.
import assert from "node:assert/strict";
import { after, before, test } from "node:test";
import { arrays, drawn, changed, clean, findOn, noSeriousFindings, openBench, openPage, startApp, startBrowser, verb } from "./app.mjs";

let app, browser;

before(async () => { app = await startApp(); browser = await startBrowser(); });
after(async () => { await browser?.close(); await app?.stop(); if (app) await clean(app.dir); });

async function flow(title, run) {
  const opened = await openPage(browser, app.base);
  const { page } = opened;
  await openBench(page, app.base, title);
  if (run) await changed(page, () => page.getByRole("button", { name: "Run the whole job" }).first().click());
  await page.getByRole("button", { name: /^Flow/ }).first().click();
  await page.waitForFunction(() => document.querySelector("#set-where"));
  return opened;
}

const metaOf = async (page) => (await page.request.get(`${page.url()}/meta`)).json();

/** The colours of the piece along both sides of an edge, given as it is lit under the pointer. */
const beside = (page, path) => page.evaluate((d) => {
  const [ax, ay, bx, by] = d.match(/M([\d.]+),([\d.]+)L([\d.]+),([\d.]+)/).slice(1).map(Number);
  const gl = document.querySelector("#piece-canvas"), k = gl.width / gl.clientWidth;
  const g = Object.assign(document.createElement("canvas"), { width: gl.width, height: gl.height }).getContext("2d");
  g.drawImage(gl, 0, 0);
  const l = Math.hypot(bx - ax, by - ay), nx = -(by - ay) / l, ny = (bx - ax) / l;
  return [7, -7].map((o) => Array.from({ length: 40 }, (_, i) => {
    const t = 0.1 + (0.8 * i) / 39;
    return [...g.getImageData(Math.round(k * (ax + t * (bx - ax) + o * nx)), Math.round(k * (ay + t * (by - ay) + o * ny)), 1, 1).data].slice(0, 3);
  }).flat());
}, path);

/** How far the two sides of an edge are apart on the sheet, but for whole tiles. */
async function apart(page, edge) {
  const [, starts, points, , , edges] = (await arrays(page, "mesh.bin")).map((a) => new Int32Array(a)), uv = new Float32Array((await arrays(page, "layout.bin"))[0]);
  const at = new Map(); // places of each end
  for (let f = 0; f + 1 < starts.length; f++) for (let c = starts[f]; c < starts[f + 1]; c++) {
    if (edges[c] !== edge) continue;
    for (const k of [c, c + 1 < starts[f + 1] ? c + 1 : starts[f]]) at.set(points[k], [...(at.get(points[k]) ?? []), [uv[2 * k], uv[2 * k + 1]]]);
  }
  let worst = 0;
  for (const [p, q] of at.values()) for (const i of [0, 1]) { const d = p[i] - q[i]; worst = Math.max(worst, Math.abs(d - Math.round(d))); }
  return worst;
}

/** A picture of what a canvas shows, as one string. */
const picture = (page) => page.evaluate(() => document.querySelector("#piece-canvas").toDataURL());

test("boards are seen to go on over the seam they are carried over", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await flow(/Valve block/, true);
  await page.getByRole("button", { name: "edges", exact: true }).click();
  const box = await page.locator("#piece-canvas").boundingBox();
  await page.mouse.move(box.x + 263, box.y + 400);
  for (let i = 0; i < 3; i++) await page.mouse.wheel(0, -200);
  const spot = await findOn(page, "#piece-canvas", /part block plate 2 .*edge \d+ bend 90° seam/, [0.94, 0.56]);
  const path = await page.locator("#piece-over .hot").getAttribute("d");
  const edge = Number((await page.locator("#readout").textContent()).match(/edge (\d+)/)[1]);
  await page.locator("[data-show=cloth]").click();
  await page.locator('[data-cloth="boards"]').click();
  await page.waitForFunction(() => document.body.dataset.pattern === "boards");
  await noSeriousFindings(page, "boards");
  const elsewhere = async () => { await page.mouse.move(box.x + 4, box.y + 4); await drawn(page); };
  await elsewhere();
  assert.ok((await apart(page, edge)) > 1e-3, "the pattern goes on already");
  const [before, picked] = [await beside(page, path), await picture(page)];
  await page.mouse.click(spot.x, spot.y);
  await page.getByRole("button", { name: "Pattern over the seam" }).click();
  await page.waitForFunction(() => /the pattern goes on over 1 seam, 0\.0 thousandths/.test(document.querySelector("#ghost").textContent));
  await changed(page, () => page.keyboard.press("Enter"));
  await page.keyboard.press("Escape"); // the pick, drawn over the seam
  await elsewhere();
  assert.ok((await apart(page, edge)) < 1e-6, "the sides of the seam are apart");
  // On the cloth one side is as it was, and the picture is another.
  const after = await beside(page, path);
  const alike = after.map((side, i) => Math.max(...side.map((c, k) => Math.abs(c - before[i][k]))) < 12);
  assert.ok(alike[0] || alike[1], "both sides of the seam changed");
  assert.notEqual(await picture(page), picked);
  assert.deepEqual(wrong, []);
  await context.close();
});

test("a word is put on a part, stands upright, and is found where it does not", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await flow(/Storm lamp, finished/, false);
  assert.deepEqual((await metaOf(page)).labels.map((l) => [l.word, l.reads]), [["Storm", "reads upright"]]);
  const spot = await findOn(page, "#piece-canvas", /part sign .*label Storm: reads upright/, [0.45, 0.8]);
  await page.locator("[data-show=cloth]").click();
  await page.locator('[data-cloth="words"]').click();
  await drawn(page);
  const upright = await picture(page);
  await page.getByRole("button", { name: "faces", exact: true }).click();
  await page.mouse.click(spot.x, spot.y);
  await verb(page, "Word on them");
  await page.locator("#set-word").fill("Moor");
  await changed(page, () => page.keyboard.press("Enter"));
  assert.match(await page.locator("#undo-name").textContent(), /label 1 face Moor/);
  await drawn(page);
  assert.notEqual(await picture(page), upright, "another word looks the same");
  await page.locator("[data-show=parts]").click(); // the cloth is slow where there is no graphics card
  // Turned by hand it does not read: the readout, and Proof, say so.
  await changed(page, () => page.keyboard.press("t"));
  assert.equal((await metaOf(page)).labels[0].reads, "90° off upright");
  await page.getByRole("button", { name: /^Proof/ }).first().click();
  await page.waitForFunction(() => /label not upright 90°/.test(document.querySelector("#tray").textContent));
  await page.getByRole("button", { name: /^Flow/ }).first().click();
  await page.waitForFunction(() => document.querySelector("#set-where"));
  await noSeriousFindings(page, "labels");
  await changed(page, () => verb(page, "Orient by loops"));
  assert.equal((await metaOf(page)).labels[0].reads, "reads upright");
  // On its side it reads from the side, and the shell has turned with it.
  await page.getByRole("button", { name: "faces", exact: true }).click();
  await page.mouse.click(spot.x, spot.y);
  await changed(page, () => verb(page, "Word on its side"));
  const side = (await metaOf(page)).labels[0];
  assert.deepEqual([side.quarters, side.reads], [1, "reads upright"]);
  assert.deepEqual(wrong, []);
  await context.close();
});

test("the cloth has a real size, and pictures of one's own are kept with the project", { timeout: 120000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Storm lamp, finished/);
  await page.locator("[data-show=cloth]").click();
  await page.locator("#cloth-length").waitFor();
  await noSeriousFindings(page, "cloth");
  const seen = async (act) => { const before = await picture(page); await act(); await page.waitForFunction((p) => document.querySelector("#piece-canvas").toDataURL() !== p, before, { timeout: 15000 }); };
  await seen(() => page.locator("#cloth-length").fill("40").then(() => page.locator("#cloth-length").blur()));
  await seen(() => page.locator("#cloth-length").fill("").then(() => page.locator("#cloth-length").blur()));
  // Materials are seen in the light; one of the model can have a cloth of its own, and go back to that of all.
  await seen(() => page.locator('[data-cloth="brushed steel"]').click());
  await page.locator("#cloth-on").selectOption("ash_wood");
  await seen(() => page.locator('[data-cloth="wood"]').click());
  await seen(() => page.locator("#cloth-same").click());
  await page.locator("#cloth-on").selectOption("");
  const plate = (await page.request.get(`${page.url()}/deliver/template.png?size=64`)).body();
  await seen(async () => page.setInputFiles("#cloth-file", { name: "enamel.png", mimeType: "image/png", buffer: await plate }));
  await page.locator("[data-own][aria-pressed=true]", { hasText: "enamel" }).waitFor();
  await page.locator("#cloth-length").fill("40"); // smaller than the sheet, it is repeated or laid once
  await page.locator("#cloth-length").blur();
  await drawn(page);
  await seen(() => page.locator("#cloth-once").check());
  await page.setInputFiles("#cloth-file", { name: "torn.png", mimeType: "image/png", buffer: (await plate).subarray(0, 60) });
  await page.waitForFunction(() => /broken/.test(document.querySelector("#banner:not([hidden]) #banner-text")?.textContent ?? ""));

  // Another model of the project has it too; forgotten it is gone for both.
  await openBench(page, app.base, /Line winch$|Line winch(?!,)/);
  await page.locator("[data-show=cloth]").click();
  await page.locator("[data-own]", { hasText: "enamel" }).click();
  await page.waitForFunction(() => document.body.dataset.clothOwn);
  await page.locator("[data-drop-own]").click();
  await page.locator("[data-own]", { hasText: "enamel" }).waitFor({ state: "detached" });
  assert.equal(await page.locator("[data-cloth=squares]").getAttribute("aria-pressed"), "true");
  assert.deepEqual(wrong, []);
  await context.close();
});

test("what is measured of every face has lines, numbers under the pointer, and a way to its worst places", { timeout: 120000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Storm lamp, finished/);
  await page.locator("[data-show=stretch]").click();
  await page.waitForFunction(() => Number(document.body.dataset.listed) === 10 && Number(document.body.dataset.isolines) > 10);
  await page.locator("#worst summary").click();
  const rows = page.locator("[data-worst]");
  const worst = (await rows.allTextContents()).map((t) => Number(t.match(/×([\d.]+)/)[1]));
  assert.deepEqual(worst, worst.toSorted((a, b) => b - a));
  await rows.first().click();
  await page.waitForFunction(() => Number(document.body.dataset.faces) > 0); // its faces are picked
  await page.locator("[data-show=parts]").click();
  await page.waitForFunction(() => document.body.dataset.isolines === "0");
  assert.deepEqual(wrong, []);
  await context.close();
});
