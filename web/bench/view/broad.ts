// Lines with a width in pixels, as one mesh: drawn as instances, each segment is a draw of its
// own where there is no graphics card.
import * as THREE from "three";
import { LineMaterial } from "three/addons/lines/LineMaterial.js";

/** A segment before it is laid between its ends: a strip with a cap at each end, as the material wants it. */
const corners = [-1, 2, 1, 2, -1, 1, 1, 1, -1, 0, 1, 0, -1, -1, 1, -1];
const uvs = [-1, 2, 1, 2, -1, 1, 1, 1, -1, -1, 1, -1, -1, -2, 1, -2];
const triangles = [0, 2, 1, 2, 3, 1, 2, 4, 3, 4, 5, 3, 4, 6, 5, 6, 7, 5];
const per = uvs.length / 2;

/** The segments of some ends, six numbers each; with how far along all of them each begins and ends, if they are dashed. */
function segments(at: Float32Array, dashed: boolean): THREE.BufferGeometry {
  const n = at.length / 6, g = new THREE.BufferGeometry();
  const position = new Float32Array(3 * per * n), uv = new Float32Array(2 * per * n), start = new Float32Array(3 * per * n), end = new Float32Array(3 * per * n);
  const from = new Float32Array(dashed ? per * n : 0), to = new Float32Array(from.length), index = new Uint32Array(triangles.length * n);
  for (let i = 0, along = 0; i < n; i++) {
    const a = at.subarray(6 * i, 6 * i + 3), b = at.subarray(6 * i + 3, 6 * i + 6), next = along + Math.hypot(b[0]! - a[0]!, b[1]! - a[1]!, b[2]! - a[2]!);
    uv.set(uvs, 2 * per * i);
    triangles.forEach((v, k) => { index[triangles.length * i + k] = per * i + v; });
    for (let k = 0; k < per; k++) {
      const v = per * i + k;
      position[3 * v] = corners[2 * k]!;
      position[3 * v + 1] = corners[2 * k + 1]!;
      start.set(a, 3 * v);
      end.set(b, 3 * v);
      if (dashed) { from[v] = along; to[v] = next; }
    }
    along = next;
  }
  for (const [name, values, size] of [["position", position, 3], ["uv", uv, 2], ["instanceStart", start, 3], ["instanceEnd", end, 3], ["instanceDistanceStart", from, 1], ["instanceDistanceEnd", to, 1]] as const) {
    if (values.length) g.setAttribute(name, new THREE.BufferAttribute(values, size));
  }
  return g.setIndex(new THREE.BufferAttribute(index, 1));
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
