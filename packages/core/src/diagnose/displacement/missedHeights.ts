// What a mesh misses of its map between its vertices: faces are flat, and the map is curved. Where it is much, the mesh is too
// coarse, whatever the share of the map's detail that it shows elsewhere.
import type { MapReader } from '../../geometry/index.ts';
import { quantile } from '../../math/index.ts';
import type { DisplacedObject } from './displacedObject.ts';

export interface MissedHeights {
  /** Of 95 % of the edges at most, at the present level and the next ones, pixels. */
  byLevel: number[];
  /** At the present level: where the middle of each edge is seen, pixels of the frame, and what is missed there, pixels. */
  places: { x: number; y: number; missed: number }[];
}

/** Levels beyond the present one. */
const NEXT = 3;
const MOST_EDGES = 60_000;
const ALL_BUT_FEW = 0.95;

/**
 * Half way along an edge the map stands higher or lower than the mean of its ends, by its curvature (the sagitta of the arc).
 * Each level halves the edges: they are asked at the parts of the present ones.
 */
export function missedHeights(
  {
    base: { indices },
    moved,
    pixels,
    seenAt,
    uvs,
  }: Pick<DisplacedObject, 'base' | 'moved' | 'pixels' | 'seenAt' | 'uvs'>,
  read: MapReader,
): MissedHeights {
  // prettier-ignore
  const rgba = new Float64Array(4);
  const channels = moved.kind === 'height' ? 1 : 3;
  const step = 3 * Math.max(1, Math.ceil(indices.length / MOST_EDGES));
  const [low, middle, high] = [new Float64Array(channels), new Float64Array(channels), new Float64Array(channels)];
  const valueAt = (a: number, b: number, at: number, out: Float64Array) => {
    read(uvs[a * 2] + at * (uvs[b * 2] - uvs[a * 2]), uvs[a * 2 + 1] + at * (uvs[b * 2 + 1] - uvs[a * 2 + 1]), 0, rgba);
    out.set(rgba.subarray(0, channels));
  };
  const perPixel = (vertex: number) => Math.abs(moved.scale) / pixels[vertex];
  const missed: number[][] = Array.from({ length: NEXT + 1 }, () => []);
  const places: MissedHeights['places'] = [];
  for (let t = 0, turn = 0; t < indices.length; t += step, turn++) {
    const [a, b] = [indices[t + (turn % 3)], indices[t + ((turn + 1) % 3)]];
    for (let level = 0; level <= NEXT; level++) {
      // one of the parts that the edge is cut into, another for each edge
      const parts = 2 ** level;
      const from = (turn % parts) / parts;
      valueAt(a, b, from, low);
      valueAt(a, b, from + 0.5 / parts, middle);
      valueAt(a, b, from + 1 / parts, high);
      let square = 0;
      for (let k = 0; k < channels; k++) square += (middle[k] - (low[k] + high[k]) / 2) ** 2;
      const height = perPixel(a) * Math.sqrt(square);
      missed[level].push(height);
      if (level === 0) places.push({ x: (seenAt[a * 2] + seenAt[b * 2]) / 2, y: (seenAt[a * 2 + 1] + seenAt[b * 2 + 1]) / 2, missed: height }); // prettier-ignore
    }
  }
  return { byLevel: missed.map((of) => (of.length > 0 ? quantile(of, ALL_BUT_FEW) : 0)), places };
}
