// PIZ: the values that occur are numbered, each channel goes through a two-dimensional Haar wavelet, and the result
// through Huffman coding.
import { eachLine, DamagedBlock, samplesAcross, samplesDown, TYPE_BYTES, view, type ExrBlock } from './layout.ts';
import { expandHuffman } from './huffman.ts';

const VALUES = 65536;

export function unpackPiz(packed: Uint8Array, block: ExrBlock, length: number): Uint8Array {
  const data = view(packed);
  const bitmap = new Uint8Array(VALUES / 8);
  if (packed.length < 4) throw new DamagedBlock('its list of values is cut off');
  const [least, most] = [data.getUint16(0, true), data.getUint16(2, true)];
  let at = 4;
  if (most >= bitmap.length) throw new DamagedBlock('its list of values is out of range');
  if (least <= most) {
    if (at + most - least + 1 + 4 > packed.length) throw new DamagedBlock('its list of values is cut off');
    bitmap.set(packed.subarray(at, at + most - least + 1), least);
    at += most - least + 1;
  }
  const values = new Uint16Array(VALUES);
  let count = 0;
  for (let i = 0; i < VALUES; i++) if (i === 0 || bitmap[i >> 3] & (1 << (i & 7))) values[count++] = i;
  if (at + 4 > packed.length) throw new DamagedBlock('it is cut off');
  const size = data.getInt32(at, true);
  at += 4;
  if (size < 0 || at + size > packed.length) throw new DamagedBlock('it is cut off');
  const numbers = expandHuffman(packed.subarray(at, at + size), length / 2);

  // channel after channel; 32-bit numbers are pairs of 16-bit ones
  const places: { at: number; words: number }[] = [];
  let start = 0;
  for (const channel of block.channels) {
    const words = TYPE_BYTES[channel.type] / 2;
    const [nx, ny] = [samplesAcross(channel, block), samplesDown(channel, block)];
    for (let w = 0; w < words; w++) undoWavelet(numbers, start + w, nx, words, ny, nx * words, count - 1);
    places.push({ at: start, words });
    start += nx * ny * words;
  }
  const out = new Uint16Array(length / 2);
  let to = 0;
  eachLine(block, (c, samples) => {
    const place = places[c];
    for (let i = 0; i < samples * place.words; i++) out[to++] = values[numbers[place.at++]];
  });
  return new Uint8Array(out.buffer);
}

/** In place; numbers of up to 14 bits go through signed sums and differences, others through sums modulo 2^16. */
function undoWavelet(
  v: Uint16Array,
  start: number,
  nx: number,
  ox: number,
  ny: number,
  oy: number,
  most: number,
): void {
  const small = most < 1 << 14;
  let a = 0;
  let b = 0;
  const decode = small
    ? (low: number, high: number) => {
        const h = (high << 16) >> 16;
        const sum = ((low << 16) >> 16) + (h & 1) + (h >> 1);
        a = sum;
        b = sum - h;
      }
    : (low: number, high: number) => {
        b = (low - (high >> 1)) & 0xffff;
        a = (high + b - 0x8000) & 0xffff;
      };
  const shorter = Math.min(nx, ny);
  let p = 1;
  while (p <= shorter) p <<= 1;
  p >>= 1;
  for (let p2 = p, step = p >> 1; step >= 1; p2 = step, step >>= 1) {
    const [ox1, ox2, oy1, oy2] = [ox * step, ox * p2, oy * step, oy * p2];
    let py = start;
    for (const endY = start + oy * (ny - p2); py <= endY; py += oy2) {
      let px = py;
      for (const endX = py + ox * (nx - p2); px <= endX; px += ox2) {
        decode(v[px], v[px + oy1]);
        const [i00, i10] = [a, b];
        decode(v[px + ox1], v[px + oy1 + ox1]);
        const [i01, i11] = [a, b];
        decode(i00, i01);
        v[px] = a;
        v[px + ox1] = b;
        decode(i10, i11);
        v[px + oy1] = a;
        v[px + oy1 + ox1] = b;
      }
      if (nx & step) {
        decode(v[px], v[px + oy1]);
        v[px] = a;
        v[px + oy1] = b;
      }
    }
    if (ny & step) {
      let px = py;
      for (const endX = py + ox * (nx - p2); px <= endX; px += ox2) {
        decode(v[px], v[px + ox1]);
        v[px] = a;
        v[px + ox1] = b;
      }
    }
  }
}
