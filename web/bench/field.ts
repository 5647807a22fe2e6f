// What is measured of every face, as iso-lines in both views and as a list of the worst places.
import { ask, Refused } from "./doc";
import { html, show } from "./html";
import { $, at, attempt, body, doc, faceHidden, picks, views } from "./state";
import type { Show } from "./view/scene";
import type { Field, Isoline, Worst } from "../wire/wire";

/** What is shown that is measured of every face. */
export const measured: readonly Show[] = ["stretch", "area", "density", "grain", "exposure"];

let field: Field | null = null;
let asked = ""; // for what, of which revision

/** Brings lines and list in line with what is shown. */
export function showField(): void {
  const now = measured.includes(at.show) ? `${at.show} ${doc.meta.revision} ${doc.meta.map}` : "";
  if (now === asked) { list(); return; }
  asked = now;
  field = null;
  draw();
  list();
  if (now) void attempt(load);
}

async function load(): Promise<void> {
  const of = asked;
  let got: Field;
  try {
    got = (await ask(doc.at(`field?of=${at.show}`)).then((r) => r.json())) as Field;
  } catch (e) {
    if (e instanceof Refused && e.status === 404) return; // nobody has looked yet
    throw e;
  }
  if (of !== asked) return;
  field = got;
  draw();
  list();
}

/** Where the places of a line are, segment by segment: two places of each triangle it passes. */
function segments(l: Isoline, place: (corner: number) => readonly number[]): number[] {
  const out: number[] = [], end = (i: number): void => {
    const a = place(l.from[i]!), b = place(l.to[i]!), t = l.at[i]!;
    for (let k = 0; k < 3; k++) out.push((a[k] ?? 0) + t * ((b[k] ?? 0) - (a[k] ?? 0)));
  };
  const hidden = (i: number): boolean => faceHidden(doc.cornerFace[l.from[i]!]!);
  for (let i = 0; i + 1 < l.from.length; i += 2) if (!hidden(i)) { end(i); end(i + 1); }
  return out;
}

const uv = (c: number): number[] => [doc.layout.uv[2 * c]!, doc.layout.uv[2 * c + 1]!, 0];

/** Draws the iso-lines; those of the map that is shown only. */
export function draw(): void {
  const lines = field?.lines ?? [], look = { color: "#1F2A33", width: 1, opacity: 0.75 };
  const mapped = (l: Isoline): boolean => doc.layout.mapped[doc.cornerFace[l.from[0]!]!] === 1;
  views.piece.faces.setSegments("iso", new Float32Array(lines.flatMap((l) => segments(l, (c) => doc.point(c)))), look);
  views.sheet.faces.setSegments("iso", new Float32Array(lines.filter(mapped).flatMap((l) => segments(l, uv))), look);
  views.piece.touch();
  views.sheet.touch();
  body.dataset.isolines = String(lines.length);
}

/** Writes what iso-lines say beside their middles, where they are long enough to tell which is meant. */
export function drawValues(g: CanvasRenderingContext2D, screen: (u: number, v: number) => [number, number]): void {
  if (!field) return;
  g.save();
  g.font = "11px 'IBM Plex Mono', monospace";
  g.textAlign = "center";
  g.textBaseline = "middle";
  const taken: [number, number][] = [];
  for (const l of field.lines) {
    const points = l.at.map((t, i) => { const a = uv(l.from[i]!), b = uv(l.to[i]!); return screen(a[0]! + t * (b[0]! - a[0]!), a[1]! + t * (b[1]! - a[1]!)); });
    const long = points.reduce((n, p, i) => (i % 2 ? n + Math.hypot(p[0] - points[i - 1]![0], p[1] - points[i - 1]![1]) : n), 0);
    const [x, y] = points[points.length >> 1]!;
    if (long < 60 || taken.some(([a, b]) => Math.abs(a - x) < 44 && Math.abs(b - y) < 14)) continue;
    taken.push([x, y]);
    const w = g.measureText(l.says).width;
    g.fillStyle = "#FDFCF8CC";
    g.fillRect(x - w / 2 - 2, y - 7, w + 4, 14);
    g.fillStyle = "#1F2A33";
    g.fillText(l.says, x, y);
  }
  g.restore();
}

/** The worst places, below the legend. */
function list(): void {
  const el = document.getElementById("worst");
  if (!el) return;
  const worst = field?.worst ?? [];
  body.dataset.listed = field ? String(worst.length) : "";
  el.hidden = !worst.length;
  if (worst.length) show(el, html`<details><summary class="cursor-pointer font-body text-[13px]">${worst.length === 1 ? "the worst place" : `the ${worst.length} worst places`}</summary><ol class="mt-1 font-body text-[13px]/[1.5]">${worst.map((w, i) => html`<li><button class="flex w-full gap-3 text-left hover:bg-pick" data-worst="${i}"><b class="w-14 flex-none font-num text-[12px]/[1.65] font-normal">${w.says}</b><span class="min-w-0">${w.part}${w.places.length > 1 ? html` <span class="num">and ${w.places.length - 1} more</span>` : ""}</span></button></li>`)}</ol></details>`);
}

let last: Worst | null = null, turn = 0;

/** Leads to one of the worst places, on equal parts to the next of them: its faces are picked and seen in both views. */
function goTo(i: number): void {
  const w = field?.worst[i];
  if (!w) return;
  turn = w === last ? turn + 1 : 0;
  last = w;
  const faces = w.places[turn % w.places.length]!;
  picks.clear();
  picks.takeFaces(faces, "instead");
  views.piece.lookAt(faces);
  views.sheet.zoomTo(faces.flatMap((f) => doc.corners(f)));
}

export function listenField(): void {
  $("legend").addEventListener("click", (e) => {
    const i = (e.target as HTMLElement).closest<HTMLElement>("[data-worst]")?.dataset.worst;
    if (i !== undefined) goTo(Number(i));
  });
}
