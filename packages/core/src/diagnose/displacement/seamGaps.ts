import { displacedMesh, type MapReader, type ShapedMesh } from '../../geometry/index.ts';
import type { Region } from '../../image/index.ts';
import type { DisplacedObject } from './displacedObject.ts';

export interface SeamGaps {
  /** Places along seams where the gap was taken. */
  places: number;
  /** Mean of the widest tenth: most of a seam may run where the map is flat. Pixels of the shot. */
  wide: number;
  worst: number;
  /** Metres in the world. */
  worstLength: number;
  /** Widest first: pixels of the frame where they are seen, and how wide they are. */
  list: {
    x: number;
    y: number;
    gap: number;
    length: number;
    /** Where it is before the map moves it, in the space of the object. */
    at: number[];
    sides: { u: number; v: number; /** Of the map. */ value: number }[];
  }[];
}

/** Gaps that are listed. */
const MOST = 12;
/** Gaps of the list are at least this far apart, pixels, so that one tear is not the whole list. */
const APART = 8;

/** A side dips where its value is off by more than this share of what the map spans. No source. */
const DIPS = 0.1;

/**
 * How far the sides of each seam part when the map moves them: vertices of one point that have UVs of their own ask the map at
 * different places. Taken at each vertex of the subdivided seam that the region shows, whether or not it is in sight. Where both sides dip alike into what was never painted, the groove counts as a gap.
 * @param painted the map with its paint grown beyond the UVs; null: grooves are not looked for
 * @param span of the map
 */
export function seamGaps(
  {
    moved,
    pixels,
    places: owner,
    seenAt,
    stretch,
  }: Pick<DisplacedObject, 'moved' | 'pixels' | 'places' | 'seenAt' | 'stretch'>,
  base: ShapedMesh,
  uvs: Float32Array,
  read: MapReader,
  region: Region | null,
  painted: MapReader | null,
  span: number,
): SeamGaps {
  const { positions } = displacedMesh(base, uvs, read, moved);
  const first = new Int32Array(owner.length).fill(-1);
  let [places, worst, worstLength] = [0, 0, 0];
  const all: SeamGaps['list'] = [];
  const seen = new Set<number>();
  const rgba = new Float64Array(4);
  for (let v = 0; v < owner.length - base.copies.length; v++) {
    const other = first[owner[v]];
    if (other < 0) {
      first[owner[v]] = v;
      continue;
    }
    const [x, y] = [seenAt[v * 2], seenAt[v * 2 + 1]];
    if (region && !(x >= region.x && y >= region.y && x < region.x + region.width && y < region.y + region.height)) continue; // prettier-ignore
    const apart = Math.hypot(...[0, 1, 2].map((k) => positions[v * 3 + k] - positions[other * 3 + k]));
    const length = Math.max(apart, grooveAt(v), grooveAt(other));
    const gap = length / pixels[v];
    if (!seen.has(owner[v])) places++;
    seen.add(owner[v]);
    worst = Math.max(worst, gap);
    worstLength = Math.max(worstLength, stretch * length);
    all.push({ x, y, gap, length: stretch * length, at: [...base.positions.subarray(v * 3, v * 3 + 3)], sides: [v, other].map(sideAt) }); // prettier-ignore
  }
  all.sort((a, b) => b.gap - a.gap);
  const list: SeamGaps['list'] = [];
  for (const one of all) {
    if (list.length === MOST) break;
    if (list.every(({ x, y }) => Math.hypot(x - one.x, y - one.y) >= APART)) list.push(one);
  }
  const tenth = all.slice(0, Math.ceil(all.length / 10));
  const wide = tenth.reduce((sum, { gap }) => sum + gap, 0) / Math.max(1, tenth.length);
  return { places, wide, worst, worstLength, list };

  function sideAt(vertex: number): SeamGaps['list'][number]['sides'][number] {
    const [u, v] = [uvs[vertex * 2], uvs[vertex * 2 + 1]];
    read(u, v, 0, rgba);
    return { u, v, value: rgba[0] };
  }

  function grooveAt(v: number): number {
    if (!painted || moved.kind !== 'height') return 0;
    read(uvs[v * 2], uvs[v * 2 + 1], 0, rgba);
    const [value] = rgba;
    painted(uvs[v * 2], uvs[v * 2 + 1], 0, rgba);
    const off = Math.abs(value - rgba[0]);
    return off > DIPS * span ? off * Math.abs(moved.scale) : 0;
  }
}
