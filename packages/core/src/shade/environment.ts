// An environment picture, sampled in proportion to its brightness.
// Latitude-longitude: v = polar angle from +Y over pi, u = 1/2 + atan2(x, -z) / 2 pi.
import { searchRunningSum } from '../math/index.ts';
import { luminance } from '../color/index.ts';
import type { MakeBuffer } from '../trace/index.ts';
import type { TexturePicture } from '../formats/index.ts';
import type { LightSample } from './lights.ts';
import type { Direction } from './ray.ts';

export interface EnvironmentMap {
  width: number;
  height: number;
  /** Radiance, RGBA. */
  texels: Float32Array;
  /** Running sums within each row, each ending at 1. */
  rows: Float32Array;
  /** Running sum over the rows, ending at 1. */
  columns: Float32Array;
  /** Chance of each texel times the number of texels. */
  relative: Float32Array;
  /** One colour from everywhere. */
  even: boolean;
  /** Rotation about +Y, counter-clockwise seen from above: cosine and sine. */
  cosine: number;
  sine: number;
}

/** @param rotation degrees about +Y */
export function buildEnvironment(
  picture: TexturePicture | null,
  color: number[],
  rotation: number,
  makeBuffer: MakeBuffer,
): EnvironmentMap {
  const width = picture?.width ?? 64;
  const height = picture?.height ?? 32;
  const floats = (count: number) => new Float32Array(makeBuffer(count * 4));
  const texels = floats(width * height * 4);
  for (let i = 0; i < width * height; i++)
    for (let k = 0; k < 3; k++) texels[i * 4 + k] = color[k] * Math.max(0, picture ? picture.texels[i * 4 + k] : 1);

  const weights = new Float64Array(width * height);
  let total = 0;
  for (let y = 0; y < height; y++) {
    const sine = Math.sin((Math.PI * (y + 0.5)) / height);
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      weights[i] = sine * luminance(texels[i * 4], texels[i * 4 + 1], texels[i * 4 + 2]);
      total += weights[i];
    }
  }
  // bilinear look-ups spread light into dark neighbours: give every texel a small chance
  const floor = total > 0 ? (1e-3 * total) / weights.length : 1;
  const rows = floats(width * height);
  const columns = floats(height);
  const relative = floats(width * height);
  const sum = weights.reduce((s, w) => s + w + floor, 0);
  let down = 0;
  for (let y = 0; y < height; y++) {
    let rowSum = 0;
    for (let x = 0; x < width; x++) rowSum += weights[y * width + x] + floor;
    let across = 0;
    for (let x = 0; x < width; x++) {
      const weight = weights[y * width + x] + floor;
      across += weight;
      rows[y * width + x] = across / rowSum;
      relative[y * width + x] = (weight / sum) * weights.length;
    }
    rows[y * width + width - 1] = 1;
    down += rowSum;
    columns[y] = down / sum;
  }
  columns[height - 1] = 1;
  const even = picture === null;
  return turnEnvironment({ width, height, texels, rows, columns, relative, even, cosine: 1, sine: 0 }, rotation);
}

/** The same environment, turned: degrees about +Y. */
export function turnEnvironment(map: EnvironmentMap, rotation: number): EnvironmentMap {
  const angle = (rotation * Math.PI) / 180;
  return { ...map, cosine: Math.cos(angle), sine: Math.sin(angle) };
}

/** Radiance from a direction, and the density of sampleEnvironment there, per steradian, into out. */
export function environmentAt(map: EnvironmentMap, along: Direction, out: LightSample): void {
  if (map.even) return setEven(map, out);
  const { dx: x, dy: y, dz: z } = along;
  const { width, height } = map;
  const rx = map.cosine * x - map.sine * z;
  const rz = map.sine * x + map.cosine * z;
  const u = 0.5 + Math.atan2(rx, -rz) / (2 * Math.PI);
  const v = Math.acos(Math.min(1, Math.max(-1, y))) / Math.PI;
  const column = Math.min(width - 1, Math.floor(u * width));
  const row = Math.min(height - 1, Math.floor(v * height));
  setRadiance(map, u, v, out);
  setDensity(map, row * width + column, Math.sqrt(Math.max(1e-12, 1 - y * y)), out);
}

