import assert from "node:assert/strict";
import { readFile } from "node:fs/promises";
import { after, before, test } from "node:test";
import { changed, clean, findOn, noSeriousFindings, number, openBench, openPage, ready, startApp, startBrowser, startServer } from "./app.mjs";

let app, browser;

before(async () => { app = await startApp(); browser = await startBrowser(); });
after(async () => { await browser?.close(); await app?.stop(); if (app) await clean(app.dir); });

test("the whole job, from the junk map to a proved sheet and back out", { timeout: 240000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await page.goto(app.base + "/projects");
  await noSeriousFindings(page, "projects");
  await openBench(page, app.base, /^Storm lamp$/);
  await noSeriousFindings(page, "bench as imported");

  await page.getByRole("button", { name: /^Proof/ }).first().click();
  await page.waitForSelector(".finding.must");

  await changed(page, () => page.getByRole("button", { name: "Run the whole job" }).click());
  await page.waitForFunction(() => Number(document.body.dataset.shells) > 50);
  assert.equal(await page.locator("#undo-name").textContent(), "pack the sheet");
  await page.waitForFunction(() => document.querySelectorAll(".card tbody tr").length > 50);
  assert.match(await page.locator(".card tbody").textContent(), /◇/);
  await page.getByRole("button", { name: /^Proof/ }).first().click();
  await page.waitForFunction(() => !document.querySelector(".finding.must"));
  await noSeriousFindings(page, "bench, finished");

  // Pick a loop on the model by mouse and cut it: the wall falls in two.
  await page.locator("tr", { hasText: "glass wall" }).locator(".partname").click();
  await page.getByRole("button", { name: /^Seams/ }).first().click();
  const spot = await findOn(page, "#piece-canvas", /part glass wall .*edge \d+ bend 0°/);
  await page.mouse.dblclick(spot.x, spot.y);
  await page.waitForFunction(() => Number(document.body.dataset.picked) === 48);
  assert.match(await page.locator("#tag").textContent(), /48 edges · .* mm · loop/);
  const shells = await number(page, "shells");
  await changed(page, () => page.keyboard.press("c"));
  assert.equal(await number(page, "shells"), shells + 1);
  assert.equal(await page.locator("#undo-name").textContent(), "cut 48 edges");
  await changed(page, () => page.keyboard.press("Control+z"));
  assert.equal(await number(page, "shells"), shells);
  await changed(page, () => page.keyboard.press("Control+y"));
  assert.equal(await number(page, "shells"), shells + 1);

  // Close it again and flatten: one shell as before.
  await changed(page, () => page.keyboard.press("v"));
  await changed(page, () => page.keyboard.press("e"));
  assert.equal(await number(page, "shells"), shells);

  // Pointing at the sheet lights the same face on the model; dragging moves the shell.
  await page.locator('.card thead button[data-station="Sheet"]').click();
  const on = await findOn(page, "#sheet-canvas", /part .*face \d+ .*density/);
  await changed(page, async () => {
    await page.mouse.down();
    await page.mouse.move(on.x + 20, on.y + 10, { steps: 4 });
    await page.mouse.up();
  });
  assert.equal(await page.locator("#undo-name").textContent(), "move a shell");
  const revision = await number(page, "revision");
  await page.reload();
  await ready(page);
  assert.equal(await number(page, "revision"), revision);

  // Deliver: the mesh comes back with every face and a coordinate for each corner.
  await page.locator("#deliver-open").click();
  const [download] = await Promise.all([page.waitForEvent("download"), page.locator('a[href*="deliver/model.obj"]').click()]);
  const obj = await readFile(await download.path(), "utf8");
  const faces = obj.split("\n").filter((l) => l.startsWith("f "));
  assert.equal(faces.length, 6882);
  assert.ok(faces.every((l) => l.slice(2).split(" ").every((c) => /^\d+\/\d+/.test(c))));
  for (const [file, kind] of [["template.svg?size=512", "image/svg+xml"], ["template.png?size=512", "image/png"], ["report.json", "application/json"]]) {
    const r = await page.request.get(`${page.url()}/deliver/${file}`);
    assert.equal(r.status(), 200);
    assert.ok(r.headers()["content-type"].startsWith(kind));
  }
  assert.deepEqual(wrong, []);
  await context.close();
});

