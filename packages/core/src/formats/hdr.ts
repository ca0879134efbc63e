// Radiance HDR pictures (.hdr): a text header, then rows of red, green, blue mantissas with a common exponent, packed in
// runs (Ward 1991, "Real pixels"; the Radiance file format reference). Only the usual orientation, rows from the top and
// columns from the left, is read.
import { checkPictureSize, InputError } from './inputError.ts';

export interface HdrPicture {
  width: number;
  height: number;
  /** Linear RGB and 1, four floats a pixel, from the top left corner. */
  texels: Float32Array;
}

export function isHdr(bytes: Uint8Array): boolean {
  return bytes[0] === 0x23 && bytes[1] === 0x3f; // #?
}

/** @throws InputError naming the file and what is wrong with it */
export function readHdr(bytes: Uint8Array, place: string): HdrPicture {
  const { width, height, exposure, start } = readHeader(bytes, place);
  checkPictureSize(width, height, place);
  // a packed row needs two bytes for each of four channels at least: nothing is set aside for less
  if (bytes.length - start < height * Math.min(width * 4, 8)) throw new InputError('the HDR picture is cut off', place);
  const texels = new Float32Array(width * height * 4).fill(1);
  const scales = Float64Array.from({ length: 256 }, (_, e) => (e === 0 ? 0 : 2 ** (e - 136) / exposure));
  const row = new Uint8Array(width * 4);
  let at = start;
  for (let y = 0; y < height; y++) {
    at = readRow(bytes, at, row, width, place, y);
    for (let from = 0, to = y * width * 4; from < width * 4; from += 4, to += 4) {
      const scale = scales[row[from + 3]];
      texels[to] = row[from] * scale;
      texels[to + 1] = row[from + 1] * scale;
      texels[to + 2] = row[from + 2] * scale;
    }
  }
  return { width, height, texels };
}

function readHeader(bytes: Uint8Array, place: string) {
  let at = 0;
  let exposure = 1;
  const line = () => {
    const end = bytes.indexOf(10, at);
    if (end < 0 || end - at > 4096) throw new InputError('the header of the HDR picture does not end', place);
    const text = String.fromCharCode(...bytes.subarray(at, end)).trim();
    at = end + 1;
    return text;
  };
  for (let text = line(); text !== ''; text = line()) {
    if (text.startsWith('FORMAT=') && text !== 'FORMAT=32-bit_rle_rgbe')
      throw new InputError(`the HDR picture holds ${text.slice(7)}; only 32-bit_rle_rgbe is read`, place);
    const factor = /^EXPOSURE=\s*([\d.eE+-]+)$/.exec(text);
    if (factor && Number(factor[1]) > 0) exposure *= Number(factor[1]);
  }
  const size = /^-Y (\d+) \+X (\d+)$/.exec(line());
  if (!size) throw new InputError('the HDR picture is turned or mirrored: save it with rows from the top', place);
  return { width: Number(size[2]), height: Number(size[1]), exposure, start: at };
}

/** Fills one row of RGBE; returns where the next one begins. */
function readRow(bytes: Uint8Array, start: number, row: Uint8Array, width: number, place: string, y: number): number {
  const cutOff = () => new InputError(`the HDR picture is damaged or cut off in row ${y}`, place);
  let at = start;
  const packed = bytes[at] === 2 && bytes[at + 1] === 2 && ((bytes[at + 2] << 8) | bytes[at + 3]) === width;
  if (!packed || width < 8 || width > 32767) {
    // plain pixels, with the older runs: 1 1 1 n repeats the last pixel n times, shifted by runs that follow each other
    let x = 0;
    let shift = 0;
    while (x < width) {
      if (at + 4 > bytes.length) throw cutOff();
      if (bytes[at] === 1 && bytes[at + 1] === 1 && bytes[at + 2] === 1) {
        const count = bytes[at + 3] * 2 ** shift;
        if (x === 0 || shift > 16 || x + count > width) throw cutOff();
        for (let i = 0; i < count; i++, x++) row.copyWithin(x * 4, x * 4 - 4, x * 4);
        shift += 8;
      } else {
        row.set(bytes.subarray(at, at + 4), x * 4);
        x++;
        shift = 0;
      }
      at += 4;
    }
    return at;
  }
  at += 4;
  for (let k = 0; k < 4; k++)
    for (let x = 0; x < width;) {
      if (at + 2 > bytes.length) throw cutOff();
      const run = bytes[at] > 128;
      const count = run ? bytes[at] - 128 : bytes[at];
      if (count === 0 || x + count > width || (!run && at + 1 + count > bytes.length)) throw cutOff();
      for (let i = 0; i < count; i++) row[(x + i) * 4 + k] = bytes[at + 1 + (run ? 0 : i)];
      at += run ? 2 : 1 + count;
      x += count;
    }
  return at;
}
