// Two states of a model in the same views: both are looked at from the same place, one over the other
// with a line to wipe along, or beside each other.
import type { Doc } from "../bench/doc";
import { ProofCloth } from "../bench/view/cloth";
import { Hover } from "../bench/view/hover";
import { Lines } from "../bench/view/lines";
import { Piece, type Pointed } from "../bench/view/piece";
import type { Show } from "../bench/view/scene";
import { Sheet } from "../bench/view/sheet";

const $ = <T extends Element>(selector: string): T => document.querySelector<T>(selector)!;

/** One state in all views it is shown in. */
class Half {
  readonly piece: Piece;
  readonly sheet: Sheet | null = null;
  private readonly hovers: Hover[] = [];

  constructor(readonly doc: Doc, when: string) {
    const cloth = new ProofCloth(doc);
    this.piece = new Piece($(`#piece-${when}`), $(`#piece-svg-${when}`), doc, cloth);
    this.hovers.push(new Hover($(`#piece-svg-${when}`), doc, (c) => this.piece.screen(c), () => this.piece.drawn));
    const canvas = document.querySelector<HTMLCanvasElement>(`#sheet-${when}`);
    if (canvas) {
      const sheet = new Sheet(canvas, $(`#sheet-over-${when}`), $(`#sheet-svg-${when}`), doc, cloth);
      this.hovers.push(new Hover($(`#sheet-svg-${when}`), doc, (c) => sheet.screenOf(c), () => sheet.drawn));
      sheet.update();
      this.sheet = sheet;
    }
    new Lines(doc, this.piece, this.sheet, () => false, this.piece.size).seams(false);
  }

  paint(show: Show): void {
    for (const v of [this.piece, this.sheet]) { v?.faces.paint(show, new Set()); v?.touch(); }
  }

  draw(hovered: number): void {
    this.piece.draw();
    this.sheet?.draw();
    for (const h of this.hovers) h.update(hovered, -1);
  }

  /** Goes to where faces are seen. */
  show(faces: number[]): void {
    this.piece.lookAt(faces);
    this.sheet?.zoomTo(faces.flatMap((f) => this.doc.corners(f)));
  }

  mark(faces: number[]): void {
    for (const v of [this.piece, this.sheet]) { v?.faces.mark("picked", faces); v?.touch(); }
  }
}

/** What is under the pointer, of which state, or nothing. */
export type Told = { of: number; face: number } | null;

export class Pair {
  private readonly halves: [Half, Half];
  private hovered: Told = null;
  /** Is told what is pointed at, and what is clicked. */
  onPoint: (p: Told) => void = () => {};
  onClick: (p: Told) => void = () => {};

  /** same tells whether the faces of both are the same. */
  constructor(docs: [Doc, Doc], private readonly same: boolean) {
    this.halves = [new Half(docs[0], "before"), new Half(docs[1], "after")];
    const [a, b] = this.halves;
    a.piece.join(b.piece);
    if (a.sheet && b.sheet) a.sheet.join(b.sheet);
    this.halves.forEach((h, of) => {
      for (const [view, canvas] of [[h.piece, `#piece-${["before", "after"][of]}`], [h.sheet, `#sheet-${["before", "after"][of]}`]] as const) if (view) this.attend($(canvas), (x, y) => view.at(x, y), of);
    });
    listenWipe(() => requestAnimationFrame(() => this.frame()));
    document.addEventListener("keydown", (e) => { if (e.key === "Home") this.frame(); });
    const frame = (): void => {
      this.halves.forEach((h, of) => h.draw(this.hovered && (this.same || this.hovered.of === of) ? this.hovered.face : -1));
      document.body.dataset.drawn = String(this.halves.reduce((n, h) => n + h.piece.drawn + (h.sheet?.drawn ?? 0), 0));
      requestAnimationFrame(frame);
    };
    requestAnimationFrame(frame);
  }

  private attend(canvas: HTMLCanvasElement, under: (x: number, y: number) => Pointed | null, of: number): void {
    let down: [number, number] = [0, 0], queued: PointerEvent | null = null;
    const told = (e: PointerEvent): Told => { const p = under(e.offsetX, e.offsetY); return p ? { of, face: p.face } : null; };
    canvas.addEventListener("pointerdown", (e) => { down = [e.clientX, e.clientY]; });
    canvas.addEventListener("pointermove", (e) => {
      if (e.buttons) return;
      if (!queued) requestAnimationFrame(() => { this.hovered = told(queued!); queued = null; this.onPoint(this.hovered); });
      queued = e;
    });
    canvas.addEventListener("pointerleave", () => { this.hovered = null; this.onPoint(null); });
    canvas.addEventListener("pointerup", (e) => { if (e.button === 0 && Math.hypot(e.clientX - down[0], e.clientY - down[1]) <= 4) this.onClick(told(e)); });
  }

  paint(show: Show): void { for (const h of this.halves) h.paint(show); }

  frame(): void {
    this.halves[1].piece.frame(-1);
    this.halves[1].sheet?.frame();
  }

  /** Goes to where faces of one state are seen, and lights them. */
  show(of: number, faces: number[]): void {
    this.halves[of]!.show(faces);
    this.mark(of, faces);
  }

  /** Lights faces of one state, of the other too where it has the same. */
  mark(of: number, faces: number[]): void {
    this.halves.forEach((h, k) => h.mark(this.same || k === of ? faces : []));
  }
}

/** The line between both, dragged or moved by keys, and the other way to show them. */
function listenWipe(turned: () => void): void {
  const all = [...document.querySelectorAll<HTMLElement>(".halves")], lines = [...document.querySelectorAll<HTMLElement>(".wiper")];
  let at = 50;
  const set = (percent: number): void => {
    at = Math.max(2, Math.min(98, percent));
    for (const h of all) h.style.setProperty("--wipe", `${at}%`);
    for (const l of lines) l.setAttribute("aria-valuenow", String(Math.round(at)));
  };
  for (const l of lines) {
    const box = l.parentElement!;
    l.addEventListener("pointerdown", (e) => l.setPointerCapture(e.pointerId));
    l.addEventListener("pointermove", (e) => { if (e.buttons) { const r = box.getBoundingClientRect(); set((100 * (e.clientX - r.left)) / r.width); } });
    l.addEventListener("keydown", (e) => {
      const by = { ArrowLeft: -2, ArrowRight: 2, Home: -100, End: 100 }[e.key];
      if (by === undefined) return;
      e.preventDefault();
      e.stopPropagation();
      set(at + by);
    });
  }
  const ways = [...document.querySelectorAll<HTMLElement>("[data-how]")];
  for (const b of ways) b.addEventListener("click", () => {
    for (const w of ways) w.setAttribute("aria-pressed", String(w === b));
    for (const h of all) h.classList.toggle("beside", b.dataset.how === "beside");
    turned();
  });
}
