// A look without noise: an edge-avoiding a-trous wavelet filter (Dammertz, Sewtz, Hanika & Lensch 2010, "Edge-avoiding
// a-trous wavelet transform for fast global illumination filtering"), guided by albedo, normal and depth, and by the measured
// variance of each pixel as in Schied et al. 2017, "Spatiotemporal variance-guided filtering".
//
// Light is divided by the albedo before and multiplied after, so that textures stay. A neighbour counts the less the further
// its luminance is away in standard errors, and the noisier it is itself: with the second, a firefly does not spread, and
// hardly counts at its own place. What has light without an error, as an emitter that the camera sees, stays
// as it is to the bit; a pixel that no sample has lit is as unsure as its neighbours are bright.
import { luminance } from '../color/index.ts';
import { FilterPlanes, PLANES } from './filterPlanes.ts';

export const DENOISE_DEFAULTS = {
  /** The filter reaches 2^steps - 1 pixels. */
  steps: 5,
  /** Standard errors by which a neighbour of another luminance loses most of its weight. */
  errors: 3,
  /** Power of the cosine between normals, a power of two. */
  sharpness: 64,
  /** Depths may differ by so many times what the surface's slope explains. */
  depth: 1,
};
export type DenoiseOptions = typeof DENOISE_DEFAULTS;

/** Planes of one picture, row by row. */
export interface NoisyPicture {
  width: number;
  height: number;
  /** Linear. */
  rgb: readonly [Float32Array, Float32Array, Float32Array];
  /** Standard error of the luminance of each pixel. */
  error: Float32Array;
  /** The same by its own samples alone, where `error` was pooled over pixels: it knows fireflies. */
  spread?: Float32Array;
  /** Light that the camera sees itself, of the rgb: lamps and sky. It is no noise, and stays as it is. */
  seen?: readonly [Float32Array, Float32Array, Float32Array];
  albedo?: readonly [Float32Array, Float32Array, Float32Array];
  normal?: readonly [Float32Array, Float32Array, Float32Array];
  depth?: Float32Array;
}

/** Light below this share of the mean has no relative error of its own. */
const FAINT = 0.05;
/** A pixel is what it is where its neighbours are further away than so many of its standard errors. */
const SURE = 3;
/** What is divided by is no darker. It must not jump where an albedo passes this: colours of neighbours would mix at two scales. */
const BLACK = 0.05;

/**
 * @param useKernel whether the kernel does the steps, where it runs
 * @returns RGB, linear
 */
export function denoise(
  picture: NoisyPicture,
  options: DenoiseOptions = DENOISE_DEFAULTS,
  useKernel?: boolean,
): [Float32Array, Float32Array, Float32Array] {
  return lastOf(denoiseSteps(picture, options, useKernel));
}

/** The same step by step, for who has other things to do in between: gives the share that is done. */
export function* denoiseSteps(
  { albedo, depth, error: measured, height, normal, rgb, seen, spread, width }: NoisyPicture,
  options: DenoiseOptions = DENOISE_DEFAULTS,
  useKernel?: boolean,
): Generator<number, [Float32Array, Float32Array, Float32Array]> {
  const error = doubted(measured, rgb, width, height);
  // few samples may be dark, and alike, by chance: then the pooled error is the better one
  const unsure = spread ? doubted(spread, rgb, width, height) : error;
  const planes = new FilterPlanes(width, height, 2 ** Math.max(0, options.steps - 1), useKernel);
  const [lr, lg, lb, variance] = [0, 1, 2, 3].map((k) => planes.plane(PLANES.even + k));
  const [known, varied] = [new Float32Array(error.length), new Float32Array(error.length)];
  const [ar, ag, ab] = albedo ?? [];
  const [sr, sg, sb] = seen ?? [];
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0, p = planes.at(0, y); x < width; x++, p++, i++) {
      const r = ar ? Math.max(ar[i], BLACK) : 1;
      const g = ag ? Math.max(ag[i], BLACK) : 1;
      const b = ab ? Math.max(ab[i], BLACK) : 1;
      lr[p] = (rgb[0][i] - (sr ? sr[i] : 0)) / r;
      lg[p] = (rgb[1][i] - (sg ? sg[i] : 0)) / g;
      lb[p] = (rgb[2][i] - (sb ? sb[i] : 0)) / b;
      const by = 1 / luminance(r, g, b);
      known[i] = (error[i] * by) ** 2;
      variance[p] = varied[i] = (Math.max(unsure[i], error[i]) * by) ** 2;
    }
  planes.fill(PLANES.error, error);
  if (depth) planes.fill(PLANES.depth, depth);
  if (depth) planes.fill(PLANES.slope, slopesOf(depth, width, height));
  normal?.forEach((plane, k) => planes.fill(PLANES.normal + k, plane));
  const [light, guide] = [new Float32Array(error.length), new Float32Array(error.length)];
  const step = { errors: options.errors, depth: options.depth, doublings: Math.round(Math.log2(options.sharpness)), hasDepth: !!depth, hasNormal: !!normal }; // prettier-ignore
  let from: number = PLANES.even;
  let floor = 0;
  yield 0;
  for (let k = 0; k < options.steps; k++) {
    const [r, g, b, now] = [0, 1, 2, 3].map((c) => planes.plane(from + c));
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0, p = planes.at(0, y); x < width; x++, p++, i++) {
        light[i] = luminance(r[p], g[p], b[p]);
        guide[i] = k === 0 ? known[i] : now[p];
      }
    if (k === 0) {
      floor = (FAINT * (light.reduce((sum, v) => sum + v, 0) / light.length)) ** 2;
      settle(light, varied, width, height);
    }
    // relative variances are blurred: beside a lamp the absolute ones of its edge would swallow it
    for (let i = 0; i < guide.length; i++) guide[i] = Math.min(1, guide[i] / (light[i] * light[i] + floor));
    blur(guide, width, height);
    for (let i = 0; i < guide.length; i++) guide[i] *= light[i] * light[i] + floor;
    planes.fill(PLANES.light, light);
    planes.fill(PLANES.guide, guide);
    planes.step(from, 2 ** k, step);
    from = from === PLANES.even ? PLANES.odd : PLANES.even;
    yield (k + 1) / options.steps;
  }
  return rgb.map((plane, k) => {
    const filtered = planes.plane(from + k);
    const out = plane.slice();
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0, p = planes.at(0, y); x < width; x++, p++, i++)
        if (error[i] !== 0)
          out[i] = filtered[p] * (albedo ? Math.max(albedo[k][i], BLACK) : 1) + (seen ? seen[k][i] : 0);
    return out;
  }) as [Float32Array, Float32Array, Float32Array];
}

