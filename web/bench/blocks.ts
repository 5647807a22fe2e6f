// Reads the little-endian blocks that web/blocks.go writes.

export interface MeshBlock {
  points: Float32Array; faceStart: Int32Array; cornerPoint: Int32Array;
  triCorner: Int32Array; triFace: Int32Array; cornerEdge: Int32Array; bend: Float32Array;
}

export interface LayoutBlock {
  uv: Float32Array; facePart: Int32Array; faceShell: Int32Array; mapped: Uint8Array; cut: Uint8Array;
  /** Times the scale of the revision it is 1 where a face is true to size. */
  stretch: Float32Array; angular: Float32Array; grain: Float32Array;
  /** The wished direction of each face, 127 to the unit; zero for none. */
  wish: Int8Array;
}

class Reader {
  private at = 8;
  private readonly view: DataView;
  constructor(private readonly buffer: ArrayBuffer, mark: string) {
    this.view = new DataView(buffer);
    const found = String.fromCharCode(...new Uint8Array(buffer, 0, 4));
    if (found !== mark) throw new Error(`expected a block ${mark}, got ${found}`);
  }
  private span(): [number, number] {
    const bytes = this.view.getUint32(this.at, true);
    const start = this.at + 4;
    this.at = start + Math.ceil(bytes / 4) * 4;
    return [start, bytes];
  }
  ints(): Int32Array { const [s, n] = this.span(); return new Int32Array(this.buffer, s, n / 4); }
  floats(): Float32Array { const [s, n] = this.span(); return new Float32Array(this.buffer, s, n / 4); }
  bytes(): Int8Array { const [s, n] = this.span(); return new Int8Array(this.buffer, s, n); }
  flags(): Uint8Array { const [s, n] = this.span(); return new Uint8Array(this.buffer, s, n); }
}

export function readMesh(b: ArrayBuffer): MeshBlock {
  const r = new Reader(b, "MVM1");
  return { points: r.floats(), faceStart: r.ints(), cornerPoint: r.ints(), triCorner: r.ints(), triFace: r.ints(), cornerEdge: r.ints(), bend: r.floats() };
}

export function readLayout(b: ArrayBuffer): LayoutBlock {
  const r = new Reader(b, "MVL4");
  return { uv: r.floats(), facePart: r.ints(), faceShell: r.ints(), mapped: r.flags(), cut: r.flags(), stretch: r.floats(), angular: r.floats(), grain: r.floats(), wish: r.bytes() };
}

/** The exposure of each face, 0 hidden to 1 open. */
export function readExposure(b: ArrayBuffer): Float32Array { return new Reader(b, "MVX1").floats(); }

/** The images of faces and of edges in the plane of the model, -1 where there is none. */
export interface Images { face: Int32Array; edge: Int32Array }

export function readImages(b: ArrayBuffer): Images {
  const r = new Reader(b, "MVI1");
  return { face: r.ints(), edge: r.ints() };
}

/** What became of each face, of the mesh before and of the one after. */
export function readChanges(b: ArrayBuffer): [Uint8Array, Uint8Array] {
  const r = new Reader(b, "MVC1");
  return [r.flags(), r.flags()];
}