test("a long job can be cancelled and leaves the document as it was", { timeout: 120000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Line winch/);
  const revision = await number(page, "revision");
  const url = page.url();
  const res = await page.request.post(`${url}/run`, { data: { base: revision } });
  const { work } = await res.json();
  assert.equal((await page.request.post(`${app.base}/works/${work}/cancel`)).status(), 204);
  const events = await (await page.request.get(`${app.base}/works/${work}/events`)).text();
  assert.match(events, /"state":"cancelled"/);
  await page.reload();
  await ready(page);
  assert.equal(await number(page, "revision"), revision);
  assert.deepEqual(wrong, []);
  await context.close();
});

test("a stale edit gets 409 with the newer revision", { timeout: 120000 }, async () => {
  const { page, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Line winch/);
  const revision = await number(page, "revision");
  const rename = (base, name) => page.request.post(`${page.url()}/edits`, { data: { base, edit: { kind: "rename", params: { part: 0, name } } } });
  assert.equal((await rename(revision, "plate one")).status(), 200);
  const late = await rename(revision, "plate two");
  assert.equal(late.status(), 409);
  assert.equal((await late.json()).revision, revision + 1);
  const odd = await page.request.post(`${page.url()}/edits`, { data: { base: revision + 1, edit: { kind: "cut", params: { edges: [99999999] } } } });
  assert.equal(odd.status(), 422);
  assert.match((await odd.json()).error, /there is no edge 99999999/);
  await context.close();
});

test("bad files are refused in the page in words, good ones open", { timeout: 120000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await page.goto(app.base + "/projects");
  const before = await page.locator(".models li").count();
  const bad = [
    ["empty.obj", "", /empty/], ["range.obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 9\n", /line 4: .*out of range/],
    ["nan.obj", "v 0 NaN 0\n", /line 1: .*finite/], ["thin.obj", "v 0 0 0\nv 1 0 0\nf 1 2\n", /line 3: .*at least 3/],
    ["picture.obj", "\x89PNG\r\n\x1a\n\0\0\0", /binary file/], ["model.step", "x", /cannot tell the format/],
  ];
  for (const [name, text, says] of bad) {
    await page.setInputFiles("#model", { name, mimeType: "text/plain", buffer: Buffer.from(text, "latin1") });
    await page.waitForFunction((n) => document.querySelector("#upload-error:not([hidden])")?.textContent.includes(n), name);
    assert.match(await page.locator("#upload-error").textContent(), says);
  }
  await page.reload();
  assert.equal(await page.locator(".models li").count(), before);

  // A body announced as larger than the limit is turned away before it is sent.
  const { request } = await import("node:http");
  const answer = await new Promise((done, lost) => {
    const r = request(app.base + "/documents", { method: "POST", headers: { "Content-Type": "multipart/form-data; boundary=x", "Content-Length": 600 * 2 ** 20 } }, (res) => {
      let text = "";
      res.on("data", (d) => (text += d)).on("end", () => { done({ status: res.statusCode, text }); r.destroy(); });
    });
    r.on("error", (e) => { if (e.code !== "ECONNRESET") lost(e); });
    r.write("--x\r\n");
  });
  assert.equal(answer.status, 413);
  assert.match(answer.text, /larger than 512 MB/);

  await page.route("**/*.js*", (route) => setTimeout(() => route.continue(), 500)); // the first click counts, however late the page hears
  await page.setInputFiles("#model", { name: "tile.obj", mimeType: "text/plain", buffer: Buffer.from("v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nf 1 2 3 4\n") });
  await page.locator("#open").click();
  await ready(page);
  assert.equal(await page.locator(".card tbody tr").count(), 1);
  assert.deepEqual(wrong, []);
  await context.close();
});

test("a restart of the server loses nothing", { timeout: 120000 }, async () => {
  const { page, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Storm lamp, finished/);
  const [revision, shells] = [await number(page, "revision"), await number(page, "shells")];
  await app.stop();
  Object.assign(app, await startServer(app.dir));
  await openBench(page, app.base, /Storm lamp, finished/);
  assert.equal(await number(page, "revision"), revision);
  assert.equal(await number(page, "shells"), shells);
  await context.close();
});
