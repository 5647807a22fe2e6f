// Findings at the Proof station: filtered, accepted with a reason, and mended on a sealed map without
// moving anything else.
import assert from "node:assert/strict";
import { after, before, test } from "node:test";
import { changed, clean, noSeriousFindings, number, openBench, openPage, startApp, startBrowser } from "./app.mjs";

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

test("a finding is accepted with a reason, is out of the count, and is taken back", { timeout: 120000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await openBench(page, app.base, /Storm lamp, finished/);
  await proof(page);
  await noSeriousFindings(page, "findings");
  const all = await rows(page).count(), open = Number((await page.locator("#tray .lead b").textContent()).split(" ")[0]);
  const kind = await page.locator("#finding-kind option").nth(3).getAttribute("value");
  await page.locator("#finding-kind").selectOption(kind);
  assert.ok(await rows(page).count() < all);
  await page.locator("#finding-kind").selectOption("!must");
  assert.equal(await rows(page).count(), await page.locator("#findings .finding.must").count());
  await page.locator("#finding-kind").selectOption("");
  const row = page.locator("#findings > li", { hasText: "stretched" }).first();
  const said = await row.locator("b").textContent(), many = Number((await row.locator(".finding").getAttribute("data-finding")).split(" ").length);
  await row.locator(".finding").click();
  await page.locator("#accept-reason").waitFor();
  await page.locator("[data-do=accept]").click();
  await page.waitForFunction(() => /say why/.test(document.querySelector("#banner:not([hidden]) #banner-text")?.textContent ?? ""));
  await page.locator("#accept-reason").fill("too small to be seen");
  await changed(page, () => page.locator("[data-do=accept]").click());
  await page.waitForFunction((n) => Number(document.querySelector("#tray .lead b")?.textContent.split(" ")[0]) === n, open - many);
  const accepted = page.locator("#findings > li", { hasText: "accepted: too small to be seen" });
  assert.match(await accepted.textContent(), new RegExp(said));
  assert.match(await (await page.request.get(`${page.url()}/deliver/report.json`)).text(), /"accepted": "too small to be seen"/);
  await noSeriousFindings(page, "accepted findings");
  await accepted.locator(".finding").click();
  await page.locator("[data-do=withdraw]").waitFor();
  await changed(page, () => page.locator("[data-do=withdraw]").click());
  await page.waitForFunction((n) => Number(document.querySelector("#tray .lead b")?.textContent.split(" ")[0]) === n, open);

  // What comes after a state was marked is told as new.
  await changed(page, () => page.locator("[data-do=mark]").click());
  await page.waitForFunction(() => /new since the mark \(0\)/.test(document.querySelector("#tray").textContent));
  const clear = { base: await number(page, "revision"), edit: { kind: "clear", params: { faces: [20, 21] } } };
  assert.ok((await page.request.post(`${page.url()}/edits`, { data: clear })).ok());
  await page.reload();
  await page.waitForFunction(() => document.body.dataset.ready === "yes");
  await proof(page);
  await page.locator("#finding-new").check();
  const fresh = await rows(page).allTextContents();
  assert.ok(fresh.length > 0 && fresh.length < all && fresh.every((f) => /new/.test(f)) && fresh.some((f) => /not mapped 2 faces/.test(f)), fresh.join("; "));
  await noSeriousFindings(page, "new findings");
  await changed(page, () => page.locator("[data-do=forget-mark]").click());
  await page.locator("#finding-new").waitFor({ state: "detached" });
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
  await changed(page, () => page.locator("#ghost [data-do=live-take]").click());
  assert.equal(await number(page, "revision"), revision + 1);
  const after = await lay(page);
  before.forEach((f, i) => { if (!gone.includes(i)) assert.equal(after[i], f, `face ${i}`); });
  assert.equal(after.filter((f) => f.includes("  ") || f.trim() === "").length, 0);
  assert.equal(await page.locator("#findings > li", { hasText: "not mapped" }).count(), 0);
  assert.deepEqual(wrong, []);
  await context.close();
});
