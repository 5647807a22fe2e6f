// The dialog in which it is chosen what is handed over, and what was.
import { Refused, ask } from "./doc";
import { reload, whenShown } from "./fragments";
import { $, attempt, doc } from "./state";
import { watch } from "./work";

const dialog = (): HTMLDialogElement => $<HTMLDialogElement>("deliver");

/** What is had by itself is of the shown map, in the size that is set. */
function point(): void {
  const size = document.querySelector<HTMLSelectElement>("#deliver-size")?.value;
  for (const a of dialog().querySelectorAll<HTMLAnchorElement>("a.bymap")) a.search = `?map=${doc.meta.map}${a.classList.contains("sized") ? `&size=${size}` : ""}`;
}

const checked = (name: string): string[] => [...dialog().querySelectorAll<HTMLInputElement>(`input[name=${name}]:checked`)].map((x) => x.value);

/** Has it made, shows how far that is, and fetches it. */
async function deliver(): Promise<void> {
  const items = checked("item"), maps = checked("map").map(Number);
  if (dialog().querySelector("input[name=map]") && !maps.length) throw new Refused("Choose a map.", 422);
  const order = { items, maps, size: Number($<HTMLSelectElement>("deliver-size").value), line: Number($<HTMLInputElement>("deliver-line").value) };
  const { work } = (await ask(doc.at("deliveries"), order).then((r) => r.json())) as { work: number };
  dialog().close();
  if (await watch(work)) location.assign(`/works/${work}/delivery`); // what comes is a file: the page stays
}

export function listenDeliver(): void {
  const box = dialog();
  $("deliver-open").onclick = () => { reload($("deliver-what")); box.showModal(); };
  whenShown("deliver-what", point);
  box.addEventListener("change", point);
  box.addEventListener("click", (e) => {
    if ((e.target as HTMLElement).id === "deliver-close") box.close();
  });
  box.addEventListener("submit", (e) => {
    e.preventDefault();
    const trouble = $("deliver-trouble");
    trouble.hidden = true;
    void attempt(() => deliver().catch((err: unknown) => {
      if (!box.open || !(err instanceof Refused)) throw err;
      trouble.textContent = err.message;
      trouble.hidden = false;
    }));
  });
}
