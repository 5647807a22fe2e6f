// What is under the pointer, lit in both views without drawing the model again: the
// face as a polygon and the edge as a line in a layer of their own.
import { sidesOf } from "./twins";
import type { Doc } from "../doc";

/** Where a view shows a corner, in pixels of its canvas. */
export type Place = (corner: number) => [number, number];

export class Hover {
  private readonly polygon: SVGPolygonElement;
  private readonly edges: SVGPathElement;
  private drawn = "";

  constructor(svg: SVGSVGElement, private readonly doc: Doc, private readonly place: Place, private readonly moved: () => number) {
    this.polygon = svg.querySelector(".hover")!;
    this.edges = svg.querySelector(".hot")!;
  }

  /** Follows the pointer and the view; costs nothing while neither moves. */
  update(face: number, edge: number): void {
    const now = `${face} ${edge} ${this.moved()}`;
    if (now === this.drawn) return;
    this.drawn = now;
    const at = (c: number): string => this.place(c).map((x) => x.toFixed(1)).join(",");
    this.polygon.setAttribute("points", face >= 0 ? this.doc.corners(face).map(at).join(" ") : "");
    const sides = edge >= 0 ? sidesOf(this.doc, edge, -1, true) : [];
    this.edges.setAttribute("d", sides.map((s) => `M${at(s.a)}L${at(s.b)}`).join(""));
  }
}
