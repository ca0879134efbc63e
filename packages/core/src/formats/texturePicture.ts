import { decode as decodePng } from 'fast-png';
import jpeg from 'jpeg-js';
import {
  chromaticitiesToRec709,
  luminanceWeights,
  PRIMARIES,
  srgbToLinear,
  toRec709,
  type Primaries,
} from '../color/index.ts';
import { checkPictureSize, InputError } from './inputError.ts';
import { isExr, readExr, readExrHeader } from './exr/index.ts';
import { isHdr, readHdr } from './hdr.ts';
import { pictureChunks } from './pngChunks.ts';
import { withoutInterlace } from './pngInterlace.ts';
import { isTiff, readTiff } from './tiff.ts';

/** Texels as linear RGBA, four floats each, from the top left corner. */
export interface TexturePicture {
  width: number;
  height: number;
  texels: Float32Array;
}

/** How the stored numbers are meant: encoded for display, or plain data. Float pictures are always linear. */
export type TextureEncoding = 'srgb' | 'linear';

/** The colour space of a picture, and whether its colours were multiplied by alpha. */
export interface TextureSpace {
  encoding: TextureEncoding;
  primaries: Primaries;
  alpha: 'straight' | 'premultiplied';
}
export const PLAIN_SPACE: TextureSpace = { encoding: 'linear', primaries: 'rec709', alpha: 'straight' };

/**
 * Reads PNG (1 to 16 bit), JPEG, TIFF, OpenEXR and Radiance HDR. Colours come out linear, of Rec. 709 primaries, and
 * straight, not multiplied by alpha.
 * @throws InputError naming what is wrong with the file.
 */
export function readTexture(bytes: Uint8Array, place: string, space: TextureSpace): TexturePicture {
  const { width, height, texels, matrix: own } = readPicture(bytes, place, space.encoding);
  if (space.alpha === 'premultiplied') divideByAlpha(texels);
  // what the shot says of the colours counts more than what the file says of itself
  const matrix = toRec709(space.primaries) ?? own;
  if (matrix) transformColors(texels, matrix);
  return { width, height, texels };
}

/** A picture that may say what its colours mean: 3 x 3 to Rec. 709, or null. */
interface ExrTexture extends TexturePicture {
  matrix?: number[] | null;
}

function transformColors(texels: Float32Array, m: number[]): void {
  for (let i = 0; i < texels.length; i += 4) {
    const [r, g, b] = [texels[i], texels[i + 1], texels[i + 2]];
    // colours beyond Rec. 709 have a negative part, which no surface reflects
    for (let k = 0; k < 3; k++) texels[i + k] = Math.max(0, m[k * 3] * r + m[k * 3 + 1] * g + m[k * 3 + 2] * b);
  }
}

function divideByAlpha(texels: Float32Array): void {
  for (let i = 0; i < texels.length; i += 4)
    if (texels[i + 3] > 0) for (let k = 0; k < 3; k++) texels[i + k] /= texels[i + 3];
}

function readPicture(bytes: Uint8Array, place: string, encoding: TextureEncoding): ExrTexture {
  if (isExr(bytes)) return fromExr(bytes, place);
  if (isHdr(bytes)) return readHdr(bytes, place);
  if (isTiff(bytes)) return fromTiff(bytes, place, encoding);
  if (bytes[0] === 0x89 && bytes[1] === 0x50) return fromPng(bytes, place, encoding);
  if (bytes[0] === 0xff && bytes[1] === 0xd8) return fromJpeg(bytes, place, encoding);
  if (bytes[0] === 0xab && bytes[1] === 0x4b && bytes[2] === 0x54)
    throw new InputError('KTX2 holds blocks for graphics cards and not texels: save the picture as PNG, JPEG or OpenEXR', place); // prettier-ignore
  throw new InputError('the picture is not a PNG, JPEG, TIFF, OpenEXR or Radiance HDR file', place);
}

