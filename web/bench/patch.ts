// What is known of a revision is patched to the next one; web/wire/patch.go writes patches,
// and its test applies them in the same way.
import type { LayoutBlock } from "./blocks";
import type { Meta, Patch, Part, Shell } from "../wire/wire";

/** Changes the layout in place; brief tells the rest of the new revision. */
export function take(layout: LayoutBlock, known: Meta, brief: Meta, p: Patch): Meta {
  for (let i = 0; i < p.face_parts.length; i += 2) layout.facePart[p.face_parts[i]!] = p.face_parts[i + 1]!;
  p.corners.forEach((c, i) => { layout.uv[2 * c] = p.uv[2 * i]!; layout.uv[2 * c + 1] = p.uv[2 * i + 1]!; });
  for (const f of p.mapped) layout.mapped[f]! ^= 1;
  for (const e of p.cut) layout.cut[e]! ^= 1;
  const parts: Part[] = known.parts.slice(0, p.part_count);
  for (const c of p.parts) parts[c.part] = c.as;
  const shells = takeShells(layout.faceShell, known.shells, p);
  const findings: number[][] = [];
  let fresh = 0;
  for (const [from, n] of p.finding_runs) {
    if (from < 0) findings.push(p.fresh_findings[fresh++]!); else findings.push(...known.findings.slice(from, from + n));
  }
  p.faces.forEach((f, i) => {
    layout.stretch[f] = p.stretch[i]!;
    layout.angular[f] = p.angular[i]!;
    layout.grain[f] = p.grain[i]!;
    for (let k = 0; k < 3; k++) layout.wish[3 * f + k] = p.wish[3 * i + k]!;
  });
  return { ...brief, parts, shells, findings };
}

function takeShells(faceShell: Int32Array, known: Shell[], p: Patch): Shell[] {
  const shells: Shell[] = [], was = new Int32Array(known.length).fill(-1), fresh = new Map<number, number>();
  let next = 0;
  const put = (at: number): void => {
    for (; p.fresh[next]?.at === at; next++) {
      for (const f of p.fresh[next]!.faces) fresh.set(f, shells.length);
      shells.push(p.fresh[next]!.as);
    }
  };
  put(0);
  p.shell_runs.forEach(([from, n], i) => {
    for (let k = from; k < from + n; k++) { was[k] = shells.length; shells.push(known[k]!); }
    put(i + 1);
  });
  for (let f = 0; f < faceShell.length; f++) faceShell[f] = fresh.get(f) ?? (faceShell[f]! >= 0 ? was[faceShell[f]!]! : -1);
  return shells;
}
