// What an edit would give, in figures: what was, and what would be.
import type { Ghost } from "./doc";
import { html, type Markup } from "./html";
import { times } from "./units";

/** What was and what would be; a unit they share is said once. */
function change(x: string, y: string): Markup {
  if (x === y) return html`<b>${x}</b>`;
  const unit = / \S+$/.exec(x)?.[0];
  return html`${unit && y.endsWith(unit) ? x.slice(0, -unit.length) : x} → <b>${y}</b>`;
}

/** What other seams give. */
function seamFigures({ before: a, after: b }: Ghost): Markup {
  return html`${change(String(a!.shells), String(b!.shells))} shells · ${change(a!.seam, b!.seam)} seam · ${change(a!.exposed, b!.exposed)} in view · worst ${change(times(a!.worst, 2), times(b!.worst, 2))}`;
}

/** What another packing gives. */
function sheetFigures({ before: a, after: b }: Ghost): Markup {
  return html`fill ${change(a!.fill, b!.fill)} · ${change(a!.density, b!.density)} · least gap ${change(a!.least_gap, b!.least_gap)}, border ${change(a!.least_rim, b!.least_rim)}`;
}

/** What another reading gives. */
function partFigures(g: Ghost): Markup {
  const { was, will, united, split } = g.parts!;
  const what = [united ? `${united} united` : "", split ? `${split} taken apart` : ""].filter(Boolean).join(", ");
  return html`${change(String(was), String(will))} parts${what ? `: ${what}` : ", all as they are"}`;
}

/** What the stretch of the shells becomes. */
function stretchFigures({ stretch: s, uv }: Ghost): Markup {
  const racked = uv?.some((v, i) => i % 2 === 1 && v < 0), was = s!.was.shells > 0;
  return html`stretch ${was ? change(times(s!.was.angular), times(s!.will.angular)) : html`<b>${times(s!.will.angular)}</b>`} · L² ${was ? change(s!.was.l2.toFixed(4), s!.will.l2.toFixed(4)) : html`<b>${s!.will.l2.toFixed(4)}</b>`}${racked ? (was ? " · waits on the rack: no room for it where it lay" : " · waits on the rack") : ""}`;
}

/** What speaks most of what an edit would give. */
export function figures(kind: string, g: Ghost): Markup {
  if (g.parts) return partFigures(g);
  if (g.before && g.after) return kind === "dial" ? seamFigures(g) : sheetFigures(g);
  if (g.stretch) return stretchFigures(g);
  const n = new Set(g.faces ?? []).size;
  return n || g.opened?.length || g.closed?.length ? html`${n ? html`<b>${n}</b> faces move` : "seams change, nothing moves"}` : html`Nothing would change.`;
}
