// Lines with a width in pixels, as one mesh: drawn as instances, each segment is a draw of its
// own where there is no graphics card.
import * as THREE from "three";
import { LineMaterial } from "three/addons/lines/LineMaterial.js";

/** A segment before it is laid between its ends: a strip with a cap at each end, as the material wants it. */
const corners = [-1, 2, 1, 2, -1, 1, 1, 1, -1, 0, 1, 0, -1, -1, 1, -1];
const uvs = [-1, 2, 1, 2, -1, 1, 1, 1, -1, -1, 1, -1, -1, -2, 1, -2];
const triangles = [0, 2, 1, 2, 3, 1, 2, 4, 3, 4, 5, 3, 4, 6, 5, 6, 7, 5];
const per = uvs.length / 2;

/** A pattern, repeated for as many segments as were asked for so far; what the nth adds to each number is step. */
function repeated<T extends Float32Array | Uint32Array>(pattern: number[], step: number, make: (n: number) => T): (n: number) => T {
  let known = make(0), segments = 0;
  return (n) => {
    if (n > segments) {
      segments = Math.max(n, 2 * segments);
      known = make(pattern.length * segments);
      for (let i = 0, v = 0; i < segments; i++) for (let k = 0; k < pattern.length; k++) known[v++] = pattern[k]! + i * step;
    }
    return known.subarray(0, pattern.length * n) as T;
  };
}
const floats = (n: number): Float32Array => new Float32Array(n);
const positions = repeated(Array.from({ length: per }, (_, k) => [corners[2 * k]!, corners[2 * k + 1]!, 0]).flat(), 0, floats);
const places = repeated(uvs, 0, floats), indices = repeated(triangles, per, (n) => new Uint32Array(n));

/** The segments of some ends, six numbers each; with how far along all of them each begins and ends, if they are dashed. */
function segments(at: Float32Array, dashed: boolean): THREE.BufferGeometry {
  const n = at.length / 6, g = new THREE.BufferGeometry();
  const start = new Float32Array(3 * per * n), end = new Float32Array(3 * per * n);
  const from = new Float32Array(dashed ? per * n : 0), to = new Float32Array(from.length);
  for (let i = 0, along = 0, v = 0; i < n; i++) {
    const x = at[6 * i]!, y = at[6 * i + 1]!, z = at[6 * i + 2]!, p = at[6 * i + 3]!, q = at[6 * i + 4]!, r = at[6 * i + 5]!;
    const next = dashed ? along + Math.hypot(p - x, q - y, r - z) : 0;
    for (let k = 0; k < per; k++, v += 3) {
      start[v] = x; start[v + 1] = y; start[v + 2] = z;
      end[v] = p; end[v + 1] = q; end[v + 2] = r;
    }
    if (dashed) { from.fill(along, per * i, per * (i + 1)); to.fill(next, per * i, per * (i + 1)); }
    along = next;
  }
  for (const [name, values, size] of [["position", positions(n), 3], ["uv", places(n), 2], ["instanceStart", start, 3], ["instanceEnd", end, 3], ["instanceDistanceStart", from, 1], ["instanceDistanceEnd", to, 1]] as const) {
    if (values.length) g.setAttribute(name, new THREE.BufferAttribute(values, size));
  }
  return g.setIndex(new THREE.BufferAttribute(indices(n), 1));
}

export interface Look { color: string; width: number; opacity?: number; order?: number; through?: boolean; dash?: number }

/** Lines between pairs of places, in a picture of a size that may change. Lines at one place are drawn over each other by order, not by rounding. */
export function broadLines(at: Float32Array, look: Look, resolution: THREE.Vector2): THREE.Mesh {
  const order = look.order ?? 1;
  const m = new LineMaterial({ color: look.color, linewidth: look.width, depthWrite: false, polygonOffset: true, polygonOffsetFactor: -order, polygonOffsetUnits: -8 * order, depthTest: look.through !== true });
  m.uniforms.resolution!.value = resolution;
  if (look.dash) {
    m.dashed = true;
    m.dashSize = look.dash;
    m.gapSize = 0.7 * look.dash;
  }
  return new THREE.Mesh(segments(at, m.dashed), m);
}
