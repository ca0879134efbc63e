// TIFF 6.0 pictures: strips and tiles, 8 and 16 bit and 32 bit float, grey or RGB with or without alpha, palettes; not
// packed, PackBits, LZW, deflate; predictors for integers and floats (TIFF Technical Note 3); both byte orders and both
// planar layouts. The first picture of a file is read.
//
// Why our own: one of the packages prints to the console for tiled files, follows directories in a circle, and knows
// neither float predictors nor separate planes; the other can only be waited for, and textures are read while compiling.
import { unzlibSync } from 'fflate';
import { checkPictureSize, InputError } from './inputError.ts';

export interface TiffPicture {
  width: number;
  height: number;
  channels: number;
  /** Pixel by pixel from the top left corner: whole numbers up to `top`, or floats. */
  data: Float32Array;
  /** 255 or 65535; 0 for floats, which are linear. */
  top: number;
  /** Colours were multiplied by alpha (ExtraSamples 1). */
  premultiplied: boolean;
}

const SIZES: Record<number, number> = { 1: 1, 2: 1, 3: 2, 4: 4, 5: 8, 6: 1, 7: 1, 8: 2, 9: 4, 10: 8, 11: 4, 12: 8 };
const TAG = {
  width: 256, height: 257, bits: 258, compression: 259, photometric: 262, stripOffsets: 273, samples: 277, stripRows: 278,
  stripBytes: 279, planar: 284, predictor: 317, palette: 320, tileWidth: 322, tileHeight: 323, tileOffsets: 324,
  tileBytes: 325, extra: 338, format: 339,
} as const; // prettier-ignore

export function isTiff(bytes: Uint8Array): boolean {
  const [a, b, c, d] = bytes;
  return (a === 0x49 && b === 0x49 && c === 42 && d === 0) || (a === 0x4d && b === 0x4d && c === 0 && d === 42);
}

