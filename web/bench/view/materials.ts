// Materials with a direction, drawn by code: each fills its tile once and goes on over its borders, with
// its grain along the width.
import type { Vector2 } from "three";

/** How a material takes the light, as the shader numbers it. */
export const materials = { "brushed steel": 1, wood: 2, fabric: 3 } as const;
export type Material = keyof typeof materials;

export const isMaterial = (kind: string): kind is Material => kind in materials;

/** Numbers that look random and are always the same, from 0 to 1. */
function numbers(seed: number): () => number {
  let a = seed >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** Noise that repeats after so many cells each way, smooth between them. */
function noise(seed: number, across: number, up: number): (x: number, y: number) => number {
  const next = numbers(seed), grid = Float32Array.from({ length: across * up }, next);
  const ease = (t: number): number => t * t * (3 - 2 * t);
  return (x, y) => { // x and y from 0 to 1 over the tile
    const fx = x * across, fy = y * up, i = Math.floor(fx), j = Math.floor(fy), s = ease(fx - i), t = ease(fy - j);
    const g = (a: number, b: number): number => grid[(((b % up) + up) % up) * across + (((a % across) + across) % across)]!;
    return (g(i, j) * (1 - s) + g(i + 1, j) * s) * (1 - t) + (g(i, j + 1) * (1 - s) + g(i + 1, j + 1) * s) * t;
  };
}

type Shade = (x: number, y: number) => readonly [number, number, number];

/** Fine scratches along the width, some longer and deeper. */
function steel(): Shade {
  const fine = noise(3, 12, 700), long = noise(5, 4, 160), broad = noise(7, 3, 9);
  return (x, y) => {
    const v = 168 + 46 * (fine(x, y) - 0.5) + 30 * (long(x, y) - 0.5) + 12 * (broad(x, y) - 0.5);
    return [v, v * 1.005, v * 1.01];
  };
}

/** Growth lines that wander about the width, and short pores. */
function wood(): Shade {
  const warp = noise(11, 3, 7), lines = noise(13, 5, 90), pores = noise(17, 40, 520), tone = noise(19, 2, 5);
  return (x, y) => {
    const ring = 0.5 + 0.5 * Math.sin(2 * Math.PI * (14 * y + 2.2 * warp(x, y)));
    const late = ring ** 3, pore = pores(x, y) > 0.84 ? 1 : 0;
    const v = 0.72 + 0.16 * (lines(x, y) - 0.5) + 0.12 * (tone(x, y) - 0.5) - 0.26 * late - 0.18 * pore;
    return [236 * v, 178 * v, 118 * v];
  };
}

/** A twill: yarn along the width over two, under one; its ribs lean one way, the other where a shell is mirrored. */
function fabric(): Shade {
  const yarns = 96, rough = noise(23, 200, 200);
  return (x, y) => {
    const u = x * yarns, v = y * yarns, i = Math.floor(u), j = Math.floor(v), along = (((i - j) % 3) + 3) % 3 !== 0;
    const across = along ? v - j : u - i, round = Math.sin(Math.PI * across), grain = 0.9 + 0.2 * (rough(x, y) - 0.5);
    const k = (0.5 + 0.5 * round) * grain;
    return along ? [112 * k, 134 * k, 148 * k] : [208 * k, 200 * k, 178 * k];
  };
}

const shades: Record<Material, () => Shade> = { "brushed steel": steel, wood, fabric };

/** Draws a material over a square canvas of so many pixels. */
export function drawMaterial(g: CanvasRenderingContext2D, kind: Material, size: number): void {
  const image = g.createImageData(size, size), of = shades[kind](), d = image.data;
  for (let y = 0, k = 0; y < size; y++) for (let x = 0; x < size; x++, k += 4) {
    const c = of(x / size, y / size);
    d[k] = c[0]; d[k + 1] = c[1]; d[k + 2] = c[2]; d[k + 3] = 255;
  }
  g.putImageData(image, 0, 0);
}

/** Tells the shader how a pattern takes the light, or that it is laid once, and whether its direction is that of V. */
export function setManner(manner: Vector2, kind: string, directed: boolean, alongV: boolean, once: boolean): void {
  manner.set(once ? -1 : isMaterial(kind) ? materials[kind] : 0, directed && alongV ? 1 : 0);
}

/** Where light comes from, for whoever looks. */
export const lights = "const vec3 keyLight = normalize(vec3(0.35, 0.65, 0.7)), fillLight = normalize(vec3(-0.7, 0.1, 0.4));";

/** What a material does to light, after its colour is known. Highlights of fibres: Kajiya and Kay, 1989. */
export const shading = `
  vec3 alongGrain(vec3 n) {
    vec3 dp = dFdx(vView), dq = dFdy(vView);
    vec2 a = dFdx(vUv), b = dFdy(vUv);
    vec3 t = manner.y > 0.5 ? dq * a.x - dp * b.x : dp * b.y - dq * a.y; // of P by V, or by U, times a number
    t *= sign(a.x * b.y - a.y * b.x);
    t -= n * dot(n, t);
    return t / max(length(t), 1e-12);
  }
  float fibre(vec3 t, vec3 n, vec3 l, vec3 v, float sharp) {
    float th = dot(t, normalize(l + v));
    return pow(max(0.0, 1.0 - th * th), sharp) * smoothstep(0.0, 0.35, dot(n, l));
  }
  vec3 material(vec3 base, vec3 n, float key, float fill) {
    vec3 v = normalize(-vView), t = alongGrain(n);
    if (manner.x < 1.5) {
      float sky = smoothstep(-0.5, 0.7, reflect(-v, n).y), shine = 0.75 * fibre(t, n, keyLight, v, 40.0) + 0.35 * fibre(t, n, fillLight, v, 25.0);
      return base * (0.24 + 0.26 * key + 0.08 * fill + 0.3 * sky) + shine * mix(0.35, 1.0, base.r * 1.4) * vec3(0.62, 0.61, 0.6);
    }
    if (manner.x < 2.5) return base * (0.5 + 0.46 * key + 0.15 * fill) + 0.16 * fibre(t, n, keyLight, v, 10.0) * vec3(1.0, 0.9, 0.72);
    float edge = pow(1.0 - max(dot(n, v), 0.0), 3.0);
    return base * (0.56 + 0.4 * key + 0.14 * fill + 0.35 * edge);
  }`;
