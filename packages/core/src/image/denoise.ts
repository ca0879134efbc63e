// A look without noise: an edge-avoiding a-trous wavelet filter (Dammertz, Sewtz, Hanika & Lensch 2010, "Edge-avoiding
// a-trous wavelet transform for fast global illumination filtering"), guided by albedo, normal and depth, and by the measured
// variance of each pixel as in Schied et al. 2017, "Spatiotemporal variance-guided filtering".
//
// Light is divided by the albedo before and multiplied after, so that textures stay. A neighbour counts the less the further
// its luminance is away in standard errors, and the noisier it is itself: with the second, a firefly does not spread, and
// hardly counts at its own place. What has light without an error, as an emitter that the camera sees, stays
// as it is to the bit; a pixel that no sample has lit is as unsure as its neighbours are bright.
import { luminance } from '../color/index.ts';

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
/** Weights of the kernel by distance: a triangle, a third of the work of the B3 spline of 5 x 5. */
const KERNEL = [1 / 2, 1 / 4];
/** Of each of the 8 neighbours: // 0 across, 1 down, 2 distance, 3 weight */
const NEIGHBOURS = Float64Array.from(
  [-1, 0, 1].flatMap(
    (dy) =>
    [-1, 0, 1].flatMap((dx) => (dx === 0 && dy === 0 ? [] : [dx, dy, Math.hypot(dx, dy), KERNEL[Math.abs(dx)] * KERNEL[Math.abs(dy)]])), // prettier-ignore
  ),
);

/** @returns RGB, linear */
export function denoise(
  { albedo, depth, error: measured, height, normal, rgb, seen, spread, width }: NoisyPicture,
  options: DenoiseOptions = DENOISE_DEFAULTS,
): [Float32Array, Float32Array, Float32Array] {
  const error = doubted(measured, rgb, width, height);
  const divided = albedo?.map((plane) => plane.map((a) => Math.max(a, BLACK)));
  const squared = (of: Float32Array) => of.map((e, i) => (e / (divided ? luminance(divided[0][i], divided[1][i], divided[2][i]) : 1)) ** 2); // prettier-ignore
  const slopes = depth && slopesOf(depth, width, height);
  const empty = () => new Float32Array(error.length);
  const lit = rgb.map((plane, k) => plane.map((v, i) => (v - (seen ? seen[k][i] : 0)) / (divided ? divided[k][i] : 1)));
  // few samples may be dark, and alike, by chance: then the pooled error is the better one
  const unsure = spread ? doubted(spread, rgb, width, height).map((e, i) => Math.max(e, error[i])) : error;
  let from: Planes = [...lit, squared(unsure)];
  let to: Planes = [empty(), empty(), empty(), empty()];
  const light = empty();
  const guide = empty();
  const known = squared(error);
  const floor = (FAINT * meanOf(from)) ** 2;
  for (let step = 0; step < options.steps; step++) {
    for (let i = 0; i < light.length; i++) light[i] = luminance(from[0][i], from[1][i], from[2][i]);
    if (step === 0) settle(light, from[3], width, height);
    // relative variances are blurred: beside a lamp the absolute ones of its edge would swallow it
    const of = step === 0 ? known : from[3];
    for (let i = 0; i < guide.length; i++) guide[i] = Math.min(1, of[i] / (light[i] * light[i] + floor));
    blur(guide, width, height);
    for (let i = 0; i < guide.length; i++) guide[i] *= light[i] * light[i] + floor;
    const guides = { light, guide, error, depth, slopes, normal };
    filterOnce(from, to, guides, { ...options, apart: 2 ** step, height, width });
    [from, to] = [to, from];
  }
  const out = rgb.map((plane, k) =>
    from[k].map((v, i) => (error[i] === 0 ? plane[i] : v * (divided ? divided[k][i] : 1) + (seen ? seen[k][i] : 0))),
  );
  return out as [Float32Array, Float32Array, Float32Array];
}

/** // 0..2 RGB over albedo, 3 variance of its luminance */
type Planes = Float32Array[];

interface Guides {
  light: Float32Array;
  /** Variance of the pixels about. */
  guide: Float32Array;
  error: Float32Array;
  depth?: Float32Array;
  slopes?: Float32Array;
  normal?: NoisyPicture['normal'];
}