function fromPng(bytes: Uint8Array, place: string, encoding: TextureEncoding): TexturePicture {
  const size = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 33) throw new InputError('the PNG picture is cut off', place);
  checkPictureSize(size.getUint32(16), size.getUint32(20), place);
  let png;
  try {
    const bare = pictureChunks(bytes);
    const rows = withoutInterlace(bare);
    png = decodePng(rows, { checkCrc: rows === bare });
  } catch (error) {
    throw new InputError(`the PNG picture cannot be read (${(error as Error).message})`, place);
  }
  const { width, height, data, depth, palette } = png;
  const pixels = width * height;
  if (palette) {
    const spread = new Uint8Array(pixels * 4);
    const indices = unpackBits(data, width, height, depth);
    for (let i = 0; i < pixels; i++) {
      const entry = palette[indices[i]];
      for (let k = 0; k < 4; k++) spread[i * 4 + k] = entry?.[k] ?? (k < 3 ? 0 : 255);
    }
    return { width, height, texels: decodeChannels(spread, 4, pixels, 255, encoding) };
  }
  if (depth < 8) {
    const grey = unpackBits(data, width, height, depth);
    return { width, height, texels: decodeChannels(grey, 1, pixels, 2 ** depth - 1, encoding) };
  }
  const channels = data.length / pixels;
  return { width, height, texels: decodeChannels(data, channels, pixels, 2 ** depth - 1, encoding) };
}

/** Numbers of 1 to 8 bits, the highest bits of a byte first; each row begins with a new byte (PNG specification, 7.2). */
function unpackBits(data: ArrayLike<number>, width: number, height: number, depth: number): Uint8Array {
  const out = new Uint8Array(width * height);
  const perByte = 8 / depth;
  const rowBytes = Math.ceil((width * depth) / 8);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const byte = data[y * rowBytes + Math.floor(x / perByte)];
      out[y * width + x] = (byte >> (8 - depth - (x % perByte) * depth)) & ((1 << depth) - 1);
    }
  return out;
}

function fromJpeg(bytes: Uint8Array, place: string, encoding: TextureEncoding): TexturePicture {
  const chroma = asPlainChroma(bytes);
  let picture;
  try {
    picture = jpeg.decode(chroma ?? bytes, { useTArray: true, formatAsRGBA: false, colorTransform: false, maxMemoryUsageInMB: 2048 }); // prettier-ignore
  } catch (error) {
    throw new InputError(`the JPEG picture cannot be read (${(error as Error).message})`, place);
  }
  checkPictureSize(picture.width, picture.height, place);
  const { width, height, data } = picture;
  if (chroma) chromaToRgb(data);
  return { width, height, texels: decodeChannels(data, 3, width * height, 255, encoding) };
}

/** First bytes of the segment APP14 that says whether the components are RGB (ITU-T T.872, 6.5.3). */
const COLOR_SEGMENT = [0x41, 0x64, 0x6f, 0x62, 0x65];

/**
 * A JPEG picture of luminance and chroma as the library gives it out unchanged: its own change to colours cuts off instead of
 * rounding, and the segment APP14 asks for it. Null for other pictures: grey, four components, or RGB by that segment.
 */
function asPlainChroma(bytes: Uint8Array): Uint8Array | null {
  const out = bytes.slice();
  for (let at = 2; at + 15 < bytes.length && bytes[at] === 0xff;) {
    const marker = bytes[at + 1];
    const saysColors = marker === 0xee && COLOR_SEGMENT.every((byte, i) => bytes[at + 4 + i] === byte);
    if (saysColors && bytes[at + 15] === 0) return null;
    if (saysColors) out[at + 4] = 0;
    if (marker >= 0xc0 && marker <= 0xc2) return bytes[at + 9] === 3 ? out : null;
    at += 2 + bytes[at + 2] * 256 + bytes[at + 3];
  }
  return null;
}

/** ITU-T T.871 (JFIF), 7, rounded. */
function chromaToRgb(data: Uint8Array): void {
  const round = (value: number) => Math.min(255, Math.max(0, Math.round(value)));
  for (let i = 0; i < data.length; i += 3) {
    const y = data[i];
    const cb = data[i + 1] - 128;
    const cr = data[i + 2] - 128;
    data[i] = round(y + 1.402 * cr);
    data[i + 1] = round(y - 0.344136 * cb - 0.714136 * cr);
    data[i + 2] = round(y + 1.772 * cb);
  }
}

