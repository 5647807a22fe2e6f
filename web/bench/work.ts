// Long work in the queue: how far it is, and the way to cancel it.
import { Refused, ask } from "./doc";
import { $, attempt } from "./state";

/** Shows how far long work is until it is over; throws what it failed of. */
export function watch(work: number): Promise<void> {
  $("work").hidden = false;
  const events = new EventSource(`/works/${work}/events`);
  $("work-cancel").onclick = () => void attempt(() => ask(`/works/${work}/cancel`, {}));
  return new Promise((over, failed) => {
    events.onmessage = (m) => {
      const w = JSON.parse(m.data as string) as { state: string; station: string; progress: number; message: string };
      $<HTMLProgressElement>("work-bar").value = w.progress;
      $("work-text").textContent = w.state === "waiting" ? "waiting for a worker" : w.station || "starting";
      if (w.state === "waiting" || w.state === "running") return;
      events.close();
      $("work").hidden = true;
      if (w.state === "failed") failed(new Refused(`Not done: ${w.message}.`, 500)); else over();
    };
  });
}
