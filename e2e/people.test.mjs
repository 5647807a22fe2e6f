// People sign in: from the first steward to a project with somebody who may look only.
import assert from "node:assert/strict";
import { after, before, test } from "node:test";
import { changed, clean, noSeriousFindings, openPage, ready, startApp, startBrowser, startSignedIn } from "./app.mjs";

let demo, app, browser;
before(async () => { demo = await startApp(); app = await startSignedIn(demo.dir); browser = await startBrowser(); });
after(async () => { await browser?.close(); await app?.stop(); await demo?.stop(); if (demo) await clean(demo.dir); });

/** Comes in by a link, with a name and a password. */
async function comeIn(link, name, password = "a password of some length") {
  const opened = await openPage(browser, app.base);
  await opened.page.goto(link);
  await noSeriousFindings(opened.page, `invitation of ${name}`);
  await opened.page.getByLabel("Name").fill(name);
  await opened.page.getByLabel(/Password/).fill(password);
  await opened.page.getByRole("button", { name: "Come in" }).click();
  await opened.page.waitForURL(/\/projects$/);
  return opened;
}

test("the first steward invites an editor and a viewer, who see who did what and what they may", { timeout: 240000 }, async () => {
  const stranger = await openPage(browser, app.base);
  await stranger.page.goto(`${app.base}/documents/1`);
  assert.match(stranger.page.url(), /\/sign-in\?to=/);
  await noSeriousFindings(stranger.page, "sign in");
  await stranger.page.getByLabel("Name").fill("Ada");
  await stranger.page.getByLabel("Password").fill("not the password");
  await stranger.page.getByRole("button", { name: "Sign in" }).click();
  assert.match(await stranger.page.getByRole("alert").textContent(), /do not belong together/);

  // What nobody owns is the steward's: the workshop is there.
  const ada = await comeIn(app.link, "Ada");
  await ada.page.goto(`${app.base}/projects/1`);
  await noSeriousFindings(ada.page, "project with people");
  const invite = async (role) => {
    await ada.page.goto(`${app.base}/projects/1`);
    await ada.page.getByLabel("Role", { exact: true }).selectOption(role);
    await ada.page.getByRole("button", { name: "Make a link …" }).click();
    return ada.page.locator("#link").inputValue();
  };
  const bo = await comeIn(await invite("editor"), "Bo"), cy = await comeIn(await invite("viewer"), "Cy");

  const open = async ({ page }) => {
    await page.goto(`${app.base}/projects`);
    await page.getByRole("link", { name: /Storm lamp, finished/ }).first().click();
    await ready(page);
  };
  for (const who of [ada, bo, cy]) await open(who);
  assert.equal(await cy.page.locator("#look-only").isVisible(), true);
  assert.equal(await bo.page.locator("#look-only").count(), 0);

  // The editor edits: others hear within a second, with the name that was signed in with.
  await bo.page.keyboard.press("4");
  await bo.page.waitForFunction(() => document.querySelector("#tray h2")?.textContent === "Flow");
  await bo.page.locator(".card tbody tr:not([hidden]) .partname").first().click();
  await changed(bo.page, () => bo.page.keyboard.press("t"));
  await cy.page.waitForFunction(() => /Bo: turn/.test(document.querySelector("#others")?.textContent ?? ""), null, { timeout: 10000 });

  // Who may look only is told so, and nothing is lost.
  const was = await cy.page.getAttribute("body", "data-revision");
  await cy.page.keyboard.press("4");
  await cy.page.waitForFunction(() => document.querySelector("#tray h2")?.textContent === "Flow");
  await cy.page.locator(".card tbody tr:not([hidden]) .partname").first().click();
  await cy.page.keyboard.press("t");
  await cy.page.waitForFunction(() => /may look at this project/.test(document.querySelector("#banner-text").textContent));
  assert.equal(await cy.page.getAttribute("body", "data-revision"), was);

  // One's own page; out, and in again with another password: the session elsewhere is over.
  await bo.page.goto(`${app.base}/you`);
  await noSeriousFindings(bo.page, "you");
  await bo.page.getByPlaceholder("what it is for").fill("nightly job");
  await bo.page.getByRole("button", { name: "Make a token" }).click();
  const token = await bo.page.locator("#token").inputValue();
  const answer = await fetch(`${app.base}/api/v1/documents`, { headers: { Authorization: `Bearer ${token}` } });
  assert.equal(answer.status, 200);
  assert.ok((await answer.json()).length > 0);
  await ada.page.goto(`${app.base}/people`);
  await noSeriousFindings(ada.page, "people");
  await ada.page.locator("[data-person]", { hasText: "Bo" }).getByRole("button", { name: "Let in no more" }).click();
  await bo.page.goto(`${app.base}/projects`);
  assert.match(bo.page.url(), /\/sign-in/);
  assert.equal((await fetch(`${app.base}/api/v1/documents`, { headers: { Authorization: `Bearer ${token}` } })).status, 401);
  for (const who of [ada, bo, cy, stranger]) { assert.deepEqual(who.wrong, []); await who.context.close(); }
});
