// What both views draw: the faces as triangles, seams, picks and the face under
// the pointer. The piece puts corners at their points, the sheet at their map.
import * as THREE from "three";
import { MeshBVH } from "three-mesh-bvh";
import type { Doc } from "../doc";
import { broadLines, type Look } from "./broad";
import type { Coarse } from "./fineness";
import { lights, shading } from "./materials";
import { cornerNormals } from "./normals";

export type Show = "parts" | "cloth" | "stretch" | "area" | "density" | "grain" | "exposure" | "painted" | "changes";

/** What the faces can be covered with, and how many units of the sheet it is wide and high. */
export interface Cloth { texture: THREE.Texture; span: THREE.Vector2; manner: THREE.Vector2 }

/** Several of them, and which one a part has. */
export interface Layers { readonly list: readonly Cloth[]; layer(part: number): number }

/** How many can be laid at once. */
export const mostLayers = 4;

/** Where a corner is drawn in a view. */
export type Place = (corner: number) => [number, number, number];

const tints = ["D9C7A8", "B9C9C4", "C9BCD1", "B5C6D8", "DBB8A6", "CECBA0", "AFCBB5", "D6BFB4", "C4C4C4", "BDCFA9", "D8B4BB", "A9C4C9"]
  .map((h) => new THREE.Color(`#${h}`));
const chalk = new THREE.Color("#EDE9DF"), slate = new THREE.Color("#3F5873"), paper = new THREE.Color("#F5F2EA"), brass = new THREE.Color("#A87B1E");
const madder = new THREE.Color("#A8323E");
/** What became of a face, by its number in the block of changes: it stays, lies otherwise, is new, is gone. */
const became = [chalk.clone().multiplyScalar(0.9), brass, new THREE.Color("#2E8578"), madder];
const hidden = new THREE.Color("#2B4A52"), open = new THREE.Color("#F7E9C8");

const vertex = `
  attribute vec3 tint; varying vec3 vTint; varying vec2 vUv; varying vec3 vView;
  #ifdef LAYERS
    attribute float layer; varying float vLayer;
  #endif
  #ifdef MATERIAL
    varying vec3 vNormal;
  #endif
  void main() {
    #ifdef LAYERS
      vLayer = layer;
    #endif
    #ifdef MATERIAL
      vNormal = normalMatrix * normal;
    #endif
    vTint = tint; vUv = uv; vec4 p = modelViewMatrix * vec4(position, 1.0); vView = p.xyz; gl_Position = projectionMatrix * p;
  }`;
/** What is not asked for is left out: without a graphics card each line is dear. */
const fragment = `
  uniform float lit; varying vec3 vTint; varying vec2 vUv; varying vec3 vView;
  ${lights}
  #ifdef CLOTH
    uniform sampler2D cloth0; uniform vec2 spans[4], manners[4];
    vec2 manner; // of the cloth that is laid here
    #ifdef LAYERS
      uniform sampler2D cloth1, cloth2, cloth3; varying float vLayer;
    #endif
    #ifdef MATERIAL
      varying vec3 vNormal;
      ${shading}
    #endif
  #endif
  void main() {
    vec3 base = vTint;
    bool woven = false;
    #ifdef CLOTH
      vec2 span = spans[0];
      manner = manners[0];
      #ifdef LAYERS
        int k = int(vLayer + 0.5);
        if (k == 1) { span = spans[1]; manner = manners[1]; } else if (k == 2) { span = spans[2]; manner = manners[2]; } else if (k == 3) { span = spans[3]; manner = manners[3]; }
      #endif
      vec2 q = (manner.y > 0.5 ? vec2(vUv.y, -vUv.x) : vUv) / span;
      vec3 cloth = texture2D(cloth0, q).rgb;
      #ifdef LAYERS
        if (k == 1) cloth = texture2D(cloth1, q).rgb; else if (k == 2) cloth = texture2D(cloth2, q).rgb; else if (k == 3) cloth = texture2D(cloth3, q).rgb;
      #endif
      woven = vUv.x > -1e5 && !(manner.x < -0.5 && q != clamp(q, 0.0, 1.0));
      if (woven) base = cloth;
    #endif
    if (lit > 0.5) {
      vec3 n = normalize(cross(dFdx(vView), dFdy(vView)));
      if (!gl_FrontFacing) base = mix(base, vec3(0.35, 0.33, 0.31), 0.55);
      bool plain = true;
      #ifdef MATERIAL
        if (woven && manner.x > 0.5) { // round things are round in the light
          vec3 m = gl_FrontFacing ? vNormal : -vNormal;
          if (dot(m, n) > 0.3 * length(m)) n = normalize(m);
          base = material(base, n, max(dot(n, keyLight), 0.0), max(dot(n, fillLight), 0.0));
          plain = false;
        }
      #endif
      if (plain) base *= 0.52 + 0.46 * max(dot(n, keyLight), 0.0) + 0.16 * max(dot(n, fillLight), 0.0);
    }
    gl_FragColor = vec4(base, 1.0);
    #include <colorspace_fragment>
  }`;

