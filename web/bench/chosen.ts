// What verbs are about: what is chosen and picked, or a sentence that it is missing.
import { Refused } from "./doc";
import { kind } from "./kinds";
import { $, at, doc, picks, points, shells } from "./state";

const missing = (what: string): never => { throw new Refused(what, 422); };

/** What a field of the tray says; where the tray has none, what is usual. */
export const value = (id: string, usual = 0): number => Number((document.getElementById(id) as HTMLInputElement | null)?.value ?? usual);
export const chosenIn = (id: string): string => (document.getElementById(id) as HTMLSelectElement | null)?.value ?? "";
export const written = (id: string): string => $<HTMLInputElement>(id).value.trim();

export const chosenPart = (): number => (at.part >= 0 ? at.part : missing("Choose a part first: click it on the card or on the model."));

/** The chosen part, for verbs that take one only. */
export const onePart = (): number => (at.parts.size > 1 ? missing(`This takes one part, and ${at.parts.size} are chosen; let the others go with Shift on the card.`) : chosenPart());

/** The chosen parts, one at least. */
export const someParts = (): number[] => (at.parts.size ? [...at.parts] : [chosenPart()]);

export const facePick = (): number[] =>
  picks.faces.size ? [...picks.faces].sort((a, b) => a - b) : missing(`Pick faces first: ${kind() === "faces" ? "" : "press B until faces are picked, then "}click one on the model, Shift adds, a double click takes the whole part.`);

export const shellFace = (): number => {
  if (at.parts.size > 1) onePart();
  return at.face >= 0 ? at.face : missing("Pick a shell or a part first.");
};

export const shellFaces = (): number[] => {
  const faces = shellsMeant();
  return faces.length ? faces : missing("Choose a shell or a part first: click it on the sheet, on the model or on the card.");
};

export const pickedEdges = (): number[] => (picks.edges.size ? [...picks.edges] : missing("Pick edges first: click one on the model or the sheet, double click for its loop."));

export const pickedPoints = (): number[] => (points.picked.size ? [...points.picked].sort((a, b) => a - b) : missing("Pick points first: click one on the sheet or on the model, Shift adds."));

/** Picked faces where there are several: one alone is a click on its part. */
export const severalFaces = (): number[] => (kind() === "faces" && picks.faces.size > 1 ? [...picks.faces] : []);

/** The faces of what is meant where that is more than a click on one of them: picked ones, else those of the chosen parts. */
function facesMeant(): number[] {
  const { parts } = at, out = at.whole ? [] : severalFaces();
  if (out.length) return out;
  if (at.whole || parts.size > 1) doc.layout.facePart.forEach((p, f) => { if (parts.has(p)) out.push(f); });
  return out;
}

/** A face of each shell that is meant: those chosen at the Sheet station, else those of picked faces, of the parts chosen on the card, or the clicked one. */
export function shellsMeant(): number[] {
  if (at.station === "Sheet") return shells.seeds();
  const first = new Map<number, number>();
  for (const f of facesMeant()) { const s = doc.layout.faceShell[f]!; if (s >= 0 && !first.has(s)) first.set(s, f); }
  return first.size ? [...first.values()] : at.face >= 0 ? [at.face] : [];
}

/** A face of each piece that is meant, mapped or not. */
function piecesMeant(): number[] {
  const bare = new Set(facesMeant().filter((f) => doc.layout.faceShell[f]! < 0)), out = shellsMeant().filter((f) => doc.layout.faceShell[f]! >= 0);
  if (!bare.size) return out.length ? out : shellFaces();
  const of = new Map([...bare].map((f) => [f, f]));
  const root = (f: number): number => { while (of.get(f)! !== f) { of.set(f, of.get(of.get(f)!)!); f = of.get(f)!; } return f; };
  doc.layout.cut.forEach((cut, e) => {
    const [a, b] = [doc.edgeFaces[2 * e]!, doc.edgeFaces[2 * e + 1]!];
    if (!cut && bare.has(a) && bare.has(b)) of.set(root(a), root(b));
  });
  return [...out, ...new Set([...bare].map(root))];
}

/** An edit of picked faces, which are let go afterwards. */
export async function done(edit: Promise<void>): Promise<void> {
  await edit;
  picks.takeFaces([], "instead");
}

/** What flattening the chosen shell means with what the tray says. */
export function flattening(): Record<string, unknown> {
  const method = chosenIn("set-method");
  return { faces: piecesMeant(), ...(method ? { method } : {}) };
}

/** The faces of a part. */
export function facesOf(part: number): number[] {
  const out: number[] = [];
  doc.layout.facePart.forEach((p, f) => { if (p === part) out.push(f); });
  return out;
}
