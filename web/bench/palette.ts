// The palette: every verb, part and pick set by its name, with keys and why something cannot be
// done now.
import { groups } from "../verbs/verbs";
import { recall } from "./choosing";
import { html, show, type Markup } from "./html";
import { unmet } from "./needs";
import { $, at, attempt, doc, focusView } from "./state";
import { choose } from "./tray";
import { called } from "./forms";
import { all, does } from "./verbs";

interface Entry { says: string; where: string; key?: string; what: string; why: string; act: () => Promise<unknown> }

const most = 60; // entries shown at once
let entries: Entry[] = [], found: Entry[] = [], chosen = 0;

const dialog = (): HTMLDialogElement => $<HTMLDialogElement>("palette");
const field = (): HTMLInputElement => $<HTMLInputElement>("palette-words");
const group = (takes: string): string => groups.find((g) => g.takes === takes)!.says;

function collect(): Entry[] {
  const verbs = all().filter((k) => k.verb.name !== "palette").map((k): Entry => {
    const elsewhere = k.station !== "" && k.station !== at.station;
    return { says: called(k.verb), where: [k.station, group(k.verb.takes)].filter(Boolean).join(" · "), what: k.verb.what, why: elsewhere ? "" : unmet(k.verb), act: () => does(k), ...(k.verb.key && !elsewhere ? { key: k.verb.key } : {}) };
  });
  const parts = doc.meta.parts.map((p, i): Entry => ({ says: p.name, where: "Part", what: `${p.shape}, off by ${p.error}`, why: "", act: async () => { choose(i, doc.layout.facePart.indexOf(i), true); at.whole = true; } }));
  const sets = doc.meta.picks.map((p): Entry => ({ says: p.name, where: "Pick set", what: `${(p.edges ?? []).length} edges, ${(p.faces ?? []).length} faces`, why: "", act: async () => recall(p.name) }));
  return [...verbs, ...sets, ...parts];
}

/** How well an entry answers what was typed; 0 for not at all. */
function answers(e: Entry, words: string[]): number {
  const says = e.says.toLowerCase(), rest = `${e.where} ${e.what}`.toLowerCase();
  let sum = 1;
  for (const w of words) {
    const own = says.startsWith(w) ? 8 : says.includes(` ${w}`) ? 6 : says.includes(w) ? 4 : rest.includes(w) ? 2 : w.length > 5 && rest.includes(w.slice(0, -2)) ? 1 : 0; // "straighten" finds "straight"
    if (!own) return 0;
    sum += own;
  }
  return sum + (says === words.join(" ") ? 10 : 0) - (e.why ? 0.5 : 0);
}

/** Opens it, with words to begin with. */
export function openPalette(words = ""): void {
  entries = collect();
  field().value = words;
  filter();
  dialog().showModal();
  field().select();
}

function filter(): void {
  const words = field().value.toLowerCase().split(/\s+/).filter(Boolean);
  const rated = entries.map((e, i) => ({ e, i, r: answers(e, words) })).filter((x) => x.r > 0);
  rated.sort((a, b) => b.r - a.r || Number(!!a.e.why) - Number(!!b.e.why) || a.i - b.i);
  found = rated.slice(0, most).map((x) => x.e);
  chosen = 0;
  draw();
}

const row = (e: Entry, i: number): Markup => html`<li id="palette-${i}" role="option" data-entry="${i}" aria-selected="${String(i === chosen)}" class="flex items-baseline gap-3 px-3 py-[3px] aria-selected:bg-pick ${e.why ? "text-soft" : ""}"><b class="flex-none font-head text-[15px] font-semibold">${e.says}</b><span class="soft min-w-0 flex-1 truncate text-[13px]">${e.why || e.what}</span><span class="soft flex-none text-[12px]">${e.where}</span>${e.key ? html`<kbd class="w-[64px] flex-none text-right">${e.key}</kbd>` : html`<span class="w-[64px] flex-none"></span>`}</li>`;

function draw(): void {
  show($("palette-list"), found.length ? html`${found.map(row)}` : html`<li class="soft px-3 py-2">Nothing is called that. Other words may find it.</li>`);
  field().setAttribute("aria-activedescendant", found.length ? `palette-${chosen}` : "");
  document.getElementById(`palette-${chosen}`)?.scrollIntoView({ block: "nearest" });
  $("palette-count").textContent = found.length === most ? "" : `${found.length} of ${entries.length}`;
}

function take(i: number): void {
  const e = found[i];
  if (!e) return;
  dialog().close();
  void attempt(e.act);
}

export function listenPalette(): void {
  const box = dialog();
  field().oninput = filter;
  box.addEventListener("keydown", (e) => {
    const step = { ArrowDown: 1, ArrowUp: -1, PageDown: 10, PageUp: -10 }[e.key];
    if (step && found.length) { e.preventDefault(); chosen = Math.max(0, Math.min(found.length - 1, chosen + step)); draw(); }
    if (e.key === "Enter") { e.preventDefault(); take(chosen); }
    if (e.key.toLowerCase() === "k" && (e.ctrlKey || e.metaKey)) { e.preventDefault(); box.close(); }
  });
  box.addEventListener("click", (e) => {
    const i = (e.target as HTMLElement).closest<HTMLElement>("[data-entry]")?.dataset.entry;
    if (i !== undefined) take(Number(i));
  });
  box.addEventListener("close", () => { if (document.activeElement === document.body || !document.activeElement) focusView(); });
}
