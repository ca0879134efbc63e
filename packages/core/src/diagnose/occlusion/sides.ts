// Sides of objects that meet in the picture: flat faces of one object, separated by their normals, and how much they differ
// in lightness. A body reads by them, and they are alike where light comes from everywhere.
import { lightness, luminance } from '../../color/index.ts';
import { cropPlane, findChannel, type Picture, type Region } from '../../image/index.ts';

export const SIDES = {
  /** Step to which normals are rounded. */
  step: 1 / 8,
  /** Normals of pixels at an edge are means of both sides, and shorter. */
  length: 0.985,
  /** Pixels that a side has at least, as a share of the region. */
  share: 0.002,
  /** Pixels along which two sides meet at least, and the distance between a pixel of one and of the other. */
  edge: 4,
  apart: 3,
  /** Cosine of the angle between sides, at most. */
  turn: Math.cos((20 * Math.PI) / 180),
  /** Longest edges that are looked at. */
  pairs: 8,
  /** L* at which sides read as separate at a glance: a larger difference counts as this. Common practice, no source. */
  plenty: 10,
} as const;

export interface Side {
  /** As the picture numbers objects. */
  object: number;
  normal: number[];
  /** Means over it: of the picture, and what it reflects of white light. */
  luminance: number;
  albedo: number;
  /** Pixels of it, as places in the region. */
  pixels: number[];
}
export interface SidePair {
  sides: [Side, Side];
  /** Pixels along which they meet. */
  edge: number;
}

/** Pairs of sides that meet, the longest edges first; none where the picture has no normals or objects. */
export function findSides(picture: Picture, region: Region): SidePair[] {
  const plane = (layer: string, channel: string) => {
    const data = findChannel(picture, layer, channel)?.data;
    return data && cropPlane(picture, data, region);
  };
  const object = plane('object', 'id');
  const normals = [...'XYZ'].map((c) => plane('normal', c));
  const [beauty, albedo] = ['beauty', 'albedo'].map((layer) => [...'RGB'].map((c) => plane(layer, c)));
  if (!object || [...normals, ...beauty].some((p) => !p)) return [];
  const [nx, ny, nz] = normals as Float32Array[];
  const at = (of: (Float32Array | undefined)[], i: number) => luminance(of[0]?.[i] ?? 0.5, of[1]?.[i] ?? 0.5, of[2]?.[i] ?? 0.5); // prettier-ignore
  // a number for each object and direction; -1: no side. Strings would be two million for a frame of 1920 x 1080
  const step = (v: number) => Math.round((v + 1) / SIDES.step);
  const steps = step(1) + 1;
  const names = new Float64Array(object.length).fill(-1);
  for (let i = 0; i < object.length; i++)
    if (nx[i] ** 2 + ny[i] ** 2 + nz[i] ** 2 >= SIDES.length ** 2) names[i] = ((object[i] * steps + step(nx[i])) * steps + step(ny[i])) * steps + step(nz[i]); // prettier-ignore
  const { height, width } = region;
  const found = new Map<number, Side>();
  for (let y = 1; y + 1 < height; y++)
    for (let x = 1; x + 1 < width; x++) {
      const i = y * width + x;
      const name = names[i];
      // pixels at an edge show what is beside it as well
      if (name < 0 || names[i - 1] !== name || names[i + 1] !== name || names[i - width] !== name || names[i + width] !== name) continue; // prettier-ignore
      let side = found.get(name);
      if (!side)
        found.set(name, (side = { object: object[i], normal: [0, 0, 0], luminance: 0, albedo: 0, pixels: [] }));
      side.pixels.push(i);
      side.luminance += at(beauty, i);
      side.albedo += at(albedo, i);
      side.normal[0] += nx[i];
      side.normal[1] += ny[i];
      side.normal[2] += nz[i];
    }
  for (const side of found.values()) {
    const length = Math.hypot(...side.normal);
    side.normal = side.normal.map((v) => v / length);
    side.luminance /= side.pixels.length;
    side.albedo /= side.pixels.length;
  }
  const edges = new Map<string, SidePair>();
  const meet = (i: number, j: number) => {
    const [one, other] = [names[i], names[j]];
    if (one < 0 || other < 0 || one === other || object[i] !== object[j]) return;
    const key = `${Math.min(one, other)} ${Math.max(one, other)}`;
    const pair = edges.get(key);
    if (pair) pair.edge++;
    else if (found.has(one) && found.has(other)) edges.set(key, { sides: [found.get(one)!, found.get(other)!], edge: 1 }); // prettier-ignore
  };
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (x + SIDES.apart < width) meet(i, i + SIDES.apart);
      if (y + SIDES.apart < height) meet(i, i + SIDES.apart * width);
    }
  const least = SIDES.share * object.length;
  return [...edges.values()]
    .filter(
      ({ edge, sides: [a, b] }) =>
        edge >= SIDES.edge * SIDES.apart &&
        Math.min(a.pixels.length, b.pixels.length) >= least &&
        dot(a.normal, b.normal) < SIDES.turn,
    )
    .sort((a, b) => b.edge - a.edge)
    .slice(0, SIDES.pairs);
}

const dot = (a: number[], b: number[]) => a.reduce((sum, v, k) => sum + v * b[k], 0);

/** How far the sides of pairs are apart, L*, by the length of their edges: what is beyond plenty counts as that. */
export function contrastOf(pairs: SidePair[], luminanceOf: (side: Side) => number): number {
  const all = pairs.reduce((sum, { edge }) => sum + edge, 0);
  return pairs.reduce((sum, pair) => sum + pair.edge * Math.min(SIDES.plenty, apart(pair, luminanceOf)), 0) / all;
}

/** L* between both sides of a pair. */
export const apart = ({ sides: [a, b] }: SidePair, luminanceOf: (side: Side) => number) =>
  Math.abs(lightness(luminanceOf(a)) - lightness(luminanceOf(b)));

/** Of a picture; null where no sides meet in it. */
export function sideContrast(picture: Picture, region: Region): number | null {
  const pairs = findSides(picture, region);
  return pairs.length > 0 ? contrastOf(pairs, ({ luminance: y }) => y) : null;
}
