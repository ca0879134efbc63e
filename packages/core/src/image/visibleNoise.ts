import { lightness } from '../color/index.ts';
import { quantile } from '../math/index.ts';
import type { Region } from './picture.ts';

export interface VisibleNoiseOptions {
  /** Exposure at which the picture is judged: the shadow check, in stops. */
  stops: number;
  /** Side of the square tiles that noise is reported for, in pixels. Common practice, no source. */
  tile: number;
  /** Share of tiles that may be noisier than the number given for the whole. */
  quantile: number;
}
export const VISIBLE_NOISE_DEFAULTS: VisibleNoiseOptions = { stops: 1, tile: 8, quantile: 0.95 };

/** Spread of the eye's luminance filter in pixels at 60 pixels a degree: 0.0283 deg (Zhang & Wandell 1997, S-CIELAB; from memory). */
const EYE_SPREAD = 0.0283 * 60;

/**
 * What is left of the noise of independent pixels after the eye has averaged them: the root of the integral of the
 * squared filter exp(-r2 / s2) / (pi s2), 1 / (s sqrt(2 pi)). The two wider, weak parts of the filter are left out.
 */
export const EYE_NOISE_GAIN = 1 / (EYE_SPREAD * Math.sqrt(2 * Math.PI));

/**
 * Noise of one pixel as the eye sees it: half the distance in CIE L* between its luminance plus and minus one
 * standard error, after the shadow check. 0..50; a pixel far above display white shows none.
 */
export function pixelNoise(mean: number, standardError: number, stops: number): number {
  const gain = 2 ** stops;
  return (lightness((mean + standardError) * gain) - lightness((mean - standardError) * gain)) / 2;
}

/**
 * Noise of a region: root mean square of the pixels' noise in each tile, as the eye averages it, then the upper
 * quantile of the tiles.
 * @param luminance mean luminance of each pixel, row by row
 * @param variance variance of that mean
 * @param region the part to judge, in pixels of this picture
 * @returns L*; NaN for an empty region
 */
export function visibleNoise(
  luminance: ArrayLike<number>,
  variance: ArrayLike<number>,
  width: number,
  region: Region,
  options: Partial<VisibleNoiseOptions> = {},
): number {
  const { stops, tile, quantile: q } = { ...VISIBLE_NOISE_DEFAULTS, ...options };
  const tiles: number[] = [];
  for (let ty = region.y; ty < region.y + region.height; ty += tile)
    for (let tx = region.x; tx < region.x + region.width; tx += tile) {
      let sum = 0;
      let count = 0;
      for (let y = ty; y < Math.min(ty + tile, region.y + region.height); y++)
        for (let x = tx; x < Math.min(tx + tile, region.x + region.width); x++) {
          const i = y * width + x;
          sum += pixelNoise(luminance[i], Math.sqrt(Math.max(0, variance[i])), stops) ** 2;
          count++;
        }
      tiles.push(EYE_NOISE_GAIN * Math.sqrt(sum / count));
    }
  return quantile(tiles, q);
}
