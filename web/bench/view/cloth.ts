// Proof cloth: patterns that show on the model whether the map is true, drawn by code.
// Each fills the sheet once and goes on over its borders.
import { CanvasTexture, RepeatWrapping, SRGBColorSpace, Vector2 } from "three";
import type { Doc } from "../doc";
import { drawMaterial, isMaterial, materials, setManner, type Material } from "./materials";
import { labelBox, writeInto } from "./labels";
import type { Layers } from "./scene";

export type Cloth = "squares" | "grain lines" | "words" | "boards" | Material | "own";
/** Patterns, and materials that are seen in the light. */
export const cloths: Cloth[] = ["squares", "grain lines", "words", "boards"];
export const lit = Object.keys(materials) as Material[];

/** What goes along the grain is turned where that is V. */
const directed = (kind: Cloth): boolean => kind === "grain lines" || kind === "boards" || isMaterial(kind);

const n = 16, px = 128, size = n * px;
const cream = "#F3ECD9", slate = "#3F5873";

export class ProofCloth implements Layers {
  private readonly canvas = document.createElement("canvas");
  readonly texture: CanvasTexture;
  /** How many units of the sheet the cloth is wide and high before it repeats. */
  readonly span = new Vector2(1, 1);
  /** How it takes the light (see materials.ts), and 1 where it is turned to run along V. */
  readonly manner = new Vector2(0, 0);
  kind: Cloth = "squares";
  private own: CanvasImageSource & { width: number; height: number } | null = null;
  private units = 0;
  private painting: { tiles: (CanvasImageSource | null)[]; wide: number } | null = null;

  readonly list: readonly this[] = [this];
  layer(): number { return 0; }

  /** Whether it shows what was painted. */
  get painted(): boolean { return this.painting !== null; }

  constructor(private readonly doc: Doc) {
    this.canvas.width = this.canvas.height = size;
    this.texture = new CanvasTexture(this.canvas);
    this.texture.wrapS = this.texture.wrapT = RepeatWrapping;
    this.texture.colorSpace = SRGBColorSpace;
    this.texture.anisotropy = 8;
    this.draw();
  }

  /** Shows a pattern; own is the picture of somebody for "own". */
  show(kind: Cloth, own: CanvasImageSource & { width: number; height: number } | null = this.own): void {
    this.kind = kind;
    this.own = own;
    this.draw();
  }

  /** Whether a picture is laid once, on the first tile of the sheet, and goes not on over its borders. */
  once = false;

  /** How long the whole cloth is, in model units; 0 for as long as a tile of the sheet. */
  length(units: number): void {
    this.units = units;
    this.scale();
  }

  /** Shows what was painted on each tile, so many units wide, in place of a pattern; null for the pattern again. */
  wear(painting: { tiles: (CanvasImageSource | null)[]; wide: number } | null): void {
    if (!painting && !this.painting) return;
    this.painting = painting;
    this.draw();
  }

  /** Brings in line with a new revision: words where labels have moved, and the size. */
  refresh(): void { if (this.kind === "words" && !this.painting) this.draw(); else this.scale(); }

  /** How many units of the sheet the cloth spans: its real size, if it has one, follows the density of the map. */
  private scale(): void {
    const p = this.painting, m = this.doc.meta, own = this.kind === "own" ? this.own : null;
    setManner(this.manner, p ? "" : this.kind, !p && directed(this.kind), m.settings.grain_on_v, !p && this.kind === "own" && this.once);
    if (p) { this.span.set(p.tiles.length * p.wide, 1); return; }
    const real = this.units > 0 && m.density > 0 ? (this.units * m.density) / m.size : 1;
    this.span.set(real, own ? (real * own.height) / own.width : real);
  }

  /** The canvas, so large; what was drawn on one of another size is let go. */
  private sized(width: number, height: number): CanvasRenderingContext2D {
    if (this.canvas.width !== width || this.canvas.height !== height) {
      this.canvas.width = width;
      this.canvas.height = height;
      this.texture.dispose();
    }
    return this.canvas.getContext("2d")!;
  }

  private draw(): void {
    this.scale();
    const p = this.painting, own = this.kind === "own" ? this.own : null;
    if (p) {
      const height = p.tiles.length > 1 ? size / 2 : size, width = height * p.wide, g = this.sized(width * p.tiles.length, height);
      g.fillStyle = cream;
      g.fillRect(0, 0, width * p.tiles.length, height);
      p.tiles.forEach((t, i) => { if (t) g.drawImage(t, i * width, 0, width, height); });
      this.texture.needsUpdate = true;
      return;
    }
    const g = this.sized(size, size);
    if (own) {
      g.clearRect(0, 0, size, size);
      g.drawImage(own, 0, 0, size, size);
      this.texture.needsUpdate = true;
      return;
    }
    if (isMaterial(this.kind)) {
      drawMaterial(g, this.kind, size);
      this.texture.needsUpdate = true;
      return;
    }
    g.fillStyle = cream;
    g.fillRect(0, 0, size, size);
    if (this.kind === "squares") squares(g);
    else if (this.kind === "grain lines") grainLines(g);
    else if (this.kind === "boards") boards(g);
    else words(g, this.doc);
    this.texture.needsUpdate = true;
  }
}

