import { hashUnit, quantile } from '../math/index.ts';
import type { Region } from './picture.ts';
import { EYE_NOISE_GAIN, pixelNoise, VISIBLE_NOISE_DEFAULTS } from './visibleNoise.ts';

/** What is measured of a region's noise, where its tiles could as well have been measured otherwise. */
export interface NoiseInterval {
  low: number;
  high: number;
}

/** Relative variance of what the halves of one pixel's samples tell of its variance, raised to the power of evenness. */
const HALVES = 4.5;
/** What evenness makes of the halves is right to so much in a tile, relative (bench/README). */
const EVENNESS = 0.1;
/** One in ten numbers of the normal distribution lies further out on either side, in standard deviations. */
const TENTH = 1.28;
/** Tiles drawn in all, and rounds at most: enough for a tenth of them on either side. */
const DRAWN = 400_000;
const ROUNDS = 200;

/**
 * The range that four in five measurements of the noise would lie in. Every tile is drawn again about what was measured of it,
 * and the noise of the region taken of those (parametric bootstrap, Efron & Tibshirani 1993, 6.5); what the draws do to the
 * measured noise, the measured has done to the true one. Upwards it counts as well what the pixels of a tile would show that
 * knew of each other: where light comes by rare bright samples, a pixel that met none looks dark and quiet, and one that met
 * some bright and noisy, of which the eye makes less.
 * @param variance of each pixel's mean, row by row
 * @param uncertainty variance of that variance, by the samples that carry it: sums of few large squares vary by the squares
 * of these (compound Poisson)
 * @param common standard deviation of the logarithm of what all variances were multiplied with
 */
export function noiseInterval(
  luminance: ArrayLike<number>,
  variance: ArrayLike<number>,
  uncertainty: ArrayLike<number>,
  { width, height }: Pick<Region, 'width' | 'height'>,
  stops: number,
  common: number,
): NoiseInterval {
  const { quantile: q, tile } = VISIBLE_NOISE_DEFAULTS;
  const tiles: number[] = [];
  const spreads: number[] = [];
  const pooled: number[] = [];
  for (let ty = 0; ty < height; ty += tile)
    for (let tx = 0; tx < width; tx += tile) {
      let [squares, doubt, pixels, light, sum] = [0, 0, 0, 0, 0];
      for (let y = ty; y < Math.min(height, ty + tile); y++)
        for (let x = tx; x < Math.min(width, tx + tile); x++) {
          const i = y * width + x;
          pixels++;
          light += luminance[i];
          sum += variance[i];
          if (!(variance[i] > 0)) continue;
          const seen = pixelNoise(luminance[i], Math.sqrt(variance[i]), stops) ** 2;
          squares += seen;
          doubt += (seen / variance[i]) ** 2 * uncertainty[i];
        }
      tiles.push(EYE_NOISE_GAIN * Math.sqrt(squares / pixels));
      pooled.push(EYE_NOISE_GAIN * pixelNoise(light / pixels, Math.sqrt(sum / pixels), stops));
      // a variance that is off by a factor shows as its root; logarithms keep it above 0
      spreads.push(squares > 0 ? Math.sqrt(Math.log(1 + doubt / squares ** 2 + HALVES / pixels)) / 2 : 0);
    }
  const noise = quantile(tiles, q);
  if (!(noise > 0)) return { low: noise, high: noise };
  const rounds = Math.max(20, Math.min(ROUNDS, Math.floor(DRAWN / tiles.length)));
  const drawn: number[] = [];
  for (let round = 0; round < rounds; round++)
    drawn.push(
      quantile(
        tiles.map((t, i) => t * Math.exp(spreads[i] * normal(round * tiles.length + i))),
        q,
      ),
    );
  const high = quantile(tiles.map((t, i) => Math.max(t, pooled[i])), q); // prettier-ignore
  // a variance that is off by a factor shows as its root
  const shared = TENTH * Math.hypot(EVENNESS, common / 2);
  const [most, least] = [quantile(drawn, 0.9), quantile(drawn, 0.1)].map((d) =>
    Math.exp(Math.hypot(Math.log(d / noise), shared)),
  );
  return { low: noise / most, high: high * least };
}

/** A number of the standard normal distribution (Box & Muller 1958) that is a function of its key. */
function normal(key: number): number {
  return Math.sqrt(-2 * Math.log(1 - hashUnit(2 * key))) * Math.cos(2 * Math.PI * hashUnit(2 * key + 1));
}
