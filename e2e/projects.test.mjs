// The pages of the projects: what is on the shelf is found, renamed, copied, moved, put away, deleted
// and brought back.
import assert from "node:assert/strict";
import { after, before, test } from "node:test";
import { changed, clean, noSeriousFindings, openBench, openPage, ready, startApp, startBrowser } from "./app.mjs";

let app, browser;
before(async () => { app = await startApp(); browser = await startBrowser(); });
after(async () => { await browser?.close(); await app?.stop(); if (app) await clean(app.dir); });

const card = (page, title) => page.locator(".model", { has: page.getByText(title, { exact: true }) });
/** Does something to a model by the menu of its card. */
const change = async (page, title, what, set) => {
  const of = card(page, title).first();
  await of.locator("summary").click();
  await set?.(of);
  await Promise.all([page.waitForEvent("load"), of.locator(`button[value=${what}]`).click()]);
};
const shown = (page) => page.locator(".model:visible").count();

test("models are found, copied, moved, put away, deleted and brought back", { timeout: 120000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await page.goto(app.base + "/projects");
  await page.waitForFunction(() => /as it came/.test(document.querySelector(".model [data-state]").textContent));
  await page.waitForFunction(() => [...document.querySelectorAll(".model:first-child img")].every((i) => i.complete && i.naturalWidth === 240));
  await noSeriousFindings(page, "projects");
  const all = await shown(page);
  await page.keyboard.press("/");
  await page.keyboard.type("winch revision");
  assert.equal(await shown(page), 1);
  await page.locator("#search").fill("no such thing");
  assert.equal(await page.locator("#none").isVisible(), true);
  await page.locator("#search").fill("");
  assert.equal(await shown(page), all);

  // A copy has all that was done, and goes its own way.
  await change(page, "Storm lamp, finished", "duplicate", (of) => of.locator("[name=title]").fill("Storm lamp, second try"));
  assert.match(await card(page, "Storm lamp, second try").textContent(), /7 edits/);
  await openBench(page, app.base, /Storm lamp, second try/);
  await changed(page, () => page.locator("#undo").click());
  await page.goto(app.base + "/projects");
  assert.match(await card(page, "Storm lamp, finished").textContent(), /7 edits/);
  assert.match(await card(page, "Storm lamp, second try").textContent(), /6 edits/);

  // To a project of its own, under another name.
  await page.locator("#new-project").fill("Old lamps");
  await Promise.all([page.waitForURL(/projects\/\d+$/), page.keyboard.press("Enter")]);
  assert.match(await page.locator(".project").textContent(), /No models yet/);
  await page.goto(app.base + "/projects");
  await change(page, "Storm lamp, second try", "move", (of) => of.locator("[name=to]").selectOption({ label: "Old lamps" }));
  assert.match(await page.locator('.project[data-words="old lamps"]').locator(".model").textContent(), /second try/);
  await change(page, "Storm lamp, second try", "rename", (of) => of.locator("[name=title]").fill("Lamp of the harbour"));

  // Deleted it can be brought back, at once or later; what is put away only is out of sight.
  await change(page, "Lamp of the harbour", "delete");
  assert.match(await page.locator("[role=status]").first().textContent(), /Lamp of the harbour is deleted/);
  assert.equal(await card(page, "Lamp of the harbour").count(), 0);
  await Promise.all([page.waitForEvent("load"), page.getByRole("button", { name: "Undo" }).click()]);
  assert.equal(await card(page, "Lamp of the harbour").count(), 1);
  await change(page, "Lamp of the harbour", "archive");
  await page.locator("#search").fill("harbour"); // it is found though
  await page.locator(".away:visible a", { hasText: "Lamp of the harbour" }).click();
  await ready(page);

  // A project goes with all that is in it.
  await page.goto(app.base + "/projects");
  const of = page.locator('.project[data-words="old lamps"]');
  await of.locator("summary", { hasText: "change" }).click();
  await Promise.all([page.waitForEvent("load"), of.locator("button[value=delete]").click()]);
  assert.equal(await page.locator('.project[data-words="old lamps"]').count(), 0);
  await page.locator(".away summary", { hasText: "1 project" }).click();
  await Promise.all([page.waitForEvent("load"), page.getByRole("button", { name: "Bring back" }).click()]);
  assert.equal(await page.locator('.project[data-words="old lamps"]').count(), 1);
  assert.deepEqual(wrong, []);
  await context.close();
});

test("a project shows what it keeps, and models are brought into it", { timeout: 120000 }, async () => {
  const { page, wrong, context } = await openPage(browser, app.base);
  await page.goto(app.base + "/projects");
  await page.locator("#new-project").fill("Tiles");
  await Promise.all([page.waitForURL(/projects\/\d+$/), page.keyboard.press("Enter")]);
  const at = page.url();
  await noSeriousFindings(page, "a project");
  await page.setInputFiles("#model", { name: "tile.obj", mimeType: "text/plain", buffer: Buffer.from("v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nf 1 2 3 4\n") });
  await page.waitForURL(/arrival/);
  await page.goto(at);
  assert.equal(await shown(page), 1);
  assert.match(await page.locator(".model").textContent(), /tile/);
  assert.match(await page.locator("main").textContent(), /Jigs.*None yet.*Cloths.*None yet.*that of tile/s);
  assert.deepEqual(wrong, []);
  await context.close();
});
