// The map of an object under its UVs: heights, padding, stretch, and the sides of its widest seams.
import { toHalves } from '../../formats/index.ts';
import { transformPoint } from '../../math/index.ts';
import { growPadding, placementOf } from '../../shade/index.ts';
import type { UvEvidence, UvSeam, UvSide } from '../evidence.ts';
import { base64 } from '../packPicture.ts';
import type { ObjectReading } from './displacementCauses.ts';
import { PADDING } from './seamCures.ts';
import { words } from './words.ts';

/** Texels that are shown about the side of a seam, each way. */
const PATCH = 40;
/** Edges that are drawn at most: more are one to the eye. */
const MOST_WIRES = 20_000;
/** A texel is painted where it is as its neighbour under the UVs, to this share of the range. No source. */
const PAINTED = 0.1;

export function uvEvidence({ heights, of, seams, uvs }: ObjectReading): UvEvidence {
  const { map, moved, object, stretch } = of;
  const { height, width } = uvs.uses;
  // metres that the surface moves by; a vector has no one height, and its red is shown
  const toLength = moved.kind === 'height' ? stretch * moved.scale : 1;
  const lengthOf = (value: number) => (moved.kind === 'height' ? (value - moved.neutral) * toLength : value);
  const atSmall = (values: ArrayLike<number>) => (x: number, y: number) => values[Math.floor(((y + 0.5) * map.height) / height) * map.width + Math.floor(((x + 0.5) * map.width) / width)]; // prettier-ignore
  const valueAt = atSmall(map.values);
  const paddingAt = atSmall(paddingOf(of, heights.high - heights.low));
  const plane = (value: (x: number, y: number) => number) => halves(Array.from({ length: width * height }, (_, i) => value(i % width, Math.floor(i / width)))); // prettier-ignore
  const own =
    <T>(values: ArrayLike<T>) =>
    (x: number, y: number) =>
      values[y * width + x];
  const uses = own(uvs.uses.counts);
  return {
    type: 'uv',
    id: `uv:${of.id}`,
    title: words.uv(object.name),
    source: words.uvSource,
    width,
    height,
    origin: map.origin,
    layers: [
      { label: words.uvLayers.height, unit: moved.kind === 'height' ? 'm' : '', halves: plane((x, y) => lengthOf(valueAt(x, y))) }, // prettier-ignore
      { label: words.uvLayers.padding, unit: '', halves: plane(paddingAt), names: words.uvPadding },
      { label: words.uvLayers.stretch, unit: '', halves: plane((x, y) => Math.min(1000, own(uvs.uses.stretch)(x, y))) },
      { label: words.uvLayers.uses, unit: '', halves: plane((x, y) => (uses(x, y) === 0 ? NaN : Math.min(2, uses(x, y)) - 1)), names: words.uvUses }, // prettier-ignore
    ],
    borders: singles(uvs.layout.borders.subarray(0, 4 * MOST_WIRES)),
    wires: singles(uvs.layout.wires.subarray(0, 4 * MOST_WIRES)),
    seams: seams.now.list.map((gap): UvSeam => ({
      pixel: Number.isFinite(gap.x) ? { x: Math.floor(gap.x), y: Math.floor(gap.y) } : null,
      gap: Number(gap.gap.toPrecision(3)),
      length: gap.length,
      place: transformPoint(object.transform, gap.at),
      sides: [sideAt(gap.sides[0]), sideAt(gap.sides[1])],
    })),
  };

  function sideAt(at: { u: number; v: number; value: number }): UvSide {
    const p = placementOf(moved.texture);
    const [u, v] = [p[0] * at.u + p[1] * at.v + p[2], p[3] * at.u + p[4] * at.v + p[5]];
    const isTiled = moved.texture.tiles.length > 0;
    const within = (i: number, size: number, wrap: string) => (isTiled || wrap === 'clamp' ? Math.min(size - 1, Math.max(0, i)) : ((i % size) + size) % size); // prettier-ignore
    const texel = (x: number, y: number) => map.values[within(y, map.height, moved.texture.wrapV) * map.width + within(x, map.width, moved.texture.wrapU)]; // prettier-ignore
    const [left, top] = [(u - map.origin[0]) * map.width - PATCH / 2, (v - map.origin[1]) * map.height - PATCH / 2];
    const patch = Array.from({ length: PATCH * PATCH }, (_, i) => lengthOf(texel(Math.floor(left + (i % PATCH) + 0.5), Math.floor(top + Math.floor(i / PATCH) + 0.5)))); // prettier-ignore
    return { u, v, value: lengthOf(at.value), side: PATCH, halves: halves(patch), texel: [1 / map.width, 1 / map.height] }; // prettier-ignore
  }
}

/** 0: under the UVs, 1: beyond them and painted on, 2: beyond them and not; NaN farther away than padding reaches. // 1 a texel */
function paddingOf({ covered, map: { height, values, width } }: ObjectReading['of'], range: number): Float32Array {
  const texels = new Float32Array(values.length * 4);
  values.forEach((value, i) => texels.fill(value, i * 4, i * 4 + 4));
  // grown from NaN, so that what it does not reach stays so
  covered.forEach((is, i) => {
    if (is === 0) texels.fill(NaN, i * 4, i * 4 + 4);
  });
  const grown = growPadding({ width, height, texels }, covered, PADDING).texels;
  return values.map((value, i) => {
    if (covered[i] === 1) return 0;
    const wanted = grown[i * 4];
    return Number.isNaN(wanted) ? NaN : Math.abs(value - wanted) <= PAINTED * range ? 1 : 2;
  });
}

const halves = (values: ArrayLike<number>) => base64(new Uint8Array(toHalves(values).buffer));
const singles = (values: Float64Array) => base64(new Uint8Array(Float32Array.from(values).buffer));
