// RLE, ZIPS and ZIP: bytes split into even and odd halves, differences, then runs or deflate.
import { unzlibSync, zlibSync } from 'fflate';
import { DamagedBlock } from './layout.ts';

/**
 * Undoes the halves and differences (packDifferences). Sums in a local variable and straight into their places: reading the byte before from the
 * array made each step wait for the last store (35 MB took 340 ms against 180). Of what is not wanted the sum alone is
 * needed, four bytes at a time.
 * @param wanted pairs of even places in the result, in their order: what lies between them may stay 0; null: all
 */
export function sumAndJoin(mixed: Uint8Array, wanted: number[] | null = null): Uint8Array {
  const raw = new Uint8Array(mixed.length);
  const half = (mixed.length + 1) >> 1;
  const parts = wanted ?? [0, mixed.length + 1];
  let sum = 128;
  for (const [first, end, odd] of [
    [0, half, 0],
    [half, mixed.length, 1],
  ]) {
    let at = first;
    for (let p = 0; p < parts.length; p += 2) {
      const [from, to] = [first + (parts[p] >> 1), Math.min(end, first + (parts[p + 1] >> 1))];
      sum = (sum + sumOf(mixed, at, from) + 128 * (from - at)) & 255;
      for (let i = from, place = 2 * (from - first) + odd; i < to; i++, place += 2) {
        sum = (sum + mixed[i] + 128) & 255;
        raw[place] = sum;
      }
      at = Math.max(from, to);
    }
    sum = (sum + sumOf(mixed, at, end) + 128 * (end - at)) & 255;
  }
  return raw;
}

/** Sum of bytes, modulo 256. */
function sumOf(bytes: Uint8Array, from: number, to: number): number {
  let sum = 0;
  let at = from;
  for (; at < to && (bytes.byteOffset + at) % 4 !== 0; at++) sum += bytes[at];
  const count = (to - at) >> 2;
  const words = count > 0 ? new Uint32Array(bytes.buffer, bytes.byteOffset + at, count) : [];
  // two lanes of 16 bits each, emptied before they could run over
  for (let begin = 0; begin < words.length; begin += 128) {
    const end = Math.min(words.length, begin + 128);
    let lanes = 0;
    for (let i = begin; i < end; i++) lanes = (lanes + (words[i] & 0xff00ff) + ((words[i] >>> 8) & 0xff00ff)) | 0;
    sum += (lanes & 0xffff) + (lanes >>> 16);
  }
  for (at += 4 * words.length; at < to; at++) sum += bytes[at];
  return sum & 255;
}

/** Undoes deflate with a zlib head. It may throw, or give less or more than `length` bytes, where the input is damaged. */
export type Inflate = (packed: Uint8Array, length: number) => Uint8Array;

export const plainInflate: Inflate = (packed, length) => unzlibSync(packed, { out: new Uint8Array(length) });

/** How a block is unpacked. */
export interface Unpacking {
  inflate: Inflate;
  /** As sumAndJoin() has it. */
  wanted: number[] | null;
}

/** Inflates to exactly `length` bytes. */
export function inflateTo(packed: Uint8Array, length: number, inflate: Inflate): Uint8Array {
  if (length === 0) return new Uint8Array(0);
  let out: Uint8Array;
  try {
    out = inflate(packed, length);
  } catch (error) {
    throw new DamagedBlock((error as Error).message);
  }
  if (out.length !== length) throw new DamagedBlock(`${out.length} of ${length} bytes are there`);
  return out;
}

export function unpackZip(packed: Uint8Array, length: number, { inflate, wanted }: Unpacking): Uint8Array {
  return sumAndJoin(inflateTo(packed, length, inflate), wanted);
}

/** From fast to small. */
export type Level = 1 | 2 | 3 | 4 | 5 | 6 | 7 | 8 | 9;
/** Deflates, with a zlib head. */
export type Deflate = (raw: Uint8Array, level: Level) => Uint8Array;

export const plainDeflate: Deflate = (raw, level) => zlibSync(raw, { level });

/** Runs: a head below 0 is followed by that many bytes as they are, any other by one byte that stands head + 1 times. */
export function expandRuns(packed: Uint8Array, length: number): Uint8Array {
  const out = new Uint8Array(length);
  let to = 0;
  for (let at = 0; at < packed.length;) {
    const head = (packed[at++] << 24) >> 24;
    const count = head < 0 ? -head : head + 1;
    if (to + count > length || at + (head < 0 ? count : 1) > packed.length) throw new DamagedBlock('a run is too long');
    if (head < 0) {
      out.set(packed.subarray(at, at + count), to);
      at += count;
    } else out.fill(packed[at++], to, to + count);
    to += count;
  }
  if (to !== length) throw new DamagedBlock(`${to} of ${length} bytes are there`);
  return out;
}