/** Where the cloth is not sampled: the face is not in the map. */
const nowhere = -1e6;

/** Lines one pixel wide are plain lines: there may be a hundred thousand. */
function hairlines(at: Float32Array, look: Look): THREE.LineSegments {
  const g = new THREE.BufferGeometry().setAttribute("position", new THREE.BufferAttribute(at, 3));
  return new THREE.LineSegments(g, new THREE.LineBasicMaterial({ color: look.color, transparent: true, opacity: look.opacity ?? 1 }));
}

export class Faces {
  readonly geometry = new THREE.BufferGeometry();
  readonly material: THREE.ShaderMaterial;
  readonly mesh: THREE.Mesh;
  readonly scene = new THREE.Scene();
  private readonly lines = new Map<string, THREE.Mesh | THREE.LineSegments>();
  private readonly marks = new Map<string, THREE.Mesh>();

  constructor(private readonly doc: Doc, private readonly cloths: Layers, private readonly lit: boolean, private readonly place: Place) {
    const n = doc.cornerFace.length; // a vertex for each corner: triangles of a face share theirs
    this.geometry.setIndex(new THREE.BufferAttribute(new Uint32Array(doc.mesh.triCorner), 1));
    this.geometry.setAttribute("position", new THREE.BufferAttribute(new Float32Array(3 * n), 3));
    this.geometry.setAttribute("uv", new THREE.BufferAttribute(new Float32Array(2 * n), 2));
    this.geometry.setAttribute("tint", new THREE.BufferAttribute(new Float32Array(3 * n), 3));
    this.material = new THREE.ShaderMaterial({
      vertexShader: vertex, fragmentShader: fragment, side: THREE.DoubleSide, polygonOffset: true, polygonOffsetFactor: 1.5, polygonOffsetUnits: 2,
      uniforms: { cloth0: { value: null }, cloth1: { value: null }, cloth2: { value: null }, cloth3: { value: null }, spans: { value: [] }, manners: { value: [] }, lit: { value: lit ? 1 : 0 } },
    });
    this.dress();
    this.mesh = new THREE.Mesh(this.geometry, this.material);
    this.mesh.frustumCulled = false;
    this.scene.add(this.mesh);
    const picked = new THREE.Mesh(new THREE.BufferGeometry(), new THREE.MeshBasicMaterial({ color: "#14756B", transparent: true, opacity: 0.6, side: THREE.DoubleSide, depthTest: lit, depthWrite: false }));
    picked.frustumCulled = false;
    this.marks.set("picked", picked);
    this.scene.add(picked);
    const dots = new THREE.Mesh(new THREE.BufferGeometry(), new THREE.ShaderMaterial({
      side: THREE.DoubleSide, depthTest: lit, depthWrite: false, transparent: true, polygonOffset: true, polygonOffsetFactor: 0.5, polygonOffsetUnits: 0,
      vertexShader: "void main() { gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0); }",
      fragmentShader: "void main() { vec2 p = mod(gl_FragCoord.xy + vec2(mod(floor(gl_FragCoord.y / 5.0), 2.0) * 2.5, 0.0), 5.0) - 2.5; if (length(p) > 1.1) discard; gl_FragColor = vec4(0.12, 0.16, 0.2, 0.8); }",
    }));
    dots.frustumCulled = false;
    this.marks.set("whole", dots);
    this.scene.add(dots);
  }

  /** Goes through the faces and their corners, from the first to that after the last. */
  private eachFace(visit: (face: number, from: number, to: number) => void): void {
    const { faceStart } = this.doc.mesh;
    for (let f = 0; f + 1 < faceStart.length; f++) visit(f, faceStart[f]!, faceStart[f + 1]!);
  }

  private tree: MeshBVH | null = null;
  private placed = false;

  /** What finds a face under a ray; made when somebody points, null before there are places. */
  get bvh(): MeshBVH | null { return (this.tree ??= this.placed ? new MeshBVH(this.geometry, { indirect: true }) : null); }

