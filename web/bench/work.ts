// Long work in the queue, on the bench: how far it is, and the way to cancel it.
import { Refused, ask } from "./doc";
import { follow } from "./follow";
import { $, at, attempt, doc } from "./state";

/** Shows how far long work is until it is over, and tells whether it was done; throws what it failed of. */
export async function watch(work: number): Promise<boolean> {
  $("work").hidden = false;
  at.working = true;
  $("work-cancel").onclick = () => void attempt(() => ask(`/works/${work}/cancel`, {}));
  const w = await follow(work, (at, says) => {
    $<HTMLProgressElement>("work-bar").value = at.progress;
    $("work-text").textContent = says;
  });
  $("work").hidden = true;
  at.working = false;
  if (w.state === "failed") throw new Refused(`Not done: ${w.message}.`, 500, document.body.dataset.sealed ? doc.meta.map : 0);
  return w.state === "done";
}
