// The pages of the projects: models are brought in, sent, then read in the queue, with progress and
// cancel all the way, and what was wrong; and they are searched.
import { follow } from "../bench/follow";

const form = document.querySelector<HTMLFormElement>("#upload")!;
const input = document.querySelector<HTMLInputElement>("#model")!;
const choose = document.querySelector<HTMLElement>("#choose")!;
const state = document.querySelector<HTMLElement>("#upload-state")!;
const bar = document.querySelector<HTMLProgressElement>("#upload-bar")!;
const stop = document.querySelector<HTMLButtonElement>("#upload-stop")!;
const trouble = document.querySelector<HTMLElement>("#upload-error")!;
const limit = 512 * 2 ** 20;

function idle(): void {
  bar.hidden = stop.hidden = true;
  choose.hidden = false;
  state.textContent = "or drop one here";
  input.value = "";
}

function complain(text: string): void {
  trouble.textContent = text;
  trouble.hidden = false;
  idle();
}

const post = (url: string): Promise<Response> => fetch(url, { method: "POST" });
const forget = (upload: number): Promise<unknown> => post(`/uploads/${upload}/forget`).catch(() => undefined);

/** Sends a file and follows it until it is read. */
function send(file: File): void {
  trouble.hidden = true;
  if (file.size > limit) { complain(`${file.name} is larger than 512 MB; split the model or bring in fewer objects at a time.`); return; }
  const body = new FormData();
  body.append("model", file);
  const x = new XMLHttpRequest();
  const into = document.querySelector<HTMLInputElement | HTMLSelectElement>("#into")?.value;
  x.open("POST", `/documents${into ? `?project=${into}` : ""}`);
  x.setRequestHeader("Accept", "application/json");
  x.upload.onprogress = (e) => { if (e.lengthComputable) bar.value = e.loaded / e.total; state.textContent = e.loaded < e.total ? `sending ${file.name}` : `storing ${file.name}`; };
  x.onload = () => {
    let answer: { upload?: number; work?: number; error?: string } = {};
    try { answer = JSON.parse(x.responseText) as typeof answer; } catch { /* not JSON: the generic sentence below */ }
    if (x.status === 202 && answer.upload && answer.work) void read(file.name, answer.upload, answer.work);
    else complain(answer.error ?? "The server could not take this file; try again.");
  };
  x.onerror = () => complain("The server does not answer; try again in a moment.");
  x.onabort = () => complain("Cancelled; nothing was stored.");
  stop.onclick = () => x.abort();
  bar.hidden = stop.hidden = false;
  choose.hidden = true;
  bar.value = 0;
  x.send(body);
}

async function read(name: string, upload: number, work: number): Promise<void> {
  stop.onclick = () => void post(`/works/${work}/cancel`);
  const w = await follow(work, (at, says) => { bar.value = at.progress; state.textContent = `${name}: ${says}`; });
  if (w.state === "done") { location.assign(`/uploads/${upload}`); return; }
  await forget(upload);
  complain(w.state === "failed" ? `${name}: ${w.message}` : "Cancelled; nothing was stored.");
}

/** Files that were sent before this page was loaded. */
for (const row of document.querySelectorAll<HTMLElement>("[data-upload]")) {
  const upload = Number(row.dataset.upload), work = Number(row.dataset.work), says = row.querySelector<HTMLElement>("[data-says]");
  const buttons = { cancel: row.querySelector<HTMLButtonElement>("[data-do=cancel]"), forget: row.querySelector<HTMLButtonElement>("[data-do=forget]") };
  if (buttons.forget) buttons.forget.onclick = () => void forget(upload).then(() => row.remove());
  if (!buttons.cancel) continue;
  buttons.cancel.onclick = () => void post(`/works/${work}/cancel`);
  void follow(work, (at, text) => { row.querySelector("progress")!.value = at.progress; if (says) says.textContent = text; }).then(() => location.reload());
}

input.addEventListener("change", () => { const f = input.files?.[0]; if (f) send(f); });
for (const kind of ["dragover", "dragleave", "drop"] as const) {
  document.addEventListener(kind, (e) => {
    e.preventDefault();
    form.classList.toggle("over", kind === "dragover");
    const f = kind === "drop" ? e.dataTransfer?.files[0] : undefined;
    if (f) send(f);
  });
}
/** Shows what has all the words that were typed. */
function search(words: string[]): void {
  const like = (el: HTMLElement, also = ""): boolean => words.every((w) => `${el.dataset.words} ${also}`.includes(w));
  let found = 0;
  for (const p of document.querySelectorAll<HTMLElement>(".project")) {
    let here = 0;
    for (const d of p.querySelectorAll<HTMLElement>("[data-words]")) { d.hidden = !like(d, p.dataset.words); here += d.hidden ? 0 : 1; }
    p.hidden = !here && !like(p);
    found += p.hidden ? 0 : 1;
    for (const away of p.querySelectorAll<HTMLDetailsElement>(".away")) away.open = words.length > 0 && away.querySelector("[data-words]:not([hidden])") !== null;
  }
  document.querySelector<HTMLElement>("#none")!.hidden = found > 0 || !words.length;
}

const box = document.querySelector<HTMLInputElement>("#search")!;
box.addEventListener("input", () => search(box.value.toLowerCase().split(/\s+/).filter(Boolean)));
box.addEventListener("keydown", (e) => { if (e.key === "Enter") document.querySelector<HTMLAnchorElement>(".project:not([hidden]) .model:not([hidden]) > a")?.click(); });
document.addEventListener("keydown", (e) => { if (e.key === "/" && document.activeElement === document.body) { e.preventDefault(); box.focus(); } });

/** How far a model is that was changed since this was last looked at: one after the other, when they come into view. */
const seen = new IntersectionObserver((all) => {
  for (const { target, isIntersecting } of all) {
    if (!isIntersecting) continue;
    seen.unobserve(target);
    const id = target.closest<HTMLElement>(".model")!.dataset.id!;
    void fetch(`/documents/${id}/state`, { headers: { "HX-Request": "true" } }).then(async (r) => { if (r.ok) target.replaceChildren(document.createRange().createContextualFragment(await r.text())); }).catch(() => undefined);
  }
});
for (const el of document.querySelectorAll("[data-stale]")) seen.observe(el);
idle();
