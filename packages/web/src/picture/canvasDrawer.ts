import { encodeForDisplay, luminance } from '@dusting/core/color';
import { fromHalf } from '@dusting/core/formats';
import { ramp } from './ramp.ts';
import type { PictureDrawer, PlacedPicture, View } from './view.ts';

/** The same picture without WebGL, pixel by pixel on the processor: slower, without marks and the pixel grid. */
export function createCanvasDrawer(canvas: HTMLCanvasElement): PictureDrawer {
  const context = canvas.getContext('2d')!;
  return {
    draw(first, second, view) {
      const { width, height } = canvas;
      const image = context.createImageData(width, height);
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++)
          image.data.set(pixelAt(first, second, view, x, y, width, height), (y * width + x) * 4);
      context.putImageData(image, 0, 0);
    },
  };
}

const WALL = [43, 43, 43, 255];

function pixelAt(
  first: PlacedPicture | null,
  second: PlacedPicture | null,
  view: View,
  x: number,
  y: number,
  width: number,
  height: number,
) {
  const mode = second ? view.mode : 'one';
  const right = mode === 'side' ? x >= width / 2 : mode === 'wipe' && x >= view.wipe * width;
  const middle = mode === 'side' ? (right ? width * 0.75 : width * 0.25) : width / 2;
  const fx = (x - middle) / view.scale + view.centre.x;
  const fy = (y - height / 2) / view.scale + view.centre.y;
  const a = fetchPixel(first, fx, fy);
  const b = mode === 'one' ? null : fetchPixel(second, fx, fy);
  const gain = 2 ** view.stops;
  if (mode === 'difference')
    return a && b ? [...a.map((v, k) => 127.5 + 127.5 * Math.max(-1, Math.min(1, (b[k] - v) * gain))), 255] : WALL;
  const shown = right && b ? b : mode === 'side' && right ? null : a;
  return shown ? encode(shown, view, gain) : WALL;
}

function fetchPixel(placed: PlacedPicture | null, fx: number, fy: number): number[] | null {
  if (!placed) return null;
  const { window, picture } = placed;
  const x = Math.floor(fx) - window.x;
  const y = Math.floor(fy) - window.y;
  if (x < 0 || y < 0 || x >= window.width || y >= window.height) return null;
  const n = picture.channels.length;
  const at = (y * picture.width + x) * n;
  return [0, 1, 2].map((k) => fromHalf(picture.halves[at + Math.min(k, n - 1)]));
}

function encode(c: number[], view: View, gain: number): number[] {
  if (view.range) {
    const t = (c[0] - view.range[0]) / (view.range[1] - view.range[0]);
    return [...ramp(t).map((v) => 255 * Math.min(1, Math.max(0, v))), 255];
  }
  let rgb = c.map((v) => v * gain);
  const single = { color: null, R: rgb[0], G: rgb[1], B: rgb[2], Y: luminance(rgb[0], rgb[1], rgb[2]) }[view.channel];
  if (single !== null) rgb = [single, single, single];
  encodeForDisplay(rgb, view.transform);
  return [...rgb.map((v) => 255 * v), 255];
}
