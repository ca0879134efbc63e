// Padded two-dimensional Sobol' points with hash-based Owen scrambling and index shuffling
// (Burley 2020, "Practical Hash-based Owen Scrambling"). Each pair of dimensions has a key of its own, so any
// number is a pure function of (key, index) and nothing is stored between samples.
//
// The second generator matrix of Sobol' is Pascal's triangle modulo 2. A loop over the set bits of the index
// costs up to 32 steps, because a shuffled index has all its bits in use. Read as a polynomial, the point is p(x + 1)
// where the index is p(x), and over two elements (x + 1)^16 = x^16 + 1: five masked shifts, which the test compares
// with the loop.
import { hash32 } from './hash.ts';

const SCALE = 2 ** -32;

function reverseBits(x: number): number {
  x = ((x >>> 1) & 0x55555555) | ((x & 0x55555555) << 1);
  x = ((x >>> 2) & 0x33333333) | ((x & 0x33333333) << 2);
  x = ((x >>> 4) & 0x0f0f0f0f) | ((x & 0x0f0f0f0f) << 4);
  x = ((x >>> 8) & 0x00ff00ff) | ((x & 0x00ff00ff) << 8);
  return (x >>> 16) | (x << 16);
}

/** Owen scramble of bits that are stored in reverse order (constants: Vegdahl 2021, after Laine & Karras 2011). */
function scrambleReversed(x: number, seed: number): number {
  x ^= Math.imul(x, 0x3d20adea);
  x = (x + seed) | 0;
  x = Math.imul(x, (seed >>> 16) | 1);
  x ^= Math.imul(x, 0x05526c56);
  x ^= Math.imul(x, 0x53a22864);
  return x;
}

/** Second Sobol' dimension of the point with this index, as 32 bits with the first binary digit lowest. */
export function sobolSecond(index: number): number {
  let x = index;
  x ^= (x >>> 16) & 0x0000ffff;
  x ^= (x >>> 8) & 0x00ff00ff;
  x ^= (x >>> 4) & 0x0f0f0f0f;
  x ^= (x >>> 2) & 0x33333333;
  x ^= (x >>> 1) & 0x55555555;
  return x;
}

/**
 * Writes point `index` of the scrambled sequence `key` to out[0] and out[1], both in [0, 1).
 * Any aligned run of 2^m indices is a (0, m, 2)-net.
 */
export function samplePoint(out: Float64Array, key: number, index: number): void {
  const shuffled = reverseBits(scrambleReversed(reverseBits(index), hash32(key)));
  const first = scrambleReversed(shuffled, hash32(key + 0x68bc21eb));
  const second = scrambleReversed(sobolSecond(shuffled), hash32(key + 0x02e5be93));
  out[0] = (reverseBits(first) >>> 0) * SCALE;
  out[1] = (reverseBits(second) >>> 0) * SCALE;
}
