// How far long work in the queue is.

export interface Work { id: number; state: "waiting" | "running" | "done" | "failed" | "cancelled"; station: string; progress: number; message: string }

/** Tells how far a work is until it is over, and how it ended: one that nobody knows any more was cancelled. */
export function follow(work: number, heard: (w: Work, says: string) => void): Promise<Work> {
  const events = new EventSource(`/works/${work}/events`);
  let last: Work = { id: work, state: "waiting", station: "", progress: 0, message: "" };
  return new Promise((over) => {
    const end = (w: Work): void => { events.close(); over(w); };
    events.onmessage = (m) => {
      last = JSON.parse(m.data as string) as Work;
      if (last.state !== "waiting" && last.state !== "running") { end(last); return; }
      heard(last, last.state === "waiting" ? "waiting for a worker" : last.station || "starting");
    };
    events.onerror = () => { if (events.readyState === EventSource.CLOSED) end({ ...last, state: "cancelled" }); };
  });
}