/** What a generator returns in the end. */
export function lastOf<T>(steps: Generator<unknown, T>): T {
  for (;;) {
    const { done, value } = steps.next();
    if (done) return value as T;
  }
}

/** Errors, where a pixel that no sample has lit by chance is as unsure as those about it are bright. */
function doubted(error: Float32Array, rgb: NoisyPicture['rgb'], width: number, height: number): Float32Array {
  return error.map((e, i) => {
    if (e > 0 || rgb[0][i] + rgb[1][i] + rgb[2][i] > 0) return e;
    const [x, y] = [i % width, Math.floor(i / width)];
    let sum = 0;
    let count = 0;
    for (let qy = Math.max(0, y - 1); qy <= Math.min(height - 1, y + 1); qy++)
      for (let qx = Math.max(0, x - 1); qx <= Math.min(width - 1, x + 1); qx++)
        if (error[qy * width + qx] > 0) {
          const q = qy * width + qx;
          sum += luminance(rgb[0][q], rgb[1][q], rgb[2][q]);
          count++;
        }
    return count > 0 ? sum / count : 0;
  });
}

/** Luminance that pixels are compared by at first: the median of 3 x 3, where the pixel itself cannot be surer of another. */
function settle(light: Float32Array, variance: Float32Array, width: number, height: number): void {
  const own = light.slice();
  const nine = new Float64Array(9);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const above = y > 0 ? i - width : i;
      const below = y < height - 1 ? i + width : i;
      const left = x > 0 ? 1 : 0;
      const right = x < width - 1 ? 1 : 0;
      nine[0] = own[above - left];
      nine[1] = own[above];
      nine[2] = own[above + right];
      nine[3] = own[i - left];
      nine[4] = own[i];
      nine[5] = own[i + right];
      nine[6] = own[below - left];
      nine[7] = own[below];
      nine[8] = own[below + right];
      const median = middleOfNine(nine);
      if (Math.abs(own[i] - median) <= SURE * Math.sqrt(variance[i])) light[i] = median;
    }
}

/** Pairs that are put in order, one after the other, until the middle of nine stands in its place (J. Smith 1996; from memory). */
const EXCHANGES = Uint8Array.of(1, 2, 4, 5, 7, 8, 0, 1, 3, 4, 6, 7, 1, 2, 4, 5, 7, 8, 0, 3, 5, 8, 4, 7, 3, 6, 1, 4, 2, 5, 4, 7, 4, 2, 6, 4, 4, 2); // prettier-ignore

function middleOfNine(v: Float64Array): number {
  for (let k = 0; k < EXCHANGES.length; k += 2) {
    const a = v[EXCHANGES[k]];
    const b = v[EXCHANGES[k + 1]];
    if (a <= b) continue;
    v[EXCHANGES[k]] = b;
    v[EXCHANGES[k + 1]] = a;
  }
  return v[4];
}

/** (1 2 1) / 4 across and down, edges repeated, in place. */
function blur(plane: Float32Array, width: number, height: number): void {
  const across = new Float32Array(plane.length);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) across[i] = (plane[x > 0 ? i - 1 : i] + 2 * plane[i] + plane[x < width - 1 ? i + 1 : i]) / 4; // prettier-ignore
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) plane[i] = (across[y > 0 ? i - width : i] + 2 * across[i] + across[y < height - 1 ? i + width : i]) / 4; // prettier-ignore
}

/** By how much depth changes from pixel to pixel: the smaller of both sides, so that an edge is no slope. */
function slopesOf(depth: Float32Array, width: number, height: number): Float32Array {
  const at = (x: number, y: number) => depth[Math.min(height - 1, Math.max(0, y)) * width + Math.min(width - 1, Math.max(0, x))]; // prettier-ignore
  return depth.map((z, i) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    const across = Math.min(Math.abs(at(x + 1, y) - z), Math.abs(at(x - 1, y) - z));
    const down = Math.min(Math.abs(at(x, y + 1) - z), Math.abs(at(x, y - 1) - z));
    return Math.max(across, down);
  });
}
