import { decode as decodePng } from 'fast-png';
import jpeg from 'jpeg-js';
import { srgbToLinear, toRec709, type Primaries } from '../color/index.ts';
import { checkPictureSize, InputError } from './inputError.ts';
import { isExr, readExr } from './exr/index.ts';
import { isHdr, readHdr } from './hdr.ts';
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
 * Reads PNG (8 and 16 bit), JPEG, TIFF, OpenEXR and Radiance HDR. Colours come out linear, of Rec. 709 primaries, and
 * straight, not multiplied by alpha.
 * @throws InputError naming what is wrong with the file.
 */
export function readTexture(bytes: Uint8Array, place: string, space: TextureSpace): TexturePicture {
  const picture = readPicture(bytes, place, space.encoding);
  if (space.alpha === 'premultiplied') divideByAlpha(picture.texels);
  const matrix = toRec709(space.primaries);
  if (matrix) transformColors(picture.texels, matrix);
  return picture;
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

function readPicture(bytes: Uint8Array, place: string, encoding: TextureEncoding): TexturePicture {
  if (isExr(bytes)) return fromExr(bytes, place);
  if (isHdr(bytes)) return fromHdr(bytes, place);
  if (isTiff(bytes)) return fromTiff(bytes, place, encoding);
  if (bytes[0] === 0x89 && bytes[1] === 0x50) return fromPng(bytes, place, encoding);
  if (bytes[0] === 0xff && bytes[1] === 0xd8) return fromJpeg(bytes, place, encoding);
  throw new InputError('the picture is not a PNG, JPEG, TIFF, OpenEXR or Radiance HDR file', place);
}

function fromPng(bytes: Uint8Array, place: string, encoding: TextureEncoding): TexturePicture {
  const size = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 33) throw new InputError('the PNG picture is cut off', place);
  checkPictureSize(size.getUint32(16), size.getUint32(20), place);
  let png;
  try {
    png = decodePng(bytes, { checkCrc: true });
  } catch (error) {
    throw new InputError(`the PNG picture cannot be read (${(error as Error).message})`, place);
  }
  const { width, height, data, depth, palette } = png;
  const pixels = width * height;
  if (palette) {
    const spread = new Uint8Array(pixels * 4);
    const perByte = 8 / depth;
    const rowBytes = Math.ceil((width * depth) / 8);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const byte = data[y * rowBytes + Math.floor(x / perByte)];
        const index = (byte >> (8 - depth - (x % perByte) * depth)) & ((1 << depth) - 1);
        spread.set([...(palette[index] ?? [0, 0, 0]), 255].slice(0, 4), (y * width + x) * 4);
      }
    return { width, height, texels: decodeChannels(spread, 4, pixels, 255, encoding) };
  }
  if (depth < 8) throw new InputError(`PNG pictures of ${depth} bit grey are not read: save it with 8 bits`, place);
  const channels = data.length / pixels;
  return { width, height, texels: decodeChannels(data, channels, pixels, 2 ** depth - 1, encoding) };
}

function fromJpeg(bytes: Uint8Array, place: string, encoding: TextureEncoding): TexturePicture {
  let picture;
  try {
    picture = jpeg.decode(bytes, { useTArray: true, formatAsRGBA: true, maxMemoryUsageInMB: 2048 });
  } catch (error) {
    throw new InputError(`the JPEG picture cannot be read (${(error as Error).message})`, place);
  }
  checkPictureSize(picture.width, picture.height, place);
  const { width, height, data } = picture;
  return { width, height, texels: decodeChannels(data, 4, width * height, 255, encoding) };
}

function fromExr(bytes: Uint8Array, place: string): TexturePicture {
  const { width, height, channels } = readExr(bytes, place, {
    channels: (name) => ['R', 'G', 'B', 'A', 'Y'].includes(name),
  });
  const channel = (name: string) => channels.find((c) => c.name === name)?.data;
  const grey = channel('Y');
  const [r, g, b] = [channel('R') ?? grey, channel('G') ?? grey, channel('B') ?? grey];
  if (!r || !g || !b) throw new InputError('the OpenEXR picture has neither R, G, B nor Y in its main layer', place);
  const alpha = channel('A');
  const texels = new Float32Array(width * height * 4);
  for (let i = 0; i < width * height; i++) {
    texels[i * 4] = r[i];
    texels[i * 4 + 1] = g[i];
    texels[i * 4 + 2] = b[i];
    texels[i * 4 + 3] = alpha ? alpha[i] : 1;
  }
  return { width, height, texels };
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

function fromHdr(bytes: Uint8Array, place: string): TexturePicture {
  const { width, height, pixels } = readHdr(bytes, place);
  const texels = new Float32Array(width * height * 4).fill(1);
  for (let i = 0; i < width * height; i++) for (let k = 0; k < 3; k++) texels[i * 4 + k] = pixels[i * 3 + k];
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
