// Takes the pictures of docs/screenshots anew, from fresh demo data: script/pictures, or with
// names (script/pictures maps dial) only those. Whoever runs it looks at what it made.
import { clean, findOn, openBench, openPage, startApp, startBrowser, verb } from "./app.mjs";

const only = process.argv.slice(2);
const app = await startApp(), browser = await startBrowser();
const { page } = await openPage(browser, app.base);
await page.addInitScript(() => { if (!localStorage.getItem("firstjob")) localStorage.setItem("firstjob", "left"); });

const settled = (ms = 900) => page.waitForTimeout(ms);
const open = async (title) => { await openBench(page, app.base, title); await settled(); };
const station = async (s) => { await page.locator(`.card thead button[data-station="${s}"]`).click(); await settled(700); };
const choose = async (part) => { await page.locator(".card .partname", { hasText: part }).first().click(); await settled(); };
const show = async (what) => { await page.locator(`[data-show=${what}]`).click(); await settled(1500); };
const ghost = async (says = /./) => { await page.locator("#ghost").waitFor({ state: "visible" }); await page.waitForFunction((s) => new RegExp(s).test(document.querySelector("#ghost").textContent), says.source, { timeout: 90000 }); await settled(1500); };
const run = async () => { await page.locator("[data-do=run]").first().click(); await page.waitForFunction(() => Number(document.body.dataset.shells) > 60 && document.querySelector("#work").hidden, null, { timeout: 120000 }); await settled(1500); };
const lamp = () => open(/Storm lamp, finished/);

