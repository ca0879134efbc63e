// Interlaced PNG pictures of less than 8 bits as ones that are not: the library reads their passes wrongly.
import { unzlibSync, zlibSync } from 'fflate';
import { joined } from './pngChunks.ts';

/** First column and row, and steps, of the seven passes (ISO/IEC 15948, 8.2). */
const PASSES = [[0, 0, 8, 8], [4, 0, 8, 8], [0, 4, 4, 8], [2, 0, 4, 4], [0, 2, 2, 4], [1, 0, 2, 2], [0, 1, 1, 2]]; // prettier-ignore
const HEADER = 8;
const IDAT = 0x49444154;
const IEND = 0x49454e44;

/**
 * The same picture row by row, or the bytes as they are where they are not interlaced or of 8 bits and more. Checksums of
 * the new parts are 0.
 * @throws Error where the picture is damaged
 */
export function withoutInterlace(bytes: Uint8Array): Uint8Array {
  const data = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const depth = bytes[HEADER + 16];
  if (bytes[HEADER + 20] !== 1 || depth >= 8) return bytes;
  const [width, height] = [data.getUint32(HEADER + 8), data.getUint32(HEADER + 12)];
  const packed: Uint8Array[] = [];
  const others: Uint8Array[] = [];
  for (let at = HEADER; at + 12 <= bytes.length; at += data.getUint32(at) + 12) {
    const end = at + data.getUint32(at) + 12;
    if (end > bytes.length) throw new Error('it is cut off');
    const type = data.getUint32(at + 4);
    if (type === IDAT) packed.push(bytes.subarray(at + 8, end - 4));
    else if (type !== IEND) others.push(bytes.slice(at, end));
  }
  const rows = zlibSync(readPasses(unzlibSync(joined(packed)), width, height, depth));
  others[0][20] = 0;
  return joined([bytes.subarray(0, HEADER), ...others, chunk(IDAT, rows), chunk(IEND, new Uint8Array(0))]);
}

/** Rows of the whole picture, each with a filter of 0 in front. */
function readPasses(raw: Uint8Array, width: number, height: number, depth: number): Uint8Array {
  const rowBytes = Math.ceil((width * depth) / 8) + 1;
  const out = new Uint8Array(rowBytes * height);
  const mask = (1 << depth) - 1;
  let at = 0;
  for (const [x0, y0, dx, dy] of PASSES) {
    if (x0 >= width) continue;
    const columns = Math.ceil((width - x0) / dx);
    const length = Math.ceil((columns * depth) / 8);
    let above = new Uint8Array(length);
    for (let y = y0; y < height; y += dy) {
      const row = unfilter(raw[at], raw.subarray(at + 1, at + 1 + length), above);
      at += 1 + length;
      for (let i = 0; i < columns; i++) {
        const value = (row[(i * depth) >> 3] >> (8 - depth - ((i * depth) & 7))) & mask;
        const bit = (x0 + i * dx) * depth;
        out[y * rowBytes + 1 + (bit >> 3)] |= value << (8 - depth - (bit & 7));
      }
      above = row;
    }
  }
  return out;
}

/** ISO/IEC 15948, 9.2; less than 8 bits a pixel count as one byte. */
function unfilter(kind: number, filtered: Uint8Array, above: Uint8Array): Uint8Array<ArrayBuffer> {
  if (!(kind <= 4)) throw new Error(`filter ${kind} is unknown`);
  const row = Uint8Array.from(filtered);
  for (let i = 0; i < row.length; i++) {
    const a = i > 0 ? row[i - 1] : 0;
    const b = above[i];
    const c = i > 0 ? above[i - 1] : 0;
    row[i] += [0, a, b, (a + b) >> 1, paeth(a, b, c)][kind];
  }
  return row;
}

function paeth(a: number, b: number, c: number): number {
  const [pa, pb, pc] = [Math.abs(b - c), Math.abs(a - c), Math.abs(a + b - 2 * c)];
  return pa <= pb && pa <= pc ? a : pb <= pc ? b : c;
}

function chunk(type: number, body: Uint8Array): Uint8Array {
  const out = new Uint8Array(body.length + 12);
  const data = new DataView(out.buffer);
  data.setUint32(0, body.length);
  data.setUint32(4, type);
  out.set(body, 8);
  return out;
}