  /** Takes over another map; the corners stay where they are. */
  remap(): void {
    const { uv, mapped } = this.doc.layout;
    const to = this.geometry.getAttribute("uv") as THREE.BufferAttribute, out = to.array as Float32Array;
    this.doc.cornerFace.forEach((f, c) => {
      out[2 * c] = mapped[f] ? uv[2 * c]! : nowhere;
      out[2 * c + 1] = mapped[f] ? uv[2 * c + 1]! : nowhere;
    });
    to.needsUpdate = true;
  }

  /** Writes where the corners are. Faces for which skip is true are drawn as nothing. */
  setPlaces(skip?: (face: number) => boolean): void {
    const pos = this.geometry.getAttribute("position") as THREE.BufferAttribute;
    this.eachFace((f, from, to) => {
      const nothing = skip?.(f) === true;
      for (let c = from; c < to; c++) pos.setXYZ(c, ...this.place(nothing ? from : c));
    });
    pos.needsUpdate = true;
    this.tree = null;
    this.placed = true;
    this.remap();
  }

  /** Tells the shader which cloths are laid; those that are not there are the first. */
  private dress(): void {
    const u = this.material.uniforms, { list } = this.cloths, at = (k: number): Cloth => list[k] ?? list[0]!;
    for (let k = 0; k < mostLayers; k++) {
      u[`cloth${k}`]!.value = at(k).texture;
      (u.spans!.value as THREE.Vector2[])[k] = at(k).span;
      (u.manners!.value as THREE.Vector2[])[k] = at(k).manner;
    }
  }

  /** Leaves out of the shader what is not asked for. */
  private shade(cloth: boolean): void {
    const { list } = this.cloths, asked = { CLOTH: cloth, LAYERS: cloth && list.length > 1, MATERIAL: cloth && this.lit && list.some((c) => c.manner.x > 0) };
    const now = Object.fromEntries(Object.entries(asked).filter(([, on]) => on).map(([name]) => [name, ""]));
    if (Object.keys(now).join() === Object.keys(this.material.defines).join()) return;
    this.material.defines = now;
    this.material.needsUpdate = true;
  }

  /** Writes which cloth each face has, where there are several. */
  private layers(): void {
    this.dress();
    if (this.cloths.list.length === 1) return;
    const { facePart } = this.doc.layout, layer = this.doc.meta.parts.map((_, p) => this.cloths.layer(p));
    if (!this.geometry.hasAttribute("layer")) this.geometry.setAttribute("layer", new THREE.BufferAttribute(new Float32Array(this.doc.cornerFace.length), 1));
    const of = this.geometry.getAttribute("layer") as THREE.BufferAttribute;
    this.eachFace((f, from, to) => of.array.fill(layer[facePart[f]!] ?? 0, from, to));
    of.needsUpdate = true;
  }

  /** Writes the normals, once something is to be seen in the light. */
  private round(): void {
    if (!this.lit || this.geometry.hasAttribute("normal") || !this.cloths.list.some((c) => c.manner.x > 0)) return;
    this.geometry.setAttribute("normal", new THREE.BufferAttribute(cornerNormals(this.doc, this.doc.meta.settings.crease_deg), 3));
  }

  paint(show: Show, chosen: ReadonlySet<number>): void {
    this.layers();
    this.round();
    this.shade(show === "cloth" || show === "painted");
    const tint = this.geometry.getAttribute("tint") as THREE.BufferAttribute;
    const { facePart, faceShell, mapped, stretch, angular, grain } = this.doc.layout, exposure = this.doc.exposure;
    const color = new THREE.Color();
    this.eachFace((f, from, to) => {
      const part = facePart[f]!;
      if (show === "stretch" && mapped[f]) {
        // Full colour is one length half as long again as the other.
        color.copy(paper).lerp(brass, Math.min(1, Math.log(Math.max(1, angular[f]!)) / Math.log(1.5)));
      } else if (show === "area" && mapped[f]) {
        // One step to full colour is a factor of 1.5 in area.
        const s = Math.max(-1, Math.min(1, Math.log(Math.max(1e-6, stretch[f]! * this.doc.meta.scale)) / Math.log(1.5)));
        color.copy(paper).lerp(s > 0 ? brass : slate, Math.abs(s));
      } else if (show === "density" && mapped[f]) {
        // Full colour is half as sharp again as the mean, or less; weights count as wished.
        const x = this.doc.meta.shells[faceShell[f]!]!, s = Math.max(-1, Math.min(1, Math.log(Math.max(1e-6, x.density / x.weight / Math.max(this.doc.meta.density, 1e-12))) / Math.log(1.5)));
        color.copy(paper).lerp(s > 0 ? brass : slate, Math.abs(s));
      } else if (show === "grain") {
        // Full colour is ten degrees off; where there is no grain it stays chalk.
        if (mapped[f] && grain[f]! >= 0) color.copy(paper).lerp(madder, Math.min(1, grain[f]! / 10)); else color.copy(chalk).multiplyScalar(0.86);
      } else if (show === "exposure" && exposure) {
        color.copy(hidden).lerp(open, exposure[f]!);
      } else if (show === "changes" && this.doc.changes) {
        color.copy(became[this.doc.changes[f]!]!);
      } else if (show === "parts" && part >= 0) {
        color.copy(tints[part % 12]!);
      } else color.copy(chalk);
      if (chosen.has(part) && show === "parts") color.lerp(new THREE.Color("#14756B"), 0.28);
      for (let c = from; c < to; c++) tint.setXYZ(c, color.r, color.g, color.b);
    });
    tint.needsUpdate = true;
  }