/** Each leaves the document it worked on as others can do with. */
const pictures = {
  arrival: async () => {
    await page.goto(app.base + "/projects"); await page.getByRole("link", { name: /Careless/ }).first().click();
    await page.waitForURL(/documents/); await page.goto(page.url().split("?")[0] + "/arrival");
    await page.emulateMedia({ reducedMotion: "reduce" }); await page.reload(); await page.emulateMedia({ reducedMotion: null });
    await page.waitForFunction(() => document.body.dataset.ready === "yes"); await page.locator("button[data-place]").nth(2).click(); await settled();
  },
  projects: async () => { await page.goto(app.base + "/projects"); await settled(); },
  "bench-imported": async () => { // with the first job of a newcomer
    await open(/^Storm lamp$/); await verb(page, "The first job"); await settled();
    return async () => { await page.locator("[data-first=leave]").click(); };
  },
  "bench-finished": lamp,
  "bench-parts": async () => { await lamp(); await choose("hood cone"); },
  "bench-cloth": async () => { // steel in the light, the handle of wood
    await lamp(); await show("cloth"); await page.locator('[data-cloth="brushed steel"]').click();
    await page.locator("#cloth-on").selectOption("ash_wood"); await page.locator('[data-cloth="wood"]').click(); await settled(3000);
  },
  "bench-stretch": async () => { await lamp(); await show("stretch"); await page.waitForFunction(() => Number(document.body.dataset.listed) > 0); await page.locator("#worst summary").click(); await page.locator("[data-worst='7']").click(); await settled(2000); },
  "bench-seams": async () => {
    await lamp(); await choose("glass wall"); await station("Seams");
    const s = await findOn(page, "#piece-canvas", /part glass wall .*edge \d+ bend 0°/);
    await page.mouse.dblclick(s.x, s.y); await settled();
  },
  "bench-project": async () => { await lamp(); await station("Project"); await choose("hood cone"); await page.locator("#setup-kinds button").first().waitFor(); await settled(1500); },
  "bench-flow": async () => {
    await lamp(); await station("Flow"); await choose("glass wall");
    const s = await findOn(page, "#sheet-canvas", /part glass wall .*/, [0.75, 0.8]);
    await page.mouse.click(s.x, s.y); await settled(300);
    await page.mouse.down(); await page.keyboard.down("Alt"); await page.mouse.move(s.x + 14, s.y - 10, { steps: 6 }); await settled();
    return async () => { await page.keyboard.press("Escape"); await page.mouse.move(s.x, s.y); await page.mouse.up(); await page.keyboard.up("Alt"); };
  },
  "bench-hand": async () => { // by hand: some chosen, one stacked, one on the rack
    await lamp(); await station("Sheet");
    await page.locator('[title^="cage rod 1 bar,"]').first().click(); await settled(500);
    await verb(page, "Same size"); await page.locator("#fitting [data-do=stack]").click(); await ghost(); await page.keyboard.press("Enter"); await settled(1500);
    const racked = await findOn(page, "#sheet-canvas", /part hood plate 2 /, [0.4, 0.4]);
    await page.mouse.click(racked.x, racked.y); await settled(500); await page.keyboard.press("d"); await settled(1500);
    const a = await findOn(page, "#sheet-canvas", /part base plate 2 /, [0.15, 0.35]); await page.mouse.click(a.x, a.y); await settled(400);
    const b = await findOn(page, "#sheet-canvas", /part glass wall /, [0.3, 0.6]); await page.keyboard.down("Shift"); await page.mouse.click(b.x, b.y); await page.keyboard.up("Shift"); await page.keyboard.press("Home"); await settled(1200);
    return async () => { for (let k = 0; k < 2; k++) { await page.keyboard.press("Control+z"); await settled(1200); } };
  },
  deliver: async () => { await lamp(); await page.locator("#deliver-open").click(); await page.locator("#deliver-form").waitFor(); return async () => { await page.keyboard.press("Escape"); }; },
  "bench-painted": async () => { // and the paint shop, whose picture it shows
    await lamp(); await show("painted"); await page.locator("#painted [data-do=send]").click();
    const link = page.locator('#painted a[href^="/paintshop"]'); await link.waitFor({ timeout: 90000 });
    const shop = await page.context().newPage(); await shop.setViewportSize(page.viewportSize()); await shop.goto(app.base + await link.getAttribute("href"));
    await shop.locator("#recipe .act").click(); await shop.waitForFunction(() => document.querySelector("#state").textContent === "painted", null, { timeout: 60000 }); await shop.waitForTimeout(800);
    await shop.screenshot({ path: "docs/screenshots/paintshop.png" }); await shop.close();
    await page.waitForFunction(() => document.body.dataset.painted, null, { timeout: 20000 }); await settled(2000);
  },
  compare: async () => { // with the map that came along
    await lamp(); await page.goto(`${page.url().split("?")[0]}/compare?was=0`); await page.waitForFunction(() => document.body.dataset.ready === "yes", null, { timeout: 60000 }); await settled(2500);
  },
  revision: async () => {
    await open(/^Line winch$|Line winch(?!,)/); const first = page.url().split("?")[0], id = first.split("/").pop(); await run();
    await open(/Line winch, revision B/); await page.goto(`${page.url().split("?")[0]}/revision?of=${id}`);
    await page.waitForFunction(() => document.body.dataset.ready === "yes", null, { timeout: 60000 }); await settled(2500);
  },
  report: async () => { await lamp(); await page.goto(page.url().split("?")[0] + "/report"); await settled(); },
  "bench-proof": async () => { await open("Survey case"); await station("Proof"); await page.locator("[data-finding]").nth(3).click(); await settled(); },
  "bench-maps": async () => {
    await lamp();
    await page.locator("#maps-name").click(); await page.locator("#map-new").fill("Brushed steel"); await page.locator("#map-with").selectOption("all");
    await page.keyboard.press("Tab"); await page.locator("[data-do=make-map]").click(); await settled(2500);
    return async () => { await page.keyboard.press("Control+z"); await settled(1500); };
  },
};

let failed = 0;
for (const [name, make] of Object.entries(pictures)) {
  if (only.length && !only.some((o) => name === o || name === `bench-${o}`)) continue;
  try {
    const after = await make();
    if (name !== "bench-flow") await page.mouse.move(700, 797);
    await settled(400);
    await page.screenshot({ path: `docs/screenshots/${name}.png` });
    console.log(name);
    await after?.();
  } catch (e) {
    failed++;
    console.error(`${name}: ${e.message.split("\n")[0]}`);
  }
}
await browser.close();
await app.stop();
await clean(app.dir);
process.exitCode = failed ? 1 : 0;