/** @throws InputError naming the file and what is wrong with it, or not read */
export function readTiff(bytes: Uint8Array, place: string): TiffPicture {
  const little = bytes[0] === 0x49;
  const tags = readTags(bytes, little, place);
  const one = (tag: number, otherwise: number) => tags.get(tag)?.[0] ?? otherwise;
  const width = one(TAG.width, 0);
  const height = one(TAG.height, 0);
  checkPictureSize(width, height, place);
  const channels = one(TAG.samples, 1);
  const bits = one(TAG.bits, 1);
  const isFloat = one(TAG.format, 1) === 3;
  const photometric = one(TAG.photometric, 1);
  const refuse = (what: string): never => {
    throw new InputError(`TIFF pictures with ${what} are not read: save it as 8 or 16 bit RGB, or as OpenEXR`, place);
  };
  if (channels < 1 || channels > 8) refuse(`${channels} channels`);
  if ((tags.get(TAG.bits) ?? []).some((b) => b !== bits)) refuse('channels of several depths');
  if (isFloat ? bits !== 32 : bits !== 8 && bits !== 16) refuse(`${bits} bit ${isFloat ? 'floats' : 'numbers'}`);
  if (one(TAG.format, 1) === 2) refuse('signed numbers');
  if (photometric > 3) refuse(`colour model ${photometric}`);

  const tiled = tags.has(TAG.tileWidth);
  const boxWidth = tiled ? one(TAG.tileWidth, 0) : width;
  const boxHeight = tiled ? one(TAG.tileHeight, 0) : Math.min(height, one(TAG.stripRows, height));
  const offsets = tags.get(tiled ? TAG.tileOffsets : TAG.stripOffsets) ?? [];
  const counts = tags.get(tiled ? TAG.tileBytes : TAG.stripBytes) ?? [];
  const planes = one(TAG.planar, 1) === 2 ? channels : 1;
  const perPixel = channels / planes;
  const across = Math.ceil(width / boxWidth);
  const down = Math.ceil(height / boxHeight);
  if (!(boxWidth > 0 && boxHeight > 0))
    throw new InputError('the TIFF picture is damaged: its tiles have no size', place);
  if (tiled) checkPictureSize(boxWidth, boxHeight, place);
  if (offsets.length < across * down * planes || counts.length < across * down * planes)
    throw new InputError('the TIFF picture is cut off: parts of it are not in the file', place);

  // the most that LZW or deflate can make of a byte: nothing is set aside for a small file that claims to be large
  const claimed = (width * height * channels * bits) / 8;
  const held = counts.reduce((sum, count) => sum + count, 0);
  if (claimed > held * (one(TAG.compression, 1) === 1 ? 1 : 1400))
    throw new InputError('the TIFF picture is cut off: it holds less than its size needs', place);
  const data = new Float32Array(width * height * channels);
  const sample = bits / 8;
  for (let plane = 0; plane < planes; plane++)
    for (let row = 0; row < down; row++)
      for (let column = 0; column < across; column++) {
        const i = (plane * down + row) * across + column;
        const rows = tiled ? boxHeight : Math.min(boxHeight, height - row * boxHeight);
        const size = boxWidth * rows * perPixel * sample;
        if (offsets[i] + counts[i] > bytes.length)
          throw new InputError(`the TIFF picture is cut off in part ${i} of ${across * down * planes}`, place);
        const packed = bytes.subarray(offsets[i], offsets[i] + counts[i]);
        const raw = unpack(packed, one(TAG.compression, 1), size, place);
        const predictor = one(TAG.predictor, 1);
        const order = predictor === 3 ? false : little; // floats of predictor 3 stand with their highest bytes first
        if (predictor === 3) undoFloatPredictor(raw, boxWidth, rows, perPixel);
        const view = new DataView(raw.buffer, raw.byteOffset, raw.byteLength);
        const read = (at: number) => isFloat ? view.getFloat32(at, order) : bits === 8 ? raw[at] : view.getUint16(at, order); // prettier-ignore
        const mask = bits === 8 ? 255 : 65535;
        for (let y = 0; y < rows; y++) {
          const last = new Float64Array(perPixel);
          for (let x = 0; x < boxWidth; x++)
            for (let c = 0; c < perPixel; c++) {
              let value = read(((y * boxWidth + x) * perPixel + c) * sample);
              if (predictor === 2) last[c] = value = (value + last[c]) & mask;
              const [px, py] = [column * boxWidth + x, row * boxHeight + y];
              if (px < width && py < height) data[(py * width + px) * channels + plane + c] = value;
            }
        }
      }
  const top = isFloat ? 0 : 2 ** bits - 1;
  if (photometric === 0) for (let i = 0; i < data.length; i++) data[i] = top - data[i];
  const premultiplied = one(TAG.extra, 0) === 1;
  if (photometric !== 3) return { width, height, channels: Math.min(4, channels), data: firstFour(data, channels), top, premultiplied }; // prettier-ignore
  const palette = tags.get(TAG.palette) ?? [];
  const entries = palette.length / 3;
  const spread = new Float32Array(width * height * 3);
  for (let i = 0; i < width * height; i++)
    for (let k = 0; k < 3; k++) spread[i * 3 + k] = palette[k * entries + data[i * channels]] ?? 0;
  return { width, height, channels: 3, data: spread, top: 65535, premultiplied: false };
}

/** Channels beyond RGBA are left out. */
function firstFour(data: Float32Array, channels: number): Float32Array {
  if (channels <= 4) return data;
  const out = new Float32Array((data.length / channels) * 4);
  for (let i = 0; i < out.length; i++) out[i] = data[Math.floor(i / 4) * channels + (i % 4)];
  return out;
}

/** The numbers of each entry of the first directory. */
function readTags(bytes: Uint8Array, little: boolean, place: string): Map<number, number[]> {
  const damaged = () => new InputError('the TIFF picture is damaged or cut off: its directory cannot be read', place);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const known = new Set<number>(Object.values(TAG));
  const tags = new Map<number, number[]>();
  if (bytes.length < 8) throw damaged();
  const start = view.getUint32(4, little);
  if (start + 2 > bytes.length) throw damaged();
  const entries = view.getUint16(start, little);
  if (start + 2 + entries * 12 > bytes.length) throw damaged();
  for (let i = 0; i < entries; i++) {
    const at = start + 2 + i * 12;
    const [tag, type, count] = [view.getUint16(at, little), view.getUint16(at + 2, little), view.getUint32(at + 4, little)]; // prettier-ignore
    const size = SIZES[type];
    if (!known.has(tag) || (type !== 1 && type !== 3 && type !== 4)) continue;
    const from = size * count <= 4 ? at + 8 : view.getUint32(at + 8, little);
    if (from + size * count > bytes.length) throw damaged();
    tags.set(tag, Array.from({ length: count }, (_, k) => type === 1 ? bytes[from + k] : type === 3 ? view.getUint16(from + k * 2, little) : view.getUint32(from + k * 4, little))); // prettier-ignore
  }
  return tags;
}

