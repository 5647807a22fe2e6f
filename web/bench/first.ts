// The first job: what to do next, which goes on by itself once it was done.
import { ask } from "./doc";
import { html, show } from "./html";
import { $, at, doc } from "./state";
import { effect, store } from "./store";

interface Step { name: string; title: string; text: string }

const kept = "firstjob"; // how many steps are done; "left" where nobody wants to see it
const go = store({ steps: [] as Step[], at: -1, head: 0, delivered: false });

/** Whether a step is done, and where on the page it is done. */
const known: Record<string, { done: () => boolean; where: string }> = {
  look: { done: () => at.part >= 0, where: "#card" },
  run: { done: () => doc.meta.head >= 3 && doc.meta.coverage > 0.4, where: '#fitting [data-do="run"]' },
  cloth: { done: () => at.show === "cloth", where: '[data-show="cloth"]' },
  seam: { done: () => at.station === "Seams" && doc.meta.head > go.head, where: 'thead [data-station="Seams"]' },
  flow: { done: () => at.station === "Flow" && doc.meta.head > go.head, where: 'thead [data-station="Flow"]' },
  sheet: { done: () => at.station === "Sheet" && doc.meta.head > go.head, where: 'thead [data-station="Sheet"]' },
  proof: { done: () => at.station === "Proof" && (at.finding >= 0 || !doc.meta.findings.length), where: 'thead [data-station="Proof"]' },
  deliver: { done: () => go.delivered, where: "#deliver-open" },
};

/** Goes to a step; past the last it is done. */
function to(step: number): void {
  go.head = doc.meta.head;
  go.at = step;
  localStorage.setItem(kept, String(step));
}

function draw(): void {
  const step = go.steps[go.at], el = $("first");
  for (const h of document.querySelectorAll(".hint")) h.classList.remove("hint");
  el.hidden = go.at < 0;
  if (go.at < 0) return;
  if (!step) {
    show(el, html`<h2>That was a whole job</h2><p class="mt-1">Every verb is found with <kbd>Ctrl+K</kbd>, every key with <kbd>?</kbd>. Your own model is brought in on the page of the projects.</p><p class="mt-2 flex gap-2"><a class="button" href="/projects">Bring in a model</a><button class="button quiet" data-first="leave">Close</button></p>`);
    return;
  }
  document.querySelector(known[step.name]!.where)?.classList.add("hint");
  show(el, html`<p class="soft text-[13px]">First job, ${go.at + 1} of ${go.steps.length}</p><h2>${step.title}</h2><p class="mt-1">${step.text}</p><p class="mt-2 flex gap-2">${go.at > 0 ? html`<button class="button quiet" data-first="back">Back</button>` : ""}<button class="button quiet" data-first="on">Skip</button><button class="button quiet ml-auto" data-first="leave">Leave</button></p>`);
}

/** Opens the first job where it was left. */
export async function openFirst(): Promise<void> {
  go.steps = (await ask("/help/first").then((r) => r.json())) as Step[];
  const was = Number(localStorage.getItem(kept));
  to(was > 0 && was < go.steps.length ? was : 0);
  $("first-open").hidden = true;
}

export function listenFirst(): void {
  const was = localStorage.getItem(kept);
  $("first-open").hidden = was !== null && was !== "0";
  $("first").addEventListener("click", (e) => {
    const what = (e.target as HTMLElement).closest<HTMLElement>("[data-first]")?.dataset.first;
    if (what === "leave") { go.at = -1; localStorage.setItem(kept, "left"); }
    if (what === "on") to(go.at + 1);
    if (what === "back") to(go.at - 1);
  });
  $("deliver-open").addEventListener("click", () => { go.delivered = true; });
  effect(draw);
  effect(() => {
    const step = go.steps[go.at];
    void doc.meta;
    if (step && known[step.name]!.done()) to(go.at + 1);
  });
  if (was && Number(was) > 0) void openFirst(); // it goes on where the page was left
}
