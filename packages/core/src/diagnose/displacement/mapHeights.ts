import { linearToSrgb } from '../../color/index.ts';
import { displacedMesh, meshShells, type MapReader } from '../../geometry/index.ts';
import type { DisplacedObject } from './displacedObject.ts';

export interface MapHeights {
  /** Of the map over the surface, each value by the area that it lies on. */
  edges: number[];
  counts: number[];
  low: number;
  high: number;
  /** Where it most likely rests, and how that was found. */
  rest: number;
  by: 'signed' | 'mode' | 'median';
}

const BINS = 64;
/** A value that this share of the surface has is where the map rests. Common practice, no source. */
const COMMON = 0.2;
/** Values this close to the middle of the range are meant to be it. */
const NEAR_HALF = 0.03;

/** Histogram of the map over the surface of an object, and its likely neutral value: 0 for signed maps, otherwise its mode or median. */
export function mapHeights({ base, uvs, moved }: DisplacedObject, read: MapReader): MapHeights {
  const { indices, positions } = base;
  const count = positions.length / 3;
  const rgba = new Float64Array(4);
  const values = new Float32Array(count);
  for (let v = 0; v < count; v++) {
    read(uvs[v * 2], uvs[v * 2 + 1], 0, rgba);
    values[v] = moved.kind === 'height' ? rgba[0] : (rgba[0] + rgba[1] + rgba[2]) / 3;
  }
  const areas = new Float64Array(count);
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [indices[t] * 3, indices[t + 1] * 3, indices[t + 2] * 3];
    const [ux, uy, uz] = [0, 1, 2].map((k) => positions[b + k] - positions[a + k]);
    const [vx, vy, vz] = [0, 1, 2].map((k) => positions[c + k] - positions[a + k]);
    const area = Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 6;
    for (const corner of [a, b, c]) areas[corner / 3] += area;
  }
  let [low, high, all] = [Infinity, -Infinity, 0];
  for (let v = 0; v < count; v++) {
    low = Math.min(low, values[v]);
    high = Math.max(high, values[v]);
    all += areas[v];
  }
  const counts = Array.from({ length: BINS }, () => 0);
  const width = high > low ? (high - low) / BINS : 1;
  for (let v = 0; v < count; v++) counts[Math.min(BINS - 1, Math.floor((values[v] - low) / width))] += areas[v] / all;
  const edges = Array.from({ length: BINS + 1 }, (_, i) => low + i * width);
  const most = counts.reduce((best, share, i) => (share > counts[best] ? i : best), 0);
  let half = 0;
  const middle = counts.findIndex((share) => (half += share) >= 0.5);
  const by = low < -0.01 * (high - low) && high > 0 ? 'signed' : counts[most] >= COMMON ? 'mode' : 'median';
  const found = by === 'signed' ? 0 : edges[by === 'mode' ? most : middle] + width / 2;
  return { edges, counts, low, high, rest: Math.abs(found - 0.5) < NEAR_HALF ? 0.5 : Number(found.toFixed(2)), by }; // prettier-ignore
}

/** The numbers as they are stored, of a map that is decoded as a colour. */
export function asStored(read: MapReader): MapReader {
  return (u, v, footprint, out) => {
    read(u, v, footprint, out);
    for (let k = 0; k < 3; k++) out[k] = linearToSrgb(out[k]);
  };
}

/** What the body encloses, m3, in the space of its mesh; 0 where it is open. */
export function volumeOf({ base, moved, uvs }: DisplacedObject, read: MapReader, neutral: number): number {
  const { indices, owner, points, positions } = displacedMesh(base, uvs, read, { ...moved, neutral });
  const places = new Float32Array(points * 3);
  owner.forEach((o, v) => places.set(positions.subarray(v * 3, v * 3 + 3), o * 3));
  const shells = meshShells({ positions: places, indices: indices.map((v) => owner[v]) });
  return shells.some(({ rim }) => rim > 0) ? 0 : Math.abs(shells.reduce((sum, { volume }) => sum + volume, 0));
}
