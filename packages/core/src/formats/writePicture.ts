// Pictures as files for other programs.
import { encode as encodePng } from 'fast-png';
import { encodeForDisplay, type Display } from '../color/index.ts';
import { findChannel, MAIN_LAYER, type Picture } from '../image/index.ts';
import { InputError } from './inputError.ts';
import { writeHdr } from './writeHdr.ts';

/** Red, green and blue of a layer, three floats a pixel; a single channel three times. @throws InputError without any */
function colorsOf(picture: Picture, layer: string): Float32Array {
  const plane = (name: string) => findChannel(picture, layer, name)?.data;
  const prefix = layer === MAIN_LAYER ? '' : `${layer}.`;
  const single = picture.channels.find((c) => c.name.startsWith(prefix))?.data;
  const planes = [...'RGB'].map((c, k) => plane(c) ?? plane('XYZ'[k]) ?? plane('UV'[k]) ?? single);
  if (planes.some((p) => !p)) throw new InputError(`there is no layer ${layer}`);
  const out = new Float32Array(picture.width * picture.height * 3);
  for (let i = 0; i < picture.width * picture.height; i++) for (let k = 0; k < 3; k++) out[i * 3 + k] = planes[k]![i];
  return out;
}

/** A layer as Radiance HDR, linear. */
export function layerToHdr(picture: Picture, layer: string): Uint8Array {
  return writeHdr(picture.width, picture.height, colorsOf(picture, layer));
}

/** A layer as PNG of 16 bits, as it is displayed: the transform is burnt in. What is not a number becomes black. */
export function layerToPng16(picture: Picture, layer: string, display: Display): Uint8Array {
  const colors = colorsOf(picture, layer);
  const data = new Uint16Array(colors.length);
  const rgb = [0, 0, 0];
  for (let i = 0; i < colors.length; i += 3) {
    for (let k = 0; k < 3; k++) rgb[k] = Number.isNaN(colors[i + k]) ? 0 : colors[i + k] * 2 ** display.stops;
    encodeForDisplay(rgb, display);
    for (let k = 0; k < 3; k++) data[i + k] = Math.round(65535 * rgb[k]);
  }
  return encodePng({ width: picture.width, height: picture.height, data, depth: 16, channels: 3 });
}
