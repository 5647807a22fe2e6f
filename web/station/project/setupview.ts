// The tray of the Project station: kinds with their cost, fields, two small pictures.
import { facesOf } from "../../bench/chosen";
import { flagLines } from "../../bench/view/flag";
import type { Jig, Option, Projection, Vec } from "../../bench/doc";
import { html, nothing, show } from "../../bench/html";
import { outlinePath } from "../../bench/outline";
import { opens } from "./setup";
import { lengthText, times } from "../../bench/units";
import { $, at, doc, picks, setup, trouble, views } from "../../bench/state";

const field = (id: string): HTMLInputElement | null => document.getElementById(id) as HTMLInputElement | null;
export const round = (x: number): string => String(Number(x.toPrecision(4)));

/** The faces that a projection is set up for: the picked ones, else those of the part. */
export function setupFaces(): number[] {
  if (picks.faces.size) return [...picks.faces].sort((a, b) => a - b);
  return at.part >= 0 ? facesOf(at.part) : [];
}

/** Starts over with what is chosen or picked now. */
export async function startSetup(): Promise<void> {
  const lead = document.getElementById("setup-lead");
  if (!lead) return;
  const faces = setupFaces();
  if (faces.length) lead.textContent = "Trying each kind…";
  try {
    await Promise.all([setup.load(faces), setup.loadJigs()]);
    showJigs();
    if (setup.current) show(lead, setup.lead());
  } catch (e) { trouble(e); }
}

export const jigChosen = (): Jig | undefined => setup.jigs.find((j) => String(j.id) === field("set-jig")?.value);

/** Lists the jigs, one of them chosen. */
export function showJigs(chosen = jigChosen()?.id): void {
  const sel = field("set-jig") as unknown as HTMLSelectElement | null;
  if (!sel) return;
  sel.replaceChildren();
  for (const j of setup.jigs) sel.append(new choice(j.name, String(j.id)));
  if (!setup.jigs.length) sel.append(new choice("none kept yet", ""));
  else if (chosen !== undefined) sel.value = String(chosen);
  $("jig-change").hidden = !setup.jigs.length;
  for (const b of document.querySelectorAll<HTMLButtonElement>("#jig-lay, #jig-drop, [data-do=jig-tiling]")) b.disabled = !setup.jigs.length;
  sayJig();
}

/** Says what the chosen jig is, at its size. */
export function sayJig(): void {
  const el = document.getElementById("jig-size"), jig = jigChosen(), p = jig?.projection;
  if (jig && p) for (const [id, v] of [["set-jigsname", jig.name], ["set-jigwidth", round(p.width)], ["set-jigheight", round(p.height)]] as const) field(id)!.value = v;
  if (el) el.textContent = p ? `${p.kind}, ${lengthText(p.width, doc.meta.unit)} × ${lengthText(p.height, doc.meta.unit)} a sheet` : "";
}
const choice = window.Option;

/** How many kinds are offered at first, the best ones. */
const fewKinds = 4;

const price = (o: Option): string => (o.why ? "–" : times(o.angular));
const flaws = (o: Option): string => (o.why ? o.why : [o.flips ? `${o.flips} triangles turned over` : "", o.away ? `${o.away} faces doubled` : o.overlaps ? "lands on itself" : "", o.shells > 1 ? `${o.shells} shells` : ""].filter((w) => w).join(", "));

/** Brings the tray, the frame in space and the flag in line with the parameters. */
export function showSetup(): void {
  const kinds = document.getElementById("setup-kinds");
  const c = setup.current;
  if (kinds) {
    const some = setup.options.filter((o, i) => setup.more || i < fewKinds || o.kind === c?.kind), rest = setup.options.length - some.length;
    show(kinds, html`${some.map((o) => html`<button class="chip" data-kind="${o.kind}" aria-pressed="${String(o.kind === c?.kind)}" title="${flaws(o) || "in order"}" ?disabled="${!!o.why}">${o.kind} <span class="num${o.flips || o.away || o.overlaps ? " warn" : ""}">${price(o)}</span></button>`)}${rest ? html`<button class="chip" data-do="more-kinds">${rest} more …</button>` : nothing}`);
    $("setup-fields").hidden = !c;
    for (const [id, there] of [["setup-take", setup.ghost], ["setup-leave", setup.ghost], ["setup-adjust", c]] as const) $(id).hidden = !there;
    if (c) showFields(c);
    showPictures();
  }
  drawFrame();
  views.sheet.touch();
  document.body.dataset.setup = setup.ghost ? "ghost" : c ? c.kind : "";
}

