// The variance of every pixel's mean, as it is, of all that noise is measured of.
//
// s^2 / n does not know that the points of a pixel are spread evenly: it gave a standard error of 1.1 to 2.5 times the true
// one (ten scenes made by chance, 50 seeds, 16 samples, summed over the frame), 2.2 times on direct diffuse light.
//
// Two halves with points of their own would tell the truth and cost it: 14 to 16 % more variance of the picture, up to 46 %.
// The two halves of the one set cost nothing and show 1.0 to 1.5 times the true error, since halves balance each other. So
// the halves give the shape: how far evenness has come in a block of pixels, from which evenness.ts estimates how far it comes
// for the whole set (0.94 to 1.08, the same scenes). A second set of points on one pixel in 16 to 64 gives the truth where
// it counts (checkedPixels.ts): factors for each of what is measured, drawn to 1 as long as those pixels are few.
//
// The halves of one pixel show its noise only roughly. They are pooled over the pixels of one object in a block of 8 x 8 that
// are about as bright (noiseCells.ts), and s^2 / n, which every pixel knows for itself, says how the noise lies among them. No
// figure takes anything from beyond the blocks that it touches, but for the factor, and for a prior worth a few pixels.
// Tried: blocks of 16 x 16, and blocks around with as much weight as 32 pixels: 0.6 to 0.8 of the true error in the median
// pixel of pictures with a lamp in view. Blocks without regard of brightness: 0.8 of the true L* where light and shadow meet.
import { FILM, type Film } from './film.ts';
import { CheckedPixels, eachStretch, type NoiseCheck } from './checkedPixels.ts';
import { evennessPower } from './evenness.ts';
import { noiseCells, type NoiseCells } from './noiseCells.ts';
import { measuredSquares, measuredSum } from './noiseChecks.ts';

/** Variance of one pixel's mean as independent samples tell it, s^2 / n; as two independent halves would; and as it is. */
export interface PooledNoise {
  classical: Float32Array;
  halves: Float32Array;
  /** To be multiplied with the factors of the check. */
  variance: Float32Array;
}
export interface MeasuredNoise extends PooledNoise {
  check: NoiseCheck;
}

/**
 * The cells around one count as so many of its pixels, and the whole picture as so many of theirs: few pixels say nothing by
 * themselves.
 */
const NEAR_PIXELS = 8;
const FAR_PIXELS = 4;
/** Two halves that differ by more than independent ones do so by chance. */
const MOST_SPREAD = 1.25;

/**
 * Of one film by itself.
 * @param measured one of MEASURED
 */
export function measureNoise(film: Film, measured: number): MeasuredNoise {
  const rows = new CheckedPixels();
  const pooled = poolNoise(film, measured, noiseCells(film), rows);
  const found = rows.factors();
  eachStretch(found, film.region, 0, (kind, first, end) => {
    for (let i = first; i < end; i++) pooled.variance[i] *= found.factors[kind];
  });
  return { ...pooled, check: found.check };
}

/**
 * Of a film, or of a band of one, without what the pixels that were rendered twice say: that takes the whole.
 * @param checked takes those pixels
 */
export function poolNoise(film: Film, measured: number, cells: NoiseCells, checked: CheckedPixels): PooledNoise {
  const { data, region, stride } = film;
  const pixels = region.width * region.height;
  const classical = new Float32Array(pixels);
  const halves = new Float32Array(pixels);
  let [reported, between] = [0, 0];
  for (let i = 0; i < pixels; i++) {
    const at = i * stride;
    const n = data[at + FILM.samples];
    if (n < 2) continue;
    const sum = measuredSum(data, at, measured);
    classical[i] = Math.max(0, measuredSquares(data, at, measured) - (sum * sum) / n) / (n * (n - 1));
    const first = data[at + FILM.halfSamples];
    const second = n - first;
    if (first === 0 || second === 0) halves[i] = classical[i];
    else {
      const part = data[at + FILM.half + measured];
      halves[i] = ((part / first - (sum - part) / second) ** 2 * first * second) / n ** 2;
    }
    reported += classical[i];
    between += halves[i];
  }
  const variance = new Float32Array(pixels);
  if (reported > 0)
    poolSpread(cells, classical, halves, between / reported).forEach((spread, i) => {
      halves[i] = classical[i] * spread;
      variance[i] = classical[i] * spread ** evennessPower(data[i * stride + FILM.samples]);
    });
  const noise = { classical, halves, variance };
  checked.add(film, measured, noise, cells);
  return noise;
}

/**
 * Variance of a pixel's variance by the samples that carry it: a sum of n squares varies by the sum of their squares (compound
 * Poisson), which is at most the largest of them times their sum.
 * @param brightest luminance of the brightest of n samples
 * @param classical s^2 / n; variance: as it was measured
 */
export function varianceDoubt(brightest: number, mean: number, classical: number, variance: number, n: number): number {
  if (n < 2 || classical === 0) return 0;
  return (((brightest - mean) ** 2 / (n * (n - 1))) * variance ** 2) / classical;
}

/**
 * Halves over what independent ones would give, for each pixel, pooled over its cell, and with less weight over the cells next
 * to it.
 * @param whole the same of the film
 */
function poolSpread(
  { cellOf, near }: NoiseCells,
  classical: Float32Array,
  halves: Float32Array,
  whole: number,
): Float32Array {
  const [own, between, pixels] = [0, 1, 2].map(() => new Float64Array(near.length));
  classical.forEach((v, i) => {
    own[cellOf[i]] += v;
    between[cellOf[i]] += halves[i];
    pixels[cellOf[i]]++;
  });
  const spreads = near.map((others, cell) => {
    if (own[cell] === 0) return whole;
    const mean = own[cell] / pixels[cell];
    let [around, found] = [FAR_PIXELS * mean, FAR_PIXELS * mean * whole];
    for (const other of others) {
      around += own[other];
      found += between[other];
    }
    const prior = NEAR_PIXELS * mean;
    return Math.min(MOST_SPREAD, (between[cell] + (prior * found) / around) / (own[cell] + prior));
  });
  return classical.map((_, i) => spreads[cellOf[i]]);
}