const NONE = new Float32Array(0);

/** One step: each pixel from 9, `apart` pixels from each other. By itself, so that the engine keeps it compiled. */
function filterOnce(
  [r, g, b, variance]: Planes,
  [nr, ng, nb, nv]: Planes,
  { depth = NONE, error, guide, light, normal, slopes = NONE }: Guides,
  { apart, depth: perSlope, errors, height, sharpness, width }: DenoiseOptions & { apart: number; height: number; width: number }, // prettier-ignore
): void {
  const [nx, ny, nz] = normal ?? [NONE, NONE, NONE];
  const hasDepth = depth.length > 0;
  const hasNormal = nx.length > 0;
  const doublings = Math.round(Math.log2(sharpness));
  for (let y = 0, p = 0; y < height; y++)
    for (let x = 0; x < width; x++, p++) {
      if (error[p] === 0) {
        nr[p] = r[p];
        ng[p] = g[p];
        nb[p] = b[p];
        nv[p] = 0;
        continue;
      }
      const here = guide[p] + 1e-30;
      const lit = light[p];
      const perError = 1 / (errors * Math.sqrt(here) + 1e-12);
      const slope = hasDepth ? perSlope * slopes[p] * apart : 0;
      const flat = hasDepth ? 1e-4 * depth[p] + 1e-9 : 0;
      const perStep = 1 / (slope + flat);
      const perCorner = 1 / (slope * Math.SQRT2 + flat);
      let sum = KERNEL[0] * KERNEL[0] * (here / (here + variance[p]) + 1e-6);
      let sr = sum * r[p];
      let sg = sum * g[p];
      let sb = sum * b[p];
      let sv = sum * sum * variance[p];
      for (let n = 0; n < NEIGHBOURS.length; n += 4) {
        const qx = x + NEIGHBOURS[n] * apart;
        const qy = y + NEIGHBOURS[n + 1] * apart;
        if (qx < 0 || qy < 0 || qx >= width || qy >= height) continue;
        const q = qy * width + qx;
        // without an error of its own it is another thing, as a lamp is before its wall
        if (error[q] === 0) continue;
        let weight = NEIGHBOURS[n + 3] * here;
        if (hasNormal) {
          let alike = nx[p] * nx[q] + ny[p] * ny[q] + nz[p] * nz[q];
          if (alike < 0.5) continue;
          for (let k = 0; k < doublings; k++) alike *= alike;
          weight *= alike;
        }
        let distance = Math.abs(lit - light[q]) * perError;
        if (hasDepth) distance += Math.abs(depth[p] - depth[q]) * (NEIGHBOURS[n + 2] === 1 ? perStep : perCorner);
        // 1 / (1 + d + d^2 / 2 + d^3 / 6) follows exp(-d) closely enough; divisions are what takes the time
        weight /= (here + variance[q]) * (1 + distance * (1 + distance * (0.5 + distance / 6)));
        sum += weight;
        sr += weight * r[q];
        sg += weight * g[q];
        sb += weight * b[q];
        sv += weight * weight * variance[q];
      }
      nr[p] = sr / sum;
      ng[p] = sg / sum;
      nb[p] = sb / sum;
      nv[p] = sv / (sum * sum);
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

function meanOf([r, g, b]: Planes): number {
  let sum = 0;
  for (let i = 0; i < r.length; i++) sum += luminance(r[i], g[i], b[i]);
  return sum / r.length;
}

/** Luminance that pixels are compared by at first: the median of 3 x 3, where the pixel itself cannot be surer of another. */
function settle(light: Float32Array, variance: Float32Array, width: number, height: number): void {
  const own = light.slice();
  const nine = new Float64Array(9);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      for (let n = 0; n < 9; n++) {
        const qx = Math.min(width - 1, Math.max(0, x + (n % 3) - 1));
        const qy = Math.min(height - 1, Math.max(0, y + Math.floor(n / 3) - 1));
        nine[n] = own[qy * width + qx];
      }
      nine.sort();
      if (Math.abs(own[i] - nine[4]) <= SURE * Math.sqrt(variance[i])) light[i] = nine[4];
    }
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
