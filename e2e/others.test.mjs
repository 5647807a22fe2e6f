// Two people at one model, what was done and by whom, states that have a name, and a server that
// goes away and comes back.
import assert from "node:assert/strict";
import { after, before, test } from "node:test";
import { changed, clean, given, number, openBench, openPage, ready, startApp, startBrowser, startServer, verb } from "./app.mjs";

let app, browser;
before(async () => { app = await startApp(); browser = await startBrowser(); });
after(async () => { await browser?.close(); await app?.stop(); if (app) await clean(app.dir); });

const call = async (page, name) => {
  await page.locator("#worklog-open").click();
  await page.locator("#who").fill(name);
  await page.locator("#who").press("Enter");
  await page.waitForFunction((n) => document.cookie.includes(`who=${n}`), name);
};
const others = (page, says) => page.waitForFunction((s) => new RegExp(s).test(document.querySelector("#others:not([hidden])")?.textContent ?? ""), says);
const revision = (page, n) => page.waitForFunction((r) => document.body.dataset.revision === String(r), n);
const choose = async (page, part) => {
  await page.locator(`[title^="${part},"]`).first().click();
  await page.waitForFunction((p) => document.querySelector("#tray .trayname span")?.textContent === p, part);
};
const rename = (page, to) => page.evaluate(async ([id, to]) => {
  const meta = await (await fetch(`/documents/${id}/meta`)).json();
  await fetch(`/documents/${id}/edits`, { method: "POST", headers: { "Content-Type": "application/json" }, body: JSON.stringify({ base: meta.revision, edit: { kind: "rename", params: { part: 0, name: to } } }) });
}, [new URL(page.url()).pathname.split("/")[2], to]);

test("what one does the other sees, with who did it, and not in the middle of something", { timeout: 120000 }, async () => {
  const [a, b] = [await openPage(browser, app.base), await openPage(browser, app.base)];
  await openBench(a.page, app.base, /Storm lamp, finished/);
  await openBench(b.page, app.base, /Storm lamp, finished/);
  await call(a.page, "Ada");
  const first = await number(b.page, "revision");
  await rename(a.page, "chimney");
  await revision(b.page, first + 1);
  await others(b.page, "Ada.*rename a part to chimney");
  await b.page.locator('.card [title^="chimney,"]').first().waitFor();
  assert.match(await b.page.locator("#undo-name").textContent(), /· Ada$/);
  assert.doesNotMatch(await a.page.locator("#undo-name").textContent(), /Ada/, "one's own name is no news");

  // What is shown before it is taken stays until it is taken or left.
  await verb(b.page, "Pack all anew");
  await given(b.page);
  await rename(a.page, "tall chimney");
  await others(b.page, "tall chimney.*shown when you are done");
  assert.equal(await number(b.page, "revision"), first + 1);
  await b.page.keyboard.press("Escape");
  await revision(b.page, first + 2);

  // An edit that was meant for an older state is refused, and offered again.
  await b.context.route("**/events", (r) => r.abort());
  await b.page.reload();
  await ready(b.page);
  await rename(a.page, "chimney");
  await b.page.locator('.card thead button[data-station="Sheet"]').click();
  await choose(b.page, "hood cone");
  await b.page.keyboard.press("Control+a");
  await b.page.keyboard.press("t");
  await b.page.locator("#banner-again").click();
  await revision(b.page, first + 4);
  assert.equal(await b.page.locator("#banner").isHidden(), true);
  assert.deepEqual([...a.wrong, ...b.wrong.filter((w) => !/ERR_FAILED/.test(w))], []);
  await a.context.close();
  await b.context.close();
});

test("a state gets a name, is looked at, and come back to when the way to it is gone", { timeout: 120000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Storm lamp, finished/);
  const start = await number(page, "shells");
  await call(page, "Ada");
  await page.locator("#moment-name").fill("as delivered");
  await page.locator("#moment-name").press("Enter");
  await page.locator("#worklog a", { hasText: "as delivered" }).waitFor();
  await page.locator("#moment-name").fill("as delivered"); // it has that name
  await page.locator("#moment-name").press("Enter");
  await page.waitForFunction(() => /is called as delivered already/.test(document.querySelector("#banner-text").textContent));

  // Back, another way, and the name is still there.
  await changed(page, () => page.locator("#undo").click());
  await rename(page, "vane");
  await page.waitForFunction(() => /to vane/.test(document.querySelector("#worklog ol").textContent));
  assert.match(await page.locator("#worklog p", { hasText: "no longer on the way" }).textContent(), /Named/);
  await page.locator("#worklog a", { hasText: "as delivered" }).click();
  await ready(page);
  assert.equal(await number(page, "shells"), start);
  assert.match(await page.locator("#past").textContent(), /as delivered/);
  await page.keyboard.press("Control+a");
  await verb(page, "Clear the map"); // what was cannot be changed
  await page.waitForFunction(() => /how it was once/.test(document.querySelector("#banner-text").textContent));
  await page.locator("[data-do=go-back]").click();
  await page.waitForURL((u) => !u.search.includes("moment"));
  await ready(page);
  assert.equal(await number(page, "shells"), start);
  assert.match(await page.locator("#undo-name").textContent(), /go back to as delivered/);

  // Step by step through what was.
  await page.locator("#worklog-open").click();
  await page.locator("#worklog ol a", { hasText: "what came in" }).click();
  await ready(page);
  assert.notEqual(await number(page, "shells"), start);
  await page.locator("#past a", { hasText: "later" }).click();
  await page.waitForURL(/seq=1/);
  await ready(page);
  await page.locator("#past a", { hasText: "Back to now" }).click();
  await page.waitForURL((u) => !u.search.includes("seq"));
  await ready(page);
  assert.equal(await number(page, "shells"), start);

  // What was done is forgotten for good: the model and the state that has a name stay.
  await page.locator("#worklog-open").click();
  await page.locator("#end-history summary").click();
  await changed(page, () => page.locator("[data-end-history]").click());
  await page.waitForFunction(() => !document.querySelector("#end-history") && document.querySelector("#undo-name").textContent === "nothing to undo");
  assert.equal(await number(page, "shells"), start);
  assert.equal(await page.locator("#worklog a", { hasText: "as delivered" }).count(), 1);
  assert.deepEqual(wrong, []);
  await context.close();
});

test("an edit made while the server is away is kept and sent when it is back", { timeout: 120000 }, async () => {
  const { page, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Storm lamp, finished/);
  const first = await number(page, "revision"), { host } = new URL(app.base);
  await page.locator('.card thead button[data-station="Sheet"]').click();
  await choose(page, "hood cone");
  await page.keyboard.press("Control+a");
  await app.stop();
  await page.keyboard.press("t");
  await others(page, "edit is kept here");
  assert.equal(await number(page, "revision"), first);
  Object.assign(app, await startServer(app.dir, host));
  await revision(page, first + 1);
  await page.waitForFunction(() => document.querySelector("#others").hidden);
  assert.match(await page.locator("#undo-name").textContent(), /turn|move/);
  await context.close();
});
