import { decode as decodePng } from 'fast-png';
import jpeg from 'jpeg-js';
import { srgbToLinear } from '../color/index.ts';
import { checkPictureSize, InputError } from './inputError.ts';
import { isExr, readExr } from './exr.ts';

/** Texels as linear RGBA, four floats each, from the top left corner. */
export interface TexturePicture {
  width: number;
  height: number;
  texels: Float32Array;
}

/** How the stored numbers are meant: encoded for display, or plain data. Float pictures are always linear. */
export type TextureEncoding = 'srgb' | 'linear';

/** Reads PNG (8 and 16 bit), JPEG and OpenEXR. @throws InputError naming what is wrong with the file. */
export function readTexture(bytes: Uint8Array, place: string, encoding: TextureEncoding): TexturePicture {
  if (isExr(bytes)) return fromExr(bytes, place);
  if (bytes[0] === 0x89 && bytes[1] === 0x50) return fromPng(bytes, place, encoding);
  if (bytes[0] === 0xff && bytes[1] === 0xd8) return fromJpeg(bytes, place, encoding);
  throw new InputError('the picture is not a PNG, JPEG or OpenEXR file', place);
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
  const { width, height, channels } = readExr(bytes, place, (name) => ['R', 'G', 'B', 'A', 'Y'].includes(name));
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
