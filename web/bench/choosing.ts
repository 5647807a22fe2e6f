// Choosing at every station: all, others, rings, what is alike, sets under names.
import { facePick, pickedEdges, value, written, shellsMeant } from "./chosen";
import { Refused } from "./doc";
import { kind, pickKind } from "./kinds";
import { $, at, doc, faceHidden, picks, points, shells } from "./state";
import { chooseShells } from "../station/sheet/choose";
import type { Like } from "../station/sheet/shells";
import type { Images } from "./blocks";
import type { Does } from "./station";

type FaceVerb = "crease" | "facing" | "material" | "size" | "shape" | "part" | "repeats" | "unmapped" | "grow" | "shrink";

/** Picks faces by what is picked, or by what they are. */
export async function facesBy(verb: FaceVerb, angle = 30): Promise<void> {
  const from = verb === "unmapped" ? [] : facePick();
  picks.takeFaces(await doc.pickFaces(verb, from, angle), "instead");
}

async function edgesBy(verb: "grow" | "shrink" | "repeats"): Promise<void> {
  const { edges } = await doc.pickEdges(verb, { edges: pickedEdges() });
  picks.take(edges, "instead", verb === "repeats" ? "on all repeats" : "");
}

const shellsBy = (like: Like): void => chooseShells(shells.like(like), "instead");

/** Faces, edges or points that are in view: those of parts that are set aside are not. */
const inView = (face: number): boolean => face >= 0 && !faceHidden(face);

function allFaces(): number[] { return [...doc.layout.facePart.keys()].filter(inView); }
function allEdges(): number[] { return [...doc.layout.cut.keys()].filter((e) => inView(doc.edgeFaces[2 * e]!) || inView(doc.edgeFaces[2 * e + 1]!)); }

/** A corner of each point of the shells that are meant, or of all. */
function allPoints(): number[] {
  const meant = new Set(shellsMeant().map((f) => doc.layout.faceShell[f]!));
  const out = new Set<number>();
  doc.cornerFace.forEach((f, c) => { const s = doc.layout.faceShell[f]!; if (s >= 0 && inView(f) && (!meant.size || meant.has(s))) out.add(points.point(c)); });
  return [...out];
}

/** Points of the faces around those that are picked, or those that are not at the rim of the pick. */
function ringOfPoints(grow: boolean): number[] {
  const near = (c: number): number[] => points.cornersAt(c).flatMap((k) => doc.corners(doc.cornerFace[k]!)).map((k) => points.point(k));
  if (grow) return [...new Set([...points.picked].flatMap(near))];
  return [...points.picked].filter((c) => near(c).every((k) => points.picked.has(k)));
}

const all: Does = async () => {
  switch (kind()) {
    case "faces": picks.takeFaces(allFaces(), "instead"); return;
    case "edges": picks.take(allEdges(), "instead", "all"); return;
    case "points": points.take(allPoints()); return;
    case "shells": shellsBy("all");
  }
};

const invert: Does = async () => {
  switch (kind()) {
    case "faces": picks.takeFaces(allFaces().filter((f) => !picks.faces.has(f)), "instead"); return;
    case "edges": picks.take(allEdges().filter((e) => !picks.edges.has(e)), "instead", "all others"); return;
    case "points": points.take(allPoints().filter((c) => !points.picked.has(c))); return;
    case "shells": shellsBy("invert");
  }
};

const ring = (grow: boolean): Does => async () => {
  const verb = grow ? "grow" : "shrink";
  if (kind() === "edges") await edgesBy(verb);
  else if (kind() === "points") points.take(ringOfPoints(grow));
  else await facesBy(verb);
};

const alike = (what: "material" | "size" | "shape" | "part"): Does => async () => { if (kind() === "shells") shellsBy(what); else await facesBy(what); };

