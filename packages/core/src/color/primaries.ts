// Linear RGB of other primaries as linear RGB of Rec. 709.
//
// Chromaticities x, y of red, green, blue and white: ITU-R BT.709, SMPTE EG 432-1 with D65 (Display P3), ITU-R BT.2020,
// SMPTE ST 2065-1 (AP0) and the Academy's S-2014-004 (AP1), whose white is near D60. Whites are adapted by the cone
// responses of Lam 1985 ("Bradford"), as ICC profiles do.
import { invertMatrix3, multiplyMatrix3 } from '../math/index.ts';

export const PRIMARIES = {
  rec709: [0.64, 0.33, 0.3, 0.6, 0.15, 0.06, 0.3127, 0.329],
  'display-p3': [0.68, 0.32, 0.265, 0.69, 0.15, 0.06, 0.3127, 0.329],
  rec2020: [0.708, 0.292, 0.17, 0.797, 0.131, 0.046, 0.3127, 0.329],
  ap0: [0.7347, 0.2653, 0, 1, 0.0001, -0.077, 0.32168, 0.33767],
  ap1: [0.713, 0.293, 0.165, 0.83, 0.128, 0.044, 0.32168, 0.33767],
} as const;
export type Primaries = keyof typeof PRIMARIES;

const CONES = [0.8951, 0.2664, -0.1614, -0.7502, 1.7135, 0.0367, 0.0389, -0.0685, 1.0296];

/** 3 x 3, row by row; null where nothing is to be done. */
export function toRec709(from: Primaries): number[] | null {
  return from === 'rec709' ? null : chromaticitiesToRec709(PRIMARIES[from]);
}

/** The same from x, y of red, green, blue and white; null where they are those of Rec. 709 or make no colour space. */
export function chromaticitiesToRec709(from: ArrayLike<number>): number[] | null {
  const own = Array.from(from);
  if (own.every((v, i) => Math.abs(v - PRIMARIES.rec709[i]) < 1e-4)) return null;
  const xyz = multiplyMatrix3(adaptation(whiteOf(own), whiteOf(PRIMARIES.rec709)), toXyz(own));
  const matrix = multiplyMatrix3(invertMatrix3(toXyz(PRIMARIES.rec709)), xyz);
  return matrix.every(Number.isFinite) ? matrix : null;
}

/** Weights of red, green and blue in the luminance of a colour space, by x, y of its primaries and white. */
export function luminanceWeights(from: ArrayLike<number>): number[] {
  return toXyz(Array.from(from)).slice(3, 6);
}

/** The way back: 3 x 3, row by row. */
export const fromRec709 = (to: Exclude<Primaries, 'rec709'>): number[] => invertMatrix3(toRec709(to)!);

function whiteOf(p: readonly number[]): number[] {
  const [x, y] = p.slice(6);
  return [x / y, 1, (1 - x - y) / y];
}

/** Linear RGB to CIE XYZ with white at Y = 1 (SMPTE RP 177). */
function toXyz(p: readonly number[]): number[] {
  const columns = [0, 2, 4].map((i) => [p[i], p[i + 1], 1 - p[i] - p[i + 1]]);
  const unscaled = [0, 1, 2].flatMap((row) => columns.map((c) => c[row]));
  const inverse = invertMatrix3(unscaled);
  const scales = apply(inverse, whiteOf(p));
  return unscaled.map((v, i) => v * scales[i % 3]);
}

function adaptation(from: number[], to: number[]): number[] {
  const [a, b] = [apply(CONES, from), apply(CONES, to)];
  const scaled = CONES.map((v, i) => (v * b[Math.floor(i / 3)]) / a[Math.floor(i / 3)]);
  return multiplyMatrix3(invertMatrix3(CONES), scaled);
}

function apply(m: number[], v: number[]): number[] {
  return [0, 3, 6].map((r) => m[r] * v[0] + m[r + 1] * v[1] + m[r + 2] * v[2]);
}
