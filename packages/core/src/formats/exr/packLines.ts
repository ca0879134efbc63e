import type { PackedChannel } from '../../image/index.ts';
import { toHalf } from '../half.ts';
import { TYPE_BYTES, view } from './layout.ts';

export const bytesOfLine = (channels: PackedChannel[], width: number): number =>
  channels.reduce((sum, c) => sum + TYPE_BYTES[c.type], 0) * width;

/** Some lines of a picture as the format holds them: line by line, in it channel by channel, little-endian. */
export function packLines(channels: PackedChannel[], width: number, first: number, count: number): Uint8Array {
  const raw = new Uint8Array(bytesOfLine(channels, width) * count);
  const data = view(raw);
  let at = 0;
  for (let y = first; y < first + count; y++)
    for (const { type, data: values } of channels) {
      const row = y * width;
      // of a packed picture the bits stand there
      if (values instanceof Uint16Array)
        for (let x = 0; x < width; x++, at += 2) data.setUint16(at, values[row + x], true);
      else if (type === 'half')
        for (let x = 0; x < width; x++, at += 2) data.setUint16(at, toHalf(values[row + x]), true);
      else if (type === 'float') for (let x = 0; x < width; x++, at += 4) data.setFloat32(at, values[row + x], true);
      else for (let x = 0; x < width; x++, at += 4) data.setUint32(at, values[row + x], true);
    }
  return raw;
}

/** Channels that hold nothing but zeros; those of one array are looked through once. */
export function emptyChannels(channels: PackedChannel[]): Set<PackedChannel> {
  const isZero = new Map<ArrayLike<number>, boolean>();
  return new Set(
    channels.filter(({ data }) => {
      let zero = isZero.get(data);
      if (zero === undefined) isZero.set(data, (zero = isEmpty(data)));
      return zero;
    }),
  );
}

/** By bits: -0 is not empty. A loop over words takes a tenth of every(). */
function isEmpty({ buffer, byteLength, byteOffset }: PackedChannel['data']): boolean {
  const bytes = new Uint8Array(buffer, byteOffset, byteLength);
  const whole = byteOffset % 4 === 0 ? byteLength >> 2 : 0;
  const words = new Uint32Array(buffer, whole > 0 ? byteOffset : 0, whole);
  for (let i = 0; i < whole; i++) if (words[i] !== 0) return false;
  for (let i = whole * 4; i < byteLength; i++) if (bytes[i] !== 0) return false;
  return true;
}

const float = new Float32Array(1);
const bits = new Uint32Array(float.buffer);

/**
 * Lines as RLE, ZIPS and ZIP take them: the bytes of packLines() in two halves, those at even places first, each as its difference
 * from the one before. Every value begins at an even place, so its bytes go to both halves in turn without the lines in between,
 * and channels of zeros are filled in: on LH-030 at 1280 x 720 with one sample 0.45 s instead of 1.7 s, before 1.2 s of deflating.
 * @param mixed is filled: bytesOfLine() for each line
 */
export function packDifferences(
  channels: PackedChannel[],
  empty: Set<PackedChannel>,
  width: number,
  first: number,
  count: number,
  mixed: Uint8Array,
): void {
  const half = mixed.length >> 1;
  // the byte before in each half: the odd ones go on from the last of the even ones, which the end sets right
  let [even, odd] = [128, 128];
  let at = 0;
  for (let y = first; y < first + count; y++)
    for (const channel of channels) {
      const { data, type } = channel;
      const row = y * width;
      if (empty.has(channel)) {
        const end = at + (width * TYPE_BYTES[type]) / 2;
        mixed.fill(128, at, end);
        mixed.fill(128, half + at, half + end);
        mixed[at] = 128 - even;
        mixed[half + at] = 128 - odd;
        even = odd = 0;
        at = end;
      } else if (type === 'half') {
        const packed = data instanceof Uint16Array;
        for (let x = 0; x < width; x++, at++) {
          const v = packed ? data[row + x] : toHalf(data[row + x]);
          const [low, high] = [v & 255, v >> 8];
          mixed[at] = low - even + 128;
          mixed[half + at] = high - odd + 128;
          even = low;
          odd = high;
        }
      } else
        for (let x = 0; x < width; x++, at += 2) {
          if (type === 'float') float[0] = data[row + x];
          else bits[0] = data[row + x];
          const v = bits[0];
          const [a, b, c, d] = [v & 255, (v >>> 8) & 255, (v >>> 16) & 255, v >>> 24];
          mixed[at] = a - even + 128;
          mixed[half + at] = b - odd + 128;
          mixed[at + 1] = c - a + 128;
          mixed[half + at + 1] = d - b + 128;
          even = c;
          odd = d;
        }
    }
  if (mixed.length > 0) mixed[half] += 128 - even;
}
