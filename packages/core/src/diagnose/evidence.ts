// What a diagnosis rests on, as data. Components draw it, evidenceText writes it, evidenceCsv copies it; none of them knows
// the kind of defect.
import type { Region } from '../image/index.ts';
import type { PathVertex } from '../render/index.ts';
import type { Reference } from './reference.ts';
import type { Unit } from './units.ts';

interface Shown {
  /** Causes name it; once in a diagnosis. */
  id: string;
  title: string;
  /** Whether it was measured, computed or estimated, and from what. */
  source: string;
}

export interface BarsEvidence extends Shown {
  type: 'bars';
  unit: Unit;
  /** The colour is a name of the palette: a component of the light, or nothing. */
  bars: { label: string; value: number; colour?: string }[];
}

export interface Axis {
  label: string;
  unit: Unit;
  scale: 'linear' | 'log';
}
/** A value on one of the axes that is worth a line: a limit, the present setting. */
export interface Marker {
  axis: 'x' | 'y';
  value: number;
  label: string;
}
export interface CurvesEvidence extends Shown {
  type: 'curves';
  x: Axis;
  y: Axis;
  curves: { label: string; points: [x: number, y: number][]; /** Drawn as steps: the value holds up to the next x. */ steps?: boolean }[]; // prettier-ignore
  markers: Marker[];
}

export interface HistogramEvidence extends Shown {
  type: 'histogram';
  x: Axis;
  /** What is counted: tiles, pixels, rays. */
  counted: string;
  /** One more than the counts. */
  edges: number[];
  counts: number[];
  markers: Marker[];
}

/** One value for each square tile of a region, row by row. */
export interface MapEvidence extends Shown {
  type: 'map';
  /** '': the values say how dense a tile is drawn, and the categories are all there is to read. */
  unit: Unit;
  region: Region;
  tile: number;
  columns: number;
  rows: number;
  values: number[];
  /** What leads in each tile, as a place in `categories`; -1 where nothing does. */
  leading?: number[];
  categories?: { label: string; colour: string; hatched?: boolean }[];
}

export type Cell =
  | { type: 'text'; text: string }
  | { type: 'number'; value: number; unit: Unit }
  /** Linear RGB. */
  | { type: 'swatch'; rgb: [number, number, number] }
  | { type: 'link'; text: string; to: Reference };
export interface TableEvidence extends Shown {
  type: 'table';
  columns: string[];
  rows: Cell[][];
}

export interface PixelsEvidence extends Shown {
  type: 'pixels';
  /** What stands beside each pixel. */
  value: { label: string; unit: Unit };
  pixels: { x: number; y: number; value: number; text: string }[];
}

/** Paths of single samples, from the camera on. */
export interface PathsEvidence extends Shown {
  type: 'paths';
  paths: { x: number; y: number; sample: number; label: string; vertices: PathVertex[]; /** A vertex that matters, as a place in the list, and why. */ marked?: { vertex: number; text: string } }[]; // prettier-ignore
}

/** A way through the scene: world space, metres. */
export interface Ray {
  points: number[][];
  /** Where something stops it; what lies beyond is drawn as shade. */
  stop: number[] | null;
  /** Where something between throws a shadow, from and to, if that is not all along it. */
  range?: [number[], number[]];
}
/** Straight ways through the scene, to be drawn in the Model. */
export interface RaysEvidence extends Shown {
  type: 'rays';
  rays: { label: string; text: string; about: Reference; lines: Ray[] }[];
}

/** Pictures of one region, side by side. */
export interface PicturesEvidence extends Shown {
  type: 'pictures';
  /** `halves`: RGB as half-precision floats, linear, little-endian, base64. */
  pictures: { label: string; width: number; height: number; halves: string }[];
}

/** A layer of occlusion that follows what is dragged, from how far its rays got: values between are blended. */
/** Data of evidence: in it, or kept beside it by their name. */
export type Bytes = { base64: string } | { kept: string };

export interface DialEvidence extends Shown {
  type: 'dial';
  /** Of the frame, that the layer covers. */
  region: Region;
  axis: Axis;
  /** Distances, shortest first. */
  values: number[];
  /** Angles of cones, degrees, narrowest first. */
  cones: number[];
  /** Whether clear surfaces block: both ways where it makes a difference. */
  clear: boolean[];
  width: number;
  height: number;
  /**
   * For each of `clear`, in it for each cone, in it for each value a plane, row by row: the share of the rays that meet
   * something nearer, a byte of 255 parts each. Each plane begins at a multiple of four bytes.
   */
  shares: Bytes;
  /** Where it stands at first. */
  start: DialPlace;
  /** Paths in the document of what can be put there. */
  sets: Record<'distance' | 'falloff' | 'cone' | 'clear', string>;
}
export interface DialPlace {
  distance: number;
  falloff: number;
  cone: number;
  clear: boolean;
}

/** A map as it lies under UVs: what it holds, the borders of its islands, and where two sides of a cut meet. V counts downwards. */
export interface UvEvidence extends Shown {
  type: 'uv';
  /** Of each layer, and the texture coordinates at its first corner; it is 1 wide and high there. */
  width: number;
  height: number;
  origin: [number, number];
  /** Half-precision floats, little-endian, base64; NaN: nothing to say. With names, the values are places in their list. */
  layers: { label: string; unit: Unit; halves: string; names?: string[] }[];
  /** Edges, u, v, u, v each, as single-precision floats, base64: those where islands end, and the others. */
  borders: string;
  wires: string;
  /** Widest first. */
  seams: UvSeam[];
}
export interface UvSeam {
  /** Pixel of the frame; null where it is not seen. */
  pixel: { x: number; y: number } | null;
  /** Pixels of the shot, and metres. */
  gap: number;
  length: number;
  /** In the world, metres, before the map moves it. */
  place: number[];
  sides: [UvSide, UvSide];
}
export interface UvSide {
  u: number;
  v: number;
  /** What the map says there, in the unit of the first layer. */
  value: number;
  /** Texels of the map about it, `side` each way, as a layer has them; the first one begins at (u, v) less half of it. */
  side: number;
  halves: string;
  /** Widths of a texel in texture coordinates. */
  texel: [number, number];
}

export interface ChecklistEvidence extends Shown {
  type: 'checklist';
  checks: { text: string; state: 'passed' | 'failed' | 'unknown'; about: Reference[] }[];
}

export type Evidence =
  | BarsEvidence
  | CurvesEvidence
  | HistogramEvidence
  | MapEvidence
  | TableEvidence
  | PixelsEvidence
  | PathsEvidence
  | RaysEvidence
  | PicturesEvidence
  | DialEvidence
  | UvEvidence
  | ChecklistEvidence;

export const text = (value: string): Cell => ({ type: 'text', text: value });
export const number = (value: number, unit: Unit = ''): Cell => ({ type: 'number', value, unit });