/** The edges around the picked faces, to be worked on as edges where the station does. */
const around: Does = async () => {
  const { edges } = await doc.pickEdges("around", { faces: facePick() });
  picks.takeFaces([], "instead");
  picks.take(edges, "instead", "around the picked faces");
  pickKind("edges");
};

const repeats: Does = async () => {
  if (kind() === "shells") shellsBy("repeats");
  else if (kind() === "edges") await edgesBy("repeats");
  else await facesBy("repeats");
};

/** Keeps what is picked under a name; at the Sheet station the faces of the chosen shells. */
async function keepSet(): Promise<void> {
  const name = written("set-pickname");
  const faces = kind() === "shells" ? shells.faces() : [...picks.faces], edges = kind() === "shells" ? [] : [...picks.edges];
  if (!faces.length && !edges.length) throw new Refused("Pick edges or faces first, or choose shells: the set holds what is picked.", 422);
  await doc.edit("save-picks", { name, edges, faces });
}

/** Picks what a set holds. */
export function recall(name: string): void {
  const set = doc.meta.picks.find((p) => p.name === name);
  if (!set) return;
  if (kind() === "shells") { chooseShells(new Set((set.faces ?? []).map((f) => doc.layout.faceShell[f]!)), "instead"); return; }
  picks.takeFaces(set.faces ?? [], "instead");
  picks.take(set.edges ?? [], "instead", set.name);
  pickKind(set.edges?.length ? "edges" : "faces");
}

/** Picks the images of what is picked as well. */
async function mirrored(): Promise<void> {
  const { edge, face } = await doc.images(), there = (i: number): boolean => i >= 0;
  const edges = [...picks.edges].map((e) => edge[e]!).filter(there), faces = [...picks.faces].map((f) => face[f]!).filter(there);
  if (!edges.length && !faces.length) throw new Refused("Nothing of the pick has an image on a mirrored half of the model.", 422);
  picks.takeFaces(faces, "besides");
  if (edges.length) picks.take(edges, "besides", "on both halves");
}

/** Works by halves, or no longer: what is picked is picked on both, but for what is laid by one projection, and edits are made on both. */
async function byHalves(): Promise<void> {
  const images: Images | null = doc.halves ? null : await doc.images();
  doc.halves = images && { stacked: false };
  picks.halves = () => (at.station === "Project" ? null : images);
  showHalves();
}

/** The other half is laid beside this one, or on it. */
async function onThisHalf(): Promise<void> {
  if (!doc.halves) await byHalves();
  doc.halves = { stacked: !doc.halves!.stacked };
  showHalves();
}

function showHalves(): void {
  $("halves-note").hidden = !doc.halves;
  $("halves-on").setAttribute("aria-pressed", String(doc.halves?.stacked ?? false));
  document.body.dataset.halves = doc.halves ? (doc.halves.stacked ? "stacked" : "yes") : "";
}

export const choosing = {
  halves: byHalves,
  "halves-on": onThisHalf,
  all,
  invert,
  grow: ring(true),
  shrink: ring(false),
  around,
  crease: () => facesBy("crease", Number(doc.meta.settings.crease_deg)),
  facing: { asks: () => facesBy("facing", value("set-angle", 20)) },
  "alike-material": alike("material"),
  "alike-size": alike("size"),
  "alike-shape": alike("shape"),
  "alike-part": alike("part"),
  repeats,
  mirrored,
  unmapped: () => facesBy("unmapped"),
  "pick-next": async () => pickKind(null),
  sets: { asks: keepSet },
};

/** Buttons beside the sets. */
export const setButtons: Record<string, Does> = {
  "set-recall": async () => recall(written("set-picks")),
  "set-drop": () => doc.edit("save-picks", { name: written("set-picks") }),
  "set-rename": () => doc.edit("save-picks", { name: written("set-picks"), as: written("set-pickname") }),
  "kind-points": async () => pickKind("points"),
  "kind-edges": async () => pickKind("edges"),
  "kind-faces": async () => pickKind("faces"),
};
