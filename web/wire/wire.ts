// Written by go generate from the types in web/wire; change those.

export interface Fit {
  axis: [number, number, number];
  origin: [number, number, number];
  radius: number;
  major: number;
  half_angle: number;
  pitch: number;
  spine: [number, number, number][];
}

export interface Part {
  name: string;
  shape: string;
  error: string;
  locked: boolean;
  repeats: number;
  root: number;
  fit: Fit;
  projection?: string;
  grain: string;
  grain_sense?: boolean;
  material: string;
}

export interface Shell {
  part: number;
  density: number;
  l2: number;
  angular: number;
  grain: number;
  straight: number;
  weight: number;
  stack?: number;
  above?: boolean;
}

export interface Sides {
  front: number;
  back: number;
  left: number;
  right: number;
  above: number;
  below: number;
}

export interface PickSet {
  name: string;
  edges?: number[];
  faces?: number[];
}

export interface Sheet {
  size: number;
  padding: number;
  margin: number;
  tiles: number;
  wide?: boolean;
}

export interface Settings {
  sheet: Sheet;
  turns: string;
  grain_on_v: boolean;
  repeats: string;
  up: string;
  unit: string;
  sides?: Sides;
  crease_deg: number;
  dial: number;
  finer?: number;
  undivided?: boolean;
  merged?: boolean;
}

export interface MapHead {
  id: number;
  name: string;
  purpose: string;
  sealed?: boolean;
  picture?: string;
}

export interface Vec {
  X: number;
  Y: number;
  Z: number;
}

export interface Label {
  word: string;
  faces: number[];
  up: Vec;
  quarters?: number;
  reads: string;
}

export interface Meta {
  revision: number;
  last_edit: string;
  last_who: string;
  next_edit: string;
  head: number;
  saved: string;
  unit: string;
  size: number;
  scale: number;
  coverage: number;
  density: number;
  parts: Part[];
  shells: Shell[];
  findings: number[][];
  dial: number;
  sides: Sides;
  whole: number[];
  held: number[];
  picks: PickSet[];
  settings: Settings;
  map: number;
  maps: MapHead[];
  labels: Label[];
  pins: number[];
  locked: number[];
  placed: number;
  middle: [number, number, number];
}

export interface ChangedPart {
  part: number;
  as: Part;
}

export interface FreshShell {
  at: number;
  as: Shell;
  faces: number[];
}

export interface Patch {
  from: number;
  face_parts: number[];
  corners: number[];
  uv: number[];
  mapped: number[];
  cut: number[];
  part_count: number;
  parts: ChangedPart[];
  shell_runs: [number, number][];
  fresh: FreshShell[];
  finding_runs: [number, number][];
  fresh_findings: number[][];
  faces: number[];
  stretch: number[];
  angular: number[];
  grain: number[];
  wish: number[];
}

export interface Card {
  whole?: string;
  sums: string[];
  rows?: Record<string, string>;
}

export interface Answer {
  meta: Meta;
  patch?: Patch;
  card?: Card;
  tray?: string;
  worklog?: string;
}

export interface Shown {
  station: string;
  part: number;
  worklog?: boolean;
}

export interface Join {
  stays: number;
  moves: number;
  stays_name: string;
  moves_name: string;
  length: string;
  difference: number;
  turn: [number, number];
  opposite: boolean;
  rigid: boolean;
  was: number;
  will: number;
  on_rack: boolean;
  joined: number;
}

export interface Figures {
  shells: number;
  seam: string;
  exposed: string;
  worst: number;
  fill: string;
  density: string;
  least_gap: string;
  least_rim: string;
}

export interface Stretch {
  shells: number;
  l2: number;
  angular: number;
  note?: string;
}

export interface Cost {
  was: Stretch;
  will: Stretch;
}

export interface PartsChange {
  was: number;
  will: number;
  united: number;
  split: number;
}

export interface Row {
  edges: number[];
  words: string;
  figures: string;
}

export interface Ghost {
  corners: number[] | null;
  uv: number[] | null;
  faces: number[] | null;
  opened: number[] | null;
  closed: number[] | null;
  join?: Join;
  before?: Figures;
  after?: Figures;
  stretch?: Cost;
  parts?: PartsChange;
  said?: string;
  refused?: string;
  worst?: number;
  straight?: number;
  rows?: Row[];
  let_go?: number[];
}

export interface Frame {
  iteration: number;
  said: string;
  corners: number[];
  uv: number[];
}

export interface Isoline {
  says: string;
  from: number[];
  to: number[];
  at: number[];
}

export interface Worst {
  says: string;
  part: string;
  places: number[][];
}

export interface Field {
  of: string;
  lines: Isoline[];
  worst: Worst[];
}
