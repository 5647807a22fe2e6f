// Bringing in a model on the projects page: progress, cancel, and what was wrong.
const form = document.querySelector<HTMLFormElement>("#upload")!;
const input = document.querySelector<HTMLInputElement>("#model")!;
const state = document.querySelector<HTMLElement>("#upload-state")!;
const bar = document.querySelector<HTMLProgressElement>("#upload-bar")!;
const stop = document.querySelector<HTMLButtonElement>("#upload-stop")!;
const trouble = document.querySelector<HTMLElement>("#upload-error")!;
const limit = 512 * 2 ** 20;

function complain(text: string): void {
  trouble.textContent = text;
  trouble.hidden = false;
  bar.hidden = stop.hidden = true;
  state.textContent = "or drop one here";
  input.value = "";
}

function send(file: File): void {
  trouble.hidden = true;
  if (file.size > limit) { complain(`${file.name} is larger than 512 MB; split the model or bring in fewer objects at a time.`); return; }
  const body = new FormData();
  body.append("model", file);
  const x = new XMLHttpRequest();
  x.open("POST", "/documents");
  x.setRequestHeader("Accept", "application/json");
  x.upload.onprogress = (e) => { if (e.lengthComputable) bar.value = e.loaded / e.total; state.textContent = e.loaded < e.total ? `sending ${file.name}` : `reading ${file.name}`; };
  x.onload = () => {
    let answer: { arrival?: string; error?: string } = {};
    try { answer = JSON.parse(x.responseText) as typeof answer; } catch { /* not JSON: the generic sentence below */ }
    if (x.status === 201 && answer.arrival) location.assign(answer.arrival);
    else complain(answer.error ?? "The server could not read this file; try again.");
  };
  x.onerror = () => complain("The server does not answer; try again in a moment.");
  x.onabort = () => complain("Cancelled; nothing was stored.");
  stop.onclick = () => x.abort();
  bar.hidden = stop.hidden = false;
  bar.value = 0;
  x.send(body);
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
export {};
