// Writes what piz.ts reads.
import { eachLine, samplesAcross, samplesDown, TYPE_BYTES, view, type ExrBlock } from './layout.ts';
import { packHuffman } from './packHuffman.ts';

/** @param raw the unpacked form of the block */
export function packPiz(raw: Uint8Array, block: ExrBlock): Uint8Array {
  const words = new Uint16Array(raw.length / 2);
  const source = view(raw);
  for (let i = 0; i < words.length; i++) words[i] = source.getUint16(i * 2, true);
  // the values that occur, numbered; 0 always does and is not in the list
  const bitmap = new Uint8Array(8192);
  for (const v of words) bitmap[v >> 3] |= 1 << (v & 7);
  bitmap[0] &= ~1;
  const least = bitmap.findIndex((b) => b > 0);
  const most = bitmap.findLastIndex((b) => b > 0);
  const numbers = new Uint16Array(65536);
  let count = 0;
  for (let v = 0; v < 65536; v++) if (v === 0 || bitmap[v >> 3] & (1 << (v & 7))) numbers[v] = count++;

  // channel after channel
  const out = new Uint16Array(words.length);
  let start = 0;
  const places = block.channels.map((channel) => {
    const own = { at: start, size: TYPE_BYTES[channel.type] / 2 };
    start += samplesAcross(channel, block) * samplesDown(channel, block) * own.size;
    return own;
  });
  const firsts = places.map((p) => p.at);
  let from = 0;
  eachLine(block, (c, samples) => {
    const place = places[c];
    for (let i = 0; i < samples * place.size; i++) out[place.at++] = numbers[words[from++]];
  });
  block.channels.forEach((channel, c) => {
    const [nx, ny] = [samplesAcross(channel, block), samplesDown(channel, block)];
    const { size } = places[c];
    for (let w = 0; w < size; w++) wavelet(out, firsts[c] + w, nx, size, ny, nx * size, count - 1);
  });
  const packed = packHuffman(out);

  const list = least < 0 ? new Uint8Array(0) : bitmap.subarray(least, most + 1);
  const result = new Uint8Array(4 + list.length + 4 + packed.length);
  const head = view(result);
  // an empty list is written with its ends the wrong way round
  head.setUint16(0, least < 0 ? bitmap.length - 1 : least, true);
  head.setUint16(2, least < 0 ? 0 : most, true);
  result.set(list, 4);
  head.setInt32(4 + list.length, packed.length, true);
  result.set(packed, 8 + list.length);
  return result;
}

/** In place: sums to the front, differences behind, over ever larger steps. The way back is in piz.ts. */
function wavelet(v: Uint16Array, start: number, nx: number, ox: number, ny: number, oy: number, most: number): void {
  const small = most < 1 << 14;
  let low = 0;
  let high = 0;
  const encode = small
    ? (a: number, b: number) => {
        const [one, two] = [(a << 16) >> 16, (b << 16) >> 16];
        low = (one + two) >> 1;
        high = one - two;
      }
    : (a: number, b: number) => {
        const shifted = (a + 0x8000) & 0xffff;
        const d = shifted - b;
        low = (shifted + b) >> 1;
        if (d < 0) low = (low + 0x8000) & 0xffff;
        high = d & 0xffff;
      };
  const shorter = Math.min(nx, ny);
  for (let step = 1, p2 = 2; p2 <= shorter; step = p2, p2 <<= 1) {
    const [ox1, ox2, oy1, oy2] = [ox * step, ox * p2, oy * step, oy * p2];
    let py = start;
    for (const endY = start + oy * (ny - p2); py <= endY; py += oy2) {
      let px = py;
      for (const endX = py + ox * (nx - p2); px <= endX; px += ox2) {
        encode(v[px], v[px + ox1]);
        const [i00, i01] = [low, high];
        encode(v[px + oy1], v[px + oy1 + ox1]);
        const [i10, i11] = [low, high];
        encode(i00, i10);
        v[px] = low;
        v[px + oy1] = high;
        encode(i01, i11);
        v[px + ox1] = low;
        v[px + oy1 + ox1] = high;
      }
      if (nx & step) {
        encode(v[px], v[px + oy1]);
        v[px] = low;
        v[px + oy1] = high;
      }
    }
    if (ny & step) {
      let px = py;
      for (const endX = py + ox * (nx - p2); px <= endX; px += ox2) {
        encode(v[px], v[px + ox1]);
        v[px] = low;
        v[px + ox1] = high;
      }
    }
  }
}
