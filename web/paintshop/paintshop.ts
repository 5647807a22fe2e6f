// The paint shop: paints a sheet as it is chosen and shows the picture.
const form = document.querySelector<HTMLFormElement>("#recipe");
const $ = <T extends HTMLElement>(id: string): T => document.getElementById(id) as T;

async function paint(sheet: string): Promise<void> {
  const looks: Record<string, string> = {};
  for (const s of document.querySelectorAll<HTMLSelectElement>("select[data-material]")) looks[s.dataset.material!] = s.value;
  const stop = new AbortController(), trouble = $("trouble"), button = form!.querySelector<HTMLButtonElement>(".act")!;
  trouble.hidden = true;
  button.disabled = true;
  $("stop").hidden = false;
  $("stop").onclick = () => stop.abort();
  $("state").textContent = "painting";
  try {
    const res = await fetch(`/paintshop/${sheet}/paint`, { method: "POST", headers: { "Content-Type": "application/json" }, signal: stop.signal, body: JSON.stringify({ Looks: looks, Wear: Number($<HTMLInputElement>("wear").value), Letter: $<HTMLInputElement>("letter").checked }) });
    if (!res.ok) throw new Error(((await res.json()) as { error?: string }).error ?? `The server answered ${res.status}.`);
    const canvas = $<HTMLImageElement>("canvas");
    canvas.src = `/paintshop/${sheet}/painted?v=${Date.now()}`;
    canvas.alt = "The painted sheet";
    await canvas.decode();
    $("state").textContent = "painted";
    $("fetch").hidden = false;
  } catch (e) {
    $("state").textContent = "";
    trouble.textContent = stop.signal.aborted ? "Cancelled; the picture is as it was." : (e as Error).message;
    trouble.hidden = false;
  }
  button.disabled = false;
  $("stop").hidden = true;
}

if (form) form.onsubmit = (e) => { e.preventDefault(); void paint(form.dataset.sheet!); };
export {};
