// Finding a verb or a key in the help, on its page and over the bench.

/** Shows the rows that say all words, and what stands over them. */
function find(words: string[]): number {
  const says = (el: Element): boolean => words.every((w) => el.textContent!.toLowerCase().includes(w));
  let n = 0;
  for (const set of document.querySelectorAll<HTMLElement>("[data-helpset]")) {
    for (const row of set.querySelectorAll<HTMLElement>("[data-help]")) { row.hidden = !says(row); if (!row.hidden) n++; }
    for (const g of set.querySelectorAll<HTMLElement>("[data-helpgroup]")) g.hidden = !g.querySelector("[data-help]:not([hidden])");
    set.hidden = !set.querySelector("[data-help]:not([hidden])");
  }
  return n;
}

export function listenHelp(): void {
  document.addEventListener("input", (e) => {
    const t = e.target as HTMLInputElement;
    if (t.id !== "help-words") return;
    const words = t.value.toLowerCase().split(/\s+/).filter(Boolean), n = find(words);
    document.getElementById("help-count")!.textContent = words.length ? (n ? `${n} found` : "nothing is called that; other words may find it") : "";
  });
}
