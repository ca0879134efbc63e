// A film on its way between threads, and to the database and back. Two of three of its numbers are 0 where few samples were taken,
// and those are left out. Deflating it as well made it a fifth smaller and took 6 ms of both ways instead of 2, beside 12 to 40 ms for
// a sample of each of its 32 x 32 pixels; turning it into planes of slots took as long as this and left twice the bytes.
import type { Region } from '../image/index.ts';
import { FILM, type Film } from './film.ts';
import type { PathTallies } from './pathTallies.ts';

export interface PackedFilm {
  region: Region;
  /** Numbers of a pixel. */
  stride: number;
  /** A bit for each number in its order, the lowest of a word of 32 first, and then those that are not 0, as floats. */
  numbers: Uint8Array;
  /** Sums of beauty R, G, B of each pixel. */
  picture: Float32Array;
  paths?: PathTallies;
}

/** Of bits and all numbers, filled again for each film. */
let scratch = new Uint32Array(0);

/** Rounds a film to single precision, and packs it. Of a 0 its sign is lost, which no sum tells. */
export function packFilm({ data, paths, region, stride }: Film): PackedFilm {
  const words = Math.ceil(data.length / 32);
  if (scratch.length < words + data.length) scratch = new Uint32Array(words + data.length);
  const bits = scratch;
  const values = new Float32Array(bits.buffer, words * 4);
  let at = 0;
  for (let w = 0, i = 0; w < words; w++) {
    let mask = 0;
    const end = Math.min(data.length, i + 32);
    for (let bit = 1; i < end; i++, bit <<= 1) {
      const value = data[i];
      if (value === 0) continue;
      mask |= bit;
      values[at++] = value;
    }
    bits[w] = mask;
  }
  const pixels = region.width * region.height;
  const picture = new Float32Array(pixels * 3);
  for (let i = 0; i < pixels; i++) for (let k = 0; k < 3; k++) picture[i * 3 + k] = data[i * stride + FILM.beauty + k];
  // memory of its own: it goes to another thread
  return { region, stride, numbers: new Uint8Array(bits.buffer.slice(0, (words + at) * 4)), picture, paths };
}

/**
 * The numbers of a film.
 * @param packed at a multiple of four bytes in its memory
 * @param count of them
 * @param memory that they may take, of at least as many
 */
export function unpackNumbers(packed: Uint8Array, count: number, memory = new Float32Array(count)): Float32Array {
  const words = Math.ceil(count / 32);
  const bits = new Uint32Array(packed.buffer, packed.byteOffset, words);
  const values = new Float32Array(packed.buffer, packed.byteOffset + words * 4, (packed.byteLength >> 2) - words);
  const numbers = memory.subarray(0, count).fill(0);
  let at = 0;
  for (let w = 0; w < words; w++)
    for (let mask = bits[w]; mask !== 0; mask &= mask - 1)
      numbers[w * 32 + 31 - Math.clz32(mask & -mask)] = values[at++];
  return numbers;
}
