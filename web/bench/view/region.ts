// Regions drawn on the ground of a view: a rectangle, or a freehand line that
// closes on itself.

export type Outline = [number, number][];

export function rectangle(a: [number, number], b: [number, number]): Outline {
  return [a, [b[0], a[1]], b, [a[0], b[1]]];
}

/** Even-odd test of a point against an outline. */
export function inside(o: Outline, x: number, y: number): boolean {
  let odd = false;
  for (let i = 0, j = o.length - 1; i < o.length; j = i++) {
    const [ax, ay] = o[i]!, [bx, by] = o[j]!;
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) odd = !odd;
  }
  return odd;
}

/** Shows an outline while it is drawn. */
export function showOutline(svg: SVGSVGElement, o: Outline | null): void {
  svg.querySelector(".region")!.setAttribute("points", o ? o.map((p) => p.join(",")).join(" ") : "");
}