  /** Draws segments between corners as lines of a width in pixels; false if there were none and are none. */
  setLines(name: string, pairs: number[], look: Look): boolean {
    const at = new Float32Array(3 * pairs.length);
    pairs.forEach((c, i) => at.set(this.place(c), 3 * i));
    return this.setSegments(name, at, look);
  }

  private readonly fine = new Map<string, Coarse>();

  /** Draws hairlines between corners, as many as can be told apart at the scale that is shown. */
  setFine(name: string, of: Coarse, look: Look): void {
    this.fine.set(name, of);
    this.setLines(name, of.pairs, { ...look, width: 1 });
  }

  /** Takes over how many pixels a unit has. */
  zoom(scale: number): void {
    for (const [name, of] of this.fine) this.lines.get(name)?.geometry.setDrawRange(0, 2 * of.seen(scale));
  }

  /** Draws segments in space, six numbers each; false if there were none and are none. */
  setSegments(name: string, at: Float32Array, look: Look): boolean {
    const before = this.lines.get(name);
    before?.removeFromParent();
    before?.geometry.dispose();
    this.lines.delete(name);
    if (at.length === 0) return before !== undefined;
    const l = look.width <= 1 ? hairlines(at, look) : broadLines(at, look, this.resolution);
    l.renderOrder = look.order ?? 1;
    l.frustumCulled = false;
    this.lines.set(name, l);
    this.scene.add(l);
    return true;
  }

  private readonly resolution = new THREE.Vector2(1, 1);
  resize(w: number, h: number): void { this.resolution.set(w, h); }

  /** Whether it is known how large the picture is: before that lines have no width. */
  get sized(): boolean { return this.resolution.x > 1; }

  /** Marks faces: those picked, those that stay whole. */
  mark(name: "picked" | "whole", faces: Iterable<number>): void {
    const at: number[] = [];
    const { triCorner, triFace } = this.doc.mesh;
    for (const face of faces) {
      for (let t = this.firstTriangle(face); t < triFace.length && triFace[t] === face; t++) for (let k = 0; k < 3; k++) at.push(...this.place(triCorner[3 * t + k]!));
    }
    const m = this.marks.get(name)!;
    m.geometry.dispose();
    m.geometry = new THREE.BufferGeometry().setAttribute("position", new THREE.Float32BufferAttribute(at, 3));
    m.visible = at.length > 0;
  }

  /** Triangles follow their faces, so the first is found by its count: a face of n corners has n−2. */
  private firstTriangle(face: number): number { return this.doc.mesh.faceStart[face]! - 2 * face; }
}

/** The nearest edge of a face to a point in a view, with its distance in pixels. */
export function nearestEdge(doc: Doc, face: number, project: (corner: number) => [number, number], x: number, y: number): { edge: number; distance: number } {
  const corners = doc.corners(face);
  let best = { edge: -1, distance: Infinity };
  corners.forEach((c, i) => {
    const [ax, ay] = project(c), [bx, by] = project(corners[(i + 1) % corners.length]!);
    const dx = bx - ax, dy = by - ay, l = dx * dx + dy * dy;
    const t = l > 0 ? Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / l)) : 0;
    const d = Math.hypot(x - ax - t * dx, y - ay - t * dy);
    if (d < best.distance) best = { edge: doc.mesh.cornerEdge[c]!, distance: d };
  });
  return best;
}
