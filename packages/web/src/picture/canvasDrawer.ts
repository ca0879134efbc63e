import { encodeForDisplay, luminance } from '@dusting/core/color';
import { fromHalf } from '@dusting/core/formats';
import { ramp } from './ramp.ts';
import { beyondWipe, RELATIVE_FLOOR, type PictureDrawer, type PlacedPicture, type View } from './view.ts';

/** The same picture without WebGL, pixel by pixel on the processor: slower, without marks, isolines and the pixel grid. */
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
  const right =
    mode === 'side'
      ? x >= width / 2
      : mode === 'blink'
        ? view.blink
        : mode === 'wipe' && beyondWipe(view.wipe, x, y, width, height) >= 0;
  const middle = mode === 'side' ? (right ? width * 0.75 : width * 0.25) : width / 2;
  const fx = (x - middle) / view.scale + view.centre.x;
  const fy = (y - height / 2) / view.scale + view.centre.y;
  const a = fetchPixel(first, fx, fy);
  const b = mode === 'one' ? null : fetchPixel(second, fx, fy);
  const gain = 2 ** view.stops;
  if (mode === 'difference') return a && b ? showDifference(a, b, view) : WALL;
  const shown = right && b ? b : (mode === 'side' || mode === 'blink') && right ? null : a;
  return shown ? encode(shown, view, gain) : WALL;
}

function showDifference(a: number[], b: number[], { difference, gain }: View): number[] {
  const d = [0, 1, 2].map((k) => (b[k] - a[k]) * gain);
  if (difference === 'signed') return [...d.map((v) => 127.5 + 127.5 * Math.max(-1, Math.min(1, v))), 255];
  if (difference === 'absolute') return [...d.map((v) => 255 * Math.min(1, Math.abs(v))), 255];
  const size = luminance(Math.abs(d[0]), Math.abs(d[1]), Math.abs(d[2]));
  return falseColor(size / (Math.abs(luminance(a[0], a[1], a[2])) + RELATIVE_FLOOR));
}

const falseColor = (t: number) => [...ramp(t).map((v) => 255 * Math.min(1, Math.max(0, v))), 255];

function fetchPixel(placed: PlacedPicture | null, fx: number, fy: number): number[] | null {
  if (!placed) return null;
  const { window, picture } = placed;
  const x = Math.floor(fx) - window.x;
  const y = Math.floor(fy) - window.y;
  if (x < 0 || y < 0 || x >= window.width || y >= window.height) return null;
  const n = picture.channels.length;
  const column = Math.min(picture.width - 1, Math.floor((x * picture.width) / window.width));
  const row = Math.min(picture.height - 1, Math.floor((y * picture.height) / window.height));
  const at = (row * picture.width + column) * n;
  const value = (k: number) => fromHalf(picture.halves[at + Math.min(k, n - 1)]);
  return [value(0), value(1), value(2), n === 4 ? value(3) : 1];
}

function encode(c: number[], view: View, gain: number): number[] {
  if (view.range) {
    return falseColor((c[0] - view.range[0]) / (view.range[1] - view.range[0]));
  }
  if (view.channel === 'A') return [...[0, 0, 0].map(() => 255 * c[3]), 255];
  let rgb = c.slice(0, 3).map((v) => v * gain);
  const single = { color: null, R: rgb[0], G: rgb[1], B: rgb[2], Y: luminance(rgb[0], rgb[1], rgb[2]) }[view.channel];
  if (single !== null) rgb = [single, single, single];
  encodeForDisplay(rgb, view);
  return [...rgb.map((v) => 255 * v), 255];
}