/** Lettered squares with an up arrow. */
function squares(g: CanvasRenderingContext2D): void {
  for (let r = 0; r < n; r++) {
    for (let c = 0; c < n; c++) {
      const dark = (r + c) % 2 === 0;
      const x = c * px, y = (n - 1 - r) * px;
      g.fillStyle = dark ? "#6F8196" : cream;
      g.fillRect(x, y, px, px);
      g.strokeStyle = dark ? "#8496AA" : "#DDD3BB";
      g.lineWidth = 2;
      for (let k = 1; k < 4; k++) {
        g.beginPath(); g.moveTo(x + k * px / 4, y); g.lineTo(x + k * px / 4, y + px); g.moveTo(x, y + k * px / 4); g.lineTo(x + px, y + k * px / 4); g.stroke();
      }
      g.fillStyle = g.strokeStyle = dark ? "#FDFCF8" : slate;
      g.font = "600 44px 'Barlow Condensed', sans-serif";
      g.textAlign = "center";
      g.fillText(String.fromCharCode(65 + c) + (r + 1), x + px / 2, y + px * 0.9);
      g.lineWidth = 7;
      g.beginPath(); g.moveTo(x + px / 2, y + px * 0.52); g.lineTo(x + px / 2, y + px * 0.14);
      g.moveTo(x + px * 0.38, y + px * 0.28); g.lineTo(x + px / 2, y + px * 0.12); g.lineTo(x + px * 0.62, y + px * 0.28); g.stroke();
    }
  }
}

/** Strokes along U, tapering the way they go. */
function grainLines(g: CanvasRenderingContext2D): void {
  const rows = 64, h = size / rows, long = size / 8;
  for (let r = 0; r < rows; r++) {
    g.fillStyle = r % 2 ? slate : "#8496AA";
    const shift = ((r * 5) % 8) * (long / 8);
    for (let x = shift - long; x < size; x += long) {
      const y = (r + 0.5) * h;
      g.beginPath(); g.moveTo(x + 6, y - 0.36 * h); g.lineTo(x + long - 6, y); g.lineTo(x + 6, y + 0.36 * h); g.fill();
    }
  }
}

/** Courses of boards with staggered joints, each of its own shade, so that one sees where a board goes on. */
function boards(g: CanvasRenderingContext2D): void {
  const rows = 16, h = size / rows, across = 4, long = size / across;
  const shades = ["#E4D6B5", "#C9B48A", "#D8C59E", "#B59B6E", "#EFE4C9", "#A98F66", "#CDBB97", "#DFD0AC"];
  for (let r = 0; r < rows; r++) {
    const shift = ((r * 7) % 16) * (long / 16);
    for (let k = -1; k < across; k++) {
      const x = k * long + shift, y = r * h, number = (k + across) % across;
      g.fillStyle = shades[(r * 3 + number * 5) % 8]!;
      g.fillRect(x, y, long, h);
      g.strokeStyle = "#8A7148";
      g.lineWidth = 1.5;
      for (let v = 1; v < 6; v++) { // fibres
        const at = y + (v * h) / 6, bow = ((r + number + v) % 3 - 1) * 6;
        g.beginPath(); g.moveTo(x, at); g.quadraticCurveTo(x + long / 2, at + bow, x + long, at); g.globalAlpha = 0.35; g.stroke(); g.globalAlpha = 1;
      }
      g.strokeStyle = "#4A3B22";
      g.lineWidth = 5;
      g.strokeRect(x, y, long, h);
      g.fillStyle = "#4A3B22";
      g.font = "600 40px 'Barlow Condensed', sans-serif";
      g.textAlign = "left";
      g.fillText(`${String.fromCharCode(65 + (rows - 1 - r))}${number + 1}`, x + 14, y + 0.66 * h);
    }
  }
}

/** A sentence that is true where it reads, and the words of the labels in their places. */
function words(g: CanvasRenderingContext2D, doc: Doc): void {
  const rows = 32, h = size / rows, sentence = "this way up";
  for (let r = 0; r < rows; r++) {
    g.fillStyle = r % 2 ? slate : "#8A6412";
    g.font = `500 ${0.62 * h}px 'Barlow Condensed', sans-serif`;
    g.textAlign = "center";
    for (let k = -1; k <= 8; k++) g.fillText(sentence, (k + (r % 2 ? 0.5 : 0)) * (size / 8), (r + 0.72) * h);
  }
  for (const l of doc.meta.labels) {
    const b = labelBox(doc, l);
    if (!b) continue;
    // On the tile the label lies on; the cloth repeats.
    const x = (b.u - Math.floor(b.u)) * size, y = (1 - (b.v - Math.floor(b.v))) * size, w = b.width * size, tall = b.height * size;
    g.fillStyle = "#FDFCF8";
    g.fillRect(x - w / 2, y - tall / 2, w, tall);
    g.fillStyle = "#1F2A33";
    writeInto(g, l.word, x, y, w, tall);
  }
}