/**
 * The main layer of an OpenEXR picture, or the first that has colours where the main one has none. Luminance and chroma
 * become colours (OpenEXR, "Technical introduction": R = (RY + 1) Y, B = (BY + 1) Y, and G is what is left of Y).
 */
function fromExr(bytes: Uint8Array, place: string): ExrTexture {
  const { channels: all, chromaticities } = readExrHeader(bytes, place);
  const names = new Set(all.map((c) => c.name));
  const layers = ['', ...new Set(all.map((c) => c.name.slice(0, c.name.lastIndexOf('.') + 1)))];
  const has = (layer: string) => names.has(`${layer}Y`) || [...'RGB'].every((c) => names.has(layer + c));
  const layer = layers.find((l) => l === '' && has(l)) ?? layers.find((l) => l === 'beauty.' && has(l)) ?? layers.find(has); // prettier-ignore
  if (layer === undefined) throw new InputError('the OpenEXR picture has no layer with R, G and B, or with Y', place);
  const wanted = ['R', 'G', 'B', 'A', 'Y', 'RY', 'BY'].map((c) => layer + c);
  const { width, height, channels } = readExr(bytes, place, { channels: (name) => wanted.includes(name) });
  const channel = (name: string) => channels.find((c) => c.name === layer + name)?.data;
  const [grey, ry, by] = ['Y', 'RY', 'BY'].map(channel);
  const [r, g, b] = [channel('R') ?? grey!, channel('G') ?? grey!, channel('B') ?? grey!];
  const alpha = channel('A');
  const texels = new Float32Array(width * height * 4);
  const weights = luminanceWeights(chromaticities ?? PRIMARIES.rec709);
  for (let i = 0; i < width * height; i++) {
    texels[i * 4] = r[i];
    texels[i * 4 + 1] = g[i];
    texels[i * 4 + 2] = b[i];
    texels[i * 4 + 3] = alpha ? alpha[i] : 1;
    if (!grey || !ry || !by) continue;
    const [red, blue] = [(ry[i] + 1) * grey[i], (by[i] + 1) * grey[i]];
    texels[i * 4] = red;
    texels[i * 4 + 1] = (grey[i] - weights[0] * red - weights[2] * blue) / weights[1];
    texels[i * 4 + 2] = blue;
  }
  return { width, height, texels, matrix: chromaticities && chromaticitiesToRec709(chromaticities) };
}

function fromTiff(bytes: Uint8Array, place: string, encoding: TextureEncoding): TexturePicture {
  const { width, height, channels, data, top, premultiplied } = readTiff(bytes, place);
  const pixels = width * height;
  const texels = new Float32Array(pixels * 4);
  if (premultiplied && top > 0 && channels === 4)
    for (let i = 0; i < data.length; i += 4)
      for (let k = 0; k < 3; k++) data[i + k] = Math.min(top, Math.round((data[i + k] * top) / (data[i + 3] || top)));
  if (top > 0) texels.set(decodeChannels(data, channels, pixels, top, encoding));
  else
    for (let i = 0; i < pixels; i++) {
      for (let k = 0; k < 3; k++) texels[i * 4 + k] = data[i * channels + (channels < 3 ? 0 : k)];
      texels[i * 4 + 3] = channels % 2 === 0 ? data[i * channels + channels - 1] : 1;
    }
  if (premultiplied && top === 0) divideByAlpha(texels);
  return { width, height, texels };
}

function decodeChannels(
  data: ArrayLike<number>,
  channels: number,
  pixels: number,
  top: number,
  encoding: TextureEncoding,
): Float32Array {
  const decode = new Float32Array(top + 1);
  for (let i = 0; i <= top; i++) decode[i] = encoding === 'srgb' ? srgbToLinear(i / top) : i / top;
  const texels = new Float32Array(pixels * 4);
  const grey = channels < 3;
  const hasAlpha = channels === 2 || channels === 4;
  for (let i = 0; i < pixels; i++) {
    const at = i * channels;
    for (let k = 0; k < 3; k++) texels[i * 4 + k] = decode[data[at + (grey ? 0 : k)]];
    texels[i * 4 + 3] = hasAlpha ? data[at + channels - 1] / top : 1;
  }
  return texels;
}
