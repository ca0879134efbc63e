// RLE, ZIPS and ZIP: bytes split into even and odd halves, differences, then runs or deflate.
import { unzlibSync, zlibSync } from 'fflate';
import { DamagedBlock } from './layout.ts';

export function splitAndDifference(raw: Uint8Array): Uint8Array {
  const half = (raw.length + 1) >> 1;
  const mixed = new Uint8Array(raw.length);
  for (let i = 0; i < raw.length; i++) mixed[(i & 1 ? half : 0) + (i >> 1)] = raw[i];
  for (let i = mixed.length - 1; i > 0; i--) mixed[i] = mixed[i] - mixed[i - 1] + 128;
  return mixed;
}

/**
 * Undoes splitAndDifference. Sums in a local variable and straight into their places: reading the byte before from the
 * array made each step wait for the last store (35 MB took 340 ms against 180).
 */
export function sumAndJoin(mixed: Uint8Array): Uint8Array {
  const raw = new Uint8Array(mixed.length);
  const half = (mixed.length + 1) >> 1;
  let sum = 128;
  for (let i = 0, to = 0; i < half; i++, to += 2) {
    sum = (sum + mixed[i] + 128) & 255;
    raw[to] = sum;
  }
  for (let i = half, to = 1; i < mixed.length; i++, to += 2) {
    sum = (sum + mixed[i] + 128) & 255;
    raw[to] = sum;
  }
  return raw;
}

/** Inflates to exactly `length` bytes. */
export function inflate(packed: Uint8Array, length: number): Uint8Array {
  if (length === 0) return new Uint8Array(0);
  let out: Uint8Array;
  try {
    out = unzlibSync(packed, { out: new Uint8Array(length) });
  } catch (error) {
    throw new DamagedBlock((error as Error).message);
  }
  if (out.length !== length) throw new DamagedBlock(`${out.length} of ${length} bytes are there`);
  return out;
}

export function unpackZip(packed: Uint8Array, length: number): Uint8Array {
  return sumAndJoin(inflate(packed, length));
}

export function packZip(raw: Uint8Array, level: 1 | 2 | 3 | 4 | 5 | 6 | 7 | 8 | 9): Uint8Array {
  return zlibSync(splitAndDifference(raw), { level });
}

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
