import { luminance } from '../color/index.ts';
import { denoise } from '../image/index.ts';
import { PREVIEW } from './previewLayout.ts';

/**
 * A preview without its noise, for looking alone.
 * @param meanOf a slot of PREVIEW over all pixels
 * @returns RGB, linear
 */
export function previewLook(
  width: number,
  height: number,
  meanOf: (slot: number) => Float32Array,
  samplesOf: (pixel: number) => number,
): Float32Array[] {
  const three = (slot: number) => [meanOf(slot), meanOf(slot + 1), meanOf(slot + 2)] as const;
  const rgb = three(PREVIEW.rgb);
  const spread = meanOf(PREVIEW.squares);
  for (let i = 0; i < spread.length; i++) {
    const n = samplesOf(i);
    const y = luminance(rgb[0][i], rgb[1][i], rgb[2][i]);
    // a single sample is no surer than it is bright
    spread[i] = n > 1 ? Math.sqrt(Math.max(0, spread[i] - y * y) / (n - 1)) : y;
  }
  const normal = three(PREVIEW.normal);
  for (let i = 0; i < spread.length; i++) {
    const length = Math.hypot(normal[0][i], normal[1][i], normal[2][i]) || 1;
    for (const n of normal) n[i] /= length;
  }
  const error = pooled(spread, width, height);
  return denoise({ width, height, rgb, seen: three(PREVIEW.seen), error, spread, albedo: three(PREVIEW.albedo), normal, depth: meanOf(PREVIEW.depth) }); // prettier-ignore
}

/** Root of the mean square of 3 x 3 pixels: few samples may all be alike by chance. */
function pooled(error: Float32Array, width: number, height: number): Float32Array {
  const out = new Float32Array(error.length);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      let sum = 0;
      let count = 0;
      for (let qy = Math.max(0, y - 1); qy <= Math.min(height - 1, y + 1); qy++)
        for (let qx = Math.max(0, x - 1); qx <= Math.min(width - 1, x + 1); qx++, count++) sum += error[qy * width + qx] ** 2; // prettier-ignore
      out[i] = Math.sqrt(sum / count);
    }
  return out;
}
