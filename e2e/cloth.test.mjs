// What the patterns of the cloth show: words that read, boards that go on over a seam.
import assert from "node:assert/strict";
import { after, before, test } from "node:test";
import { changed, clean, findOn, noSeriousFindings, openBench, openPage, startApp, startBrowser } from "./app.mjs";

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

/** How much the brightness on both sides of an edge of the piece is alike, −1 to 1. */
const alikeAcross = (page, path) => page.evaluate((d) => {
  const [ax, ay, bx, by] = d.match(/M([\d.]+),([\d.]+)L([\d.]+),([\d.]+)/).slice(1).map(Number);
  const gl = document.querySelector("#piece-canvas"), k = gl.width / gl.clientWidth;
  const g = Object.assign(document.createElement("canvas"), { width: gl.width, height: gl.height }).getContext("2d");
  g.drawImage(gl, 0, 0);
  const l = Math.hypot(bx - ax, by - ay), nx = -(by - ay) / l, ny = (bx - ax) / l;
  const side = (s) => Array.from({ length: 60 }, (_, i) => {
    const t = 0.05 + (0.9 * i) / 59, at = (o) => [Math.round(k * (ax + t * (bx - ax) + s * o * nx)), Math.round(k * (ay + t * (by - ay) + s * o * ny))];
    return [4, 5, 6].reduce((sum, o) => { const [r, gr, b] = g.getImageData(...at(o), 1, 1).data; return sum + r + gr + b; }, 0);
  });
  const a = side(1), b = side(-1), mean = (v) => v.reduce((x, y) => x + y) / v.length, ma = mean(a), mb = mean(b);
  let ab = 0, aa = 0, bb = 0;
  a.forEach((x, i) => { ab += (x - ma) * (b[i] - mb); aa += (x - ma) ** 2; bb += (b[i] - mb) ** 2; });
  return ab / Math.sqrt(aa * bb);
}, path);

/** A picture of what a canvas shows, as one string. */
const picture = (page) => page.evaluate(() => document.querySelector("#piece-canvas").toDataURL());

test("boards are seen to go on over the seam they are carried over", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await flow(/Valve block/, true);
  await page.getByRole("button", { name: "edges", exact: true }).click();
  const box = await page.locator("#piece-canvas").boundingBox();
  await page.mouse.move(box.x + 263, box.y + 400);
  for (let i = 0; i < 4; i++) await page.mouse.wheel(0, -200);
  const spot = await findOn(page, "#piece-canvas", /part block plate \d+ .*edge \d+ bend 90° seam/, [0.64, 0.7]);
  const path = await page.locator("#piece-over .hot").getAttribute("d");
  await page.locator("[data-show=cloth]").click();
  await page.locator('[data-cloth="boards"]').click();
  await page.waitForFunction(() => document.body.dataset.pattern === "boards");
  await noSeriousFindings(page, "boards");
  const elsewhere = async () => { await page.mouse.move(box.x + 4, box.y + 4); await page.waitForTimeout(300); };
  await elsewhere();
  const before = await alikeAcross(page, path);
  await page.mouse.click(spot.x, spot.y);
  await page.getByRole("button", { name: "Carry over" }).click();
  await page.waitForFunction(() => /the pattern goes on over 1 seam, 0\.0 thousandths/.test(document.querySelector("#ghost").textContent));
  await changed(page, () => page.getByRole("button", { name: "Take" }).click());
  await page.keyboard.press("Escape"); // the pick, drawn over the seam
  await elsewhere();
  const after = await alikeAcross(page, path);
  assert.ok(after > before + 0.3, `alike across the seam ${after}, before ${before}`);
  assert.deepEqual(wrong, []);
  await context.close();
});

test("a word is put on a part, stands upright, and is found where it does not", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await flow(/Storm lamp, finished/, false);
  assert.deepEqual((await metaOf(page)).labels.map((l) => [l.word, l.reads]), [["Storm", "reads upright"]]);
  const spot = await findOn(page, "#piece-canvas", /part sign .*label Storm: reads upright/, [0.45, 0.8]);
  await page.locator("[data-show=cloth]").click();
  await page.locator('[data-cloth="words"]').click();
  await page.waitForTimeout(300);
  const upright = await picture(page);
  await page.getByRole("button", { name: "faces", exact: true }).click();
  await page.mouse.click(spot.x, spot.y);
  await page.locator("#set-word").fill("Moor");
  await changed(page, () => page.getByRole("button", { name: "Label", exact: true }).click());
  assert.match(await page.locator("#undo-name").textContent(), /label 1 face Moor/);
  await page.waitForTimeout(300);
  assert.notEqual(await picture(page), upright, "another word looks the same");
  await page.locator("[data-show=parts]").click(); // the cloth is slow where there is no graphics card
  // Turned by hand it does not read: the readout, and Proof, say so.
  await changed(page, () => page.getByRole("button", { name: "Quarter turn" }).click());
  assert.equal((await metaOf(page)).labels[0].reads, "90° off upright");
  await page.getByRole("button", { name: /^Proof/ }).first().click();
  await page.waitForFunction(() => /label not upright 90°/.test(document.querySelector("#tray").textContent));
  await page.getByRole("button", { name: /^Flow/ }).first().click();
  await page.waitForFunction(() => document.querySelector("#set-where"));
  await noSeriousFindings(page, "labels");
  await changed(page, () => page.getByRole("button", { name: "By loops" }).click());
  assert.equal((await metaOf(page)).labels[0].reads, "reads upright");
  // On its side it reads from the side, and the shell has turned with it.
  await page.getByRole("button", { name: "faces", exact: true }).click();
  await page.mouse.click(spot.x, spot.y);
  await changed(page, () => page.getByRole("button", { name: "On its side" }).click());
  const side = (await metaOf(page)).labels[0];
  assert.deepEqual([side.quarters, side.reads], [1, "reads upright"]);
  assert.deepEqual(wrong, []);
  await context.close();
});