function put(id: string, v: string): void {
  const el = field(id);
  if (el && document.activeElement !== el) el.value = v;
}

function showFields(c: Projection): void {
  $("setup-turn-name").textContent = opens(c.kind) ? "opens at" : "turn";
  put("set-turn", round(c.turn_deg));
  put("set-width", round(c.width));
  put("set-height", round(c.height));
  for (const [id, v] of [["set-cx", c.origin.X], ["set-cy", c.origin.Y], ["set-cz", c.origin.Z]] as const) put(id, round(v));
  put("set-upward", upName(c.up));
  field("set-turn")!.disabled = !opens(c.kind) && c.kind !== "planar" && c.kind !== "box";
  $("setup-lock").setAttribute("aria-pressed", String(!c.free));
  $("setup-lock").textContent = c.free ? "free" : "locked";
  $("setup-flip").setAttribute("aria-pressed", String(!!c.flip));
  const apart = $("setup-apart");
  apart.hidden = c.kind !== "planar";
  apart.setAttribute("aria-pressed", String(!!c.apart));
}

export const ups: Record<string, Vec> = { x: { X: 1, Y: 0, Z: 0 }, y: { X: 0, Y: 1, Z: 0 }, z: { X: 0, Y: 0, Z: 1 }, "-x": { X: -1, Y: 0, Z: 0 }, "-y": { X: 0, Y: -1, Z: 0 }, "-z": { X: 0, Y: 0, Z: -1 } };
const upName = (v: Vec): string => Object.keys(ups).find((k) => ups[k]!.X === v.X && ups[k]!.Y === v.Y && ups[k]!.Z === v.Z) ?? "y";

/** The chosen kind beside the best other one. */
function showPictures(): void {
  const pair = [setup.chosen, setup.other].filter((o): o is Option => !!o);
  show($("compare"), html`${pair.map((o) => {
    const bad = flaws(o);
    return html`<figure class="min-w-0"><svg class="block h-[78px] w-full border border-rule text-ink" viewBox="0 0 80 80" width="80" height="80" role="img" aria-label="${o.kind}, laid flat"><path d="${outlinePath(o.outline, 80, 4)}" fill="none" stroke="currentColor" stroke-width="0.9"/></svg><figcaption class="grid font-head text-[12px]/[1.15] font-medium [&_.num]:text-[11px]"><b>${o.kind}</b><span class="num">L² ${o.l2.toFixed(3)}</span><span class="num">angular ${o.angular.toFixed(3)}</span>${bad ? html`<span class="${o.flips || o.away || o.overlaps ? "warn" : "soft"}">${bad}</span>` : nothing}</figcaption></figure>`;
  })}`);
}

/** The frame of what is set up, in place of the fitted shape, and the flag of the part. */
export function drawFrame(): void {
  const here = at.station === "Project";
  views.piece.faces.setSegments("frame", new Float32Array(here ? views.frame.lines() : []), { color: "#A87B1E", width: 2, order: 6, through: true });
  drawFlag();
  views.piece.touch();
}

/** Up and hand of the map of the chosen part, or of what would become of it. */
export function drawFlag(): void {
  const moved = new Map<number, [number, number]>();
  if (at.station === "Project" && setup.ghost) (setup.ghost.corners ?? []).forEach((c, i) => moved.set(c, [setup.ghost!.uv![2 * i]!, setup.ghost!.uv![2 * i + 1]!]));
  const uv = doc.layout.uv;
  const shown = (at.station === "Project" || at.station === "Flow") && at.show !== "cloth" && at.part >= 0 && !at.hidden.has(at.part);
  const lines = shown ? flagLines(doc, at.part, views.piece.toEye, (c) => moved.get(c) ?? [uv[2 * c]!, uv[2 * c + 1]!]) : [];
  views.piece.faces.setSegments("flagback", new Float32Array(lines), { color: "#FDFCF8", width: 6, order: 7 });
  views.piece.faces.setSegments("flag", new Float32Array(lines), { color: "#1F2A33", width: 2.4, order: 8 });
}