/** @returns exactly `size` bytes; what is missing is 0 */
function unpack(packed: Uint8Array, compression: number, size: number, place: string): Uint8Array {
  const out = new Uint8Array(size);
  if (compression === 1) out.set(packed.subarray(0, size));
  else if (compression === 8 || compression === 32946) {
    try {
      unzlibSync(packed, { out });
    } catch (error) {
      throw new InputError(`the TIFF picture is damaged (${(error as Error).message})`, place);
    }
  } else if (compression === 5) unpackLzw(packed, out, place);
  else if (compression === 32773) unpackBits(packed, out);
  else throw new InputError(`TIFF compression ${compression} is not read: save it with LZW or deflate`, place);
  return out;
}

function unpackBits(packed: Uint8Array, out: Uint8Array): void {
  let to = 0;
  for (let at = 0; at < packed.length && to < out.length;) {
    const head = (packed[at++] << 24) >> 24;
    if (head === -128) continue;
    if (head >= 0) {
      out.set(packed.subarray(at, at + Math.min(head + 1, out.length - to)), to);
      at += head + 1;
      to += head + 1;
    } else {
      out.fill(packed[at++], to, to + 1 - head);
      to += 1 - head;
    }
  }
}

const CLEAR = 256;
const END = 257;

/** Codes of 9 to 12 bits, highest bit first; each stands for a string that has been written before (TIFF 6.0, section 13). */
function unpackLzw(packed: Uint8Array, out: Uint8Array, place: string): void {
  const start = new Int32Array(4096); // where the string of a code stands in `out`, and how long it is
  const length = new Int32Array(4096);
  let next = 258;
  let width = 9;
  let bits = 0;
  let held = 0;
  let to = 0;
  let before = -1; // place of the string of the last code
  let beforeLength = 0;
  for (const byte of packed) {
    held = ((held << 8) | byte) & 0xffffff;
    bits += 8;
    if (bits < width) continue;
    bits -= width;
    const code = (held >> bits) & ((1 << width) - 1);
    if (code === END || to >= out.length) return;
    if (code === CLEAR) {
      next = 258;
      width = 9;
      before = -1;
      continue;
    }
    const at = to;
    if (code < 256) out[to++] = code;
    else if (code < next) {
      for (let i = 0; i < length[code] && to < out.length; i++) out[to++] = out[start[code] + i];
    } else if (code === next && before >= 0) {
      for (let i = 0; i < beforeLength && to < out.length; i++) out[to++] = out[before + i];
      if (to < out.length) out[to++] = out[before];
    } else throw new InputError('the TIFF picture is damaged: an LZW code comes before its string', place);
    if (before >= 0 && next < 4096) {
      start[next] = before;
      length[next] = beforeLength + 1;
      next++;
    }
    if (next === (1 << width) - 1 && width < 12) width++;
    before = at;
    beforeLength = to - at;
  }
}

/** Differences of bytes, then the bytes of each float side by side, highest first (TIFF Technical Note 3). */
function undoFloatPredictor(raw: Uint8Array, width: number, rows: number, perPixel: number): void {
  const count = width * perPixel;
  const line = new Uint8Array(count * 4);
  for (let y = 0; y < rows; y++) {
    const row = raw.subarray(y * count * 4, (y + 1) * count * 4);
    for (let i = perPixel; i < row.length; i++) row[i] = (row[i] + row[i - perPixel]) & 255;
    for (let i = 0; i < count; i++) for (let b = 0; b < 4; b++) line[i * 4 + b] = row[b * count + i];
    row.set(line);
  }
}
