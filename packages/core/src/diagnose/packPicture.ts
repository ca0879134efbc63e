import { toHalf } from '../formats/index.ts';
import { cropPlane, findChannel, type Picture, type Region } from '../image/index.ts';

/** Pictures of evidence are no larger than this, each way. */
const MOST_SIDE = 240;

/** Means of squares of pixels, so that the whole region stays in view. */
export function packPicture(picture: Picture, region: Region): { width: number; height: number; halves: string } {
  const step = Math.ceil(Math.max(region.width, region.height) / MOST_SIDE);
  const [width, height] = [Math.ceil(region.width / step), Math.ceil(region.height / step)];
  const planes = [...'RGB'].map((c) => cropPlane(picture, findChannel(picture, 'beauty', c)!.data, region));
  const halves = new Uint16Array(width * height * 3);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const sums = [0, 0, 0];
      let count = 0;
      for (let py = y * step; py < Math.min(region.height, (y + 1) * step); py++)
        for (let px = x * step; px < Math.min(region.width, (x + 1) * step); px++, count++)
          planes.forEach((plane, k) => (sums[k] += plane[py * region.width + px]));
      sums.forEach((sum, k) => (halves[(y * width + x) * 3 + k] = toHalf(sum / count)));
    }
  return { width, height, halves: base64(new Uint8Array(halves.buffer)) };
}

/** One plane as a picture of grays. */
export function packGray(
  plane: Float32Array,
  width: number,
  height: number,
): { width: number; height: number; halves: string } {
  const halves = new Uint16Array(plane.length * 3);
  plane.forEach((v, i) => halves.fill(toHalf(v), i * 3, i * 3 + 3));
  return { width, height, halves: base64(new Uint8Array(halves.buffer)) };
}

/** Data of evidence that stand in it. */
export const fromBase64 = (text: string): Uint8Array => Uint8Array.from(atob(text), (c) => c.charCodeAt(0));

export function base64(bytes: Uint8Array): string {
  let binary = '';
  for (const byte of bytes) binary += String.fromCharCode(byte);
  return btoa(binary);
}