/** The same everywhere. */
function setEven({ texels }: EnvironmentMap, out: LightSample): void {
  for (let k = 0; k < 3; k++) out.radiance[k] = texels[k];
  out.density = 1 / (4 * Math.PI);
}

/** Between the four texels about a place of the picture. */
function setRadiance({ width, height, texels }: EnvironmentMap, u: number, v: number, { radiance }: LightSample): void {
  const fx = u * width - 0.5;
  const fy = Math.min(height - 1, Math.max(0, v * height - 0.5));
  const x0 = Math.floor(fx);
  const y0 = Math.floor(fy);
  const xa = (x0 + width) % width;
  const xb = (x0 + 1) % width;
  const yb = Math.min(height - 1, y0 + 1);
  const wx = fx - x0;
  const wy = fy - y0;
  for (let k = 0; k < 3; k++)
    radiance[k] =
      (texels[(y0 * width + xa) * 4 + k] * (1 - wx) + texels[(y0 * width + xb) * 4 + k] * wx) * (1 - wy) +
      (texels[(yb * width + xa) * 4 + k] * (1 - wx) + texels[(yb * width + xb) * 4 + k] * wx) * wy;
}

/** @param texel that the direction lies in. sine: of its angle from the pole */
function setDensity({ relative }: EnvironmentMap, texel: number, sine: number, out: LightSample): void {
  out.density = relative[texel] / (2 * Math.PI * Math.PI * sine);
}

/**
 * A direction by brightness, chosen by out.u and out.v, and its density. Its place in the picture is left in them for
 * readSampled(): half of all samples lie behind the surface that asks, and nobody needs their radiance.
 */
export function sampleEnvironment(map: EnvironmentMap, out: LightSample): void {
  const { u: s, v: t } = out;
  if (map.even) {
    const y = 1 - 2 * t;
    const across = Math.sqrt(Math.max(0, 1 - y * y));
    out.dx = across * Math.cos(2 * Math.PI * s);
    out.dy = y;
    out.dz = across * Math.sin(2 * Math.PI * s);
    return setEven(map, out);
  }
  const { width, height, rows, columns } = map;
  const row = searchRunningSum(columns, 0, height, t);
  const below = row > 0 ? columns[row - 1] : 0;
  const v = (row + (t - below) / Math.max(1e-12, columns[row] - below)) / height;
  const at = row * width;
  const i = searchRunningSum(rows, at, width, s);
  const left = i > at ? rows[i - 1] : 0;
  const u = (i - at + (s - left) / Math.max(1e-12, rows[i] - left)) / width;
  const polar = Math.PI * Math.min(1, v);
  const around = 2 * Math.PI * (u - 0.5);
  const sine = Math.sin(polar);
  const rx = sine * Math.sin(around);
  const rz = -sine * Math.cos(around);
  out.dx = map.cosine * rx + map.sine * rz;
  out.dy = Math.cos(polar);
  out.dz = -map.sine * rx + map.cosine * rz;
  out.u = u;
  out.v = Math.min(1, v);
  setDensity(map, i, Math.max(1e-6, sine), out);
}

/** The radiance of the direction that sampleEnvironment has chosen. */
export function readSampled(map: EnvironmentMap, out: LightSample): void {
  if (!map.even) setRadiance(map, out.u, out.v, out);
}

/** Mean luminance over the sphere. */
export function meanRadiance({ width, height, texels }: EnvironmentMap): number {
  let sum = 0;
  let weights = 0;
  for (let y = 0; y < height; y++) {
    const sine = Math.sin((Math.PI * (y + 0.5)) / height);
    for (let i = y * width * 4; i < (y + 1) * width * 4; i += 4)
      sum += sine * luminance(texels[i], texels[i + 1], texels[i + 2]);
    weights += sine * width;
  }
  return sum / weights;
}
