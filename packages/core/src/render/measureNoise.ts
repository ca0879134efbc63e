// The variance of every pixel's mean, as it is, of all that noise is measured of.
//
// s^2 / n does not know that the points of a pixel are spread evenly: it gave a standard error of 1.1 to 2.5 times the true
// one (ten scenes made by chance, 50 seeds, 16 samples, summed over the frame), 2.2 times on direct diffuse light.
//
// Two halves with points of their own would tell the truth and cost it: 14 to 16 % more variance of the picture, up to 46 %.
// The two halves of the one set cost nothing and show 1.0 to 1.5 times the true error, since halves balance each other. So
// the halves give the shape: how far evenness has come in a block of pixels, from which evenness.ts estimates how far it comes
// for the whole set (0.94 to 1.08, the same scenes). A second set of points on one pixel in 16 to 64 gives the truth where
// it counts, one factor for each of what is measured, drawn to 1 as long as those pixels are few; less so where
// evenness is estimated to give much.
//
// The halves of one pixel show its noise only roughly. They are pooled over the pixels of one object in a block of 8 x 8 that
// are about as bright (noiseCells.ts), and s^2 / n, which every pixel knows for itself, says how the noise lies among them. No
// figure takes anything from beyond the blocks that it touches, but for the factor, and for a prior worth a few pixels.
// Tried: blocks of 16 x 16, and blocks around with as much weight as 32 pixels: 0.6 to 0.8 of the true error in the median
// pixel of pictures with a lamp in view. Blocks without regard of brightness: 0.8 of the true L* where light and shadow meet.
// The factor drawn on to the plain sums of the pixels rendered twice: right at 16 samples, led by single pixels at 2 to 8. Each
// of them over the reported variance of its own block: light that rare samples bring was said to have 1.1 times its noise, since
// blocks without a bright sample counted most. Over that of the blocks around it: 1.04, over its root: 1.01 (ten scenes of
// 256 x 192, 16 samples, beauty; the median of them). A factor that grows with the noise of the block by a power: as good,
// with worse medians.
import { FILM, type Film } from './film.ts';
import { evennessPower } from './evenness.ts';
import { noiseCells, type NoiseCells } from './noiseCells.ts';
import { measuredSquares, measuredSum } from './noiseChecks.ts';

/** Variance of one pixel's mean as independent samples tell it, s^2 / n; as two independent halves would; and as it is. */
export interface PooledNoise {
  classical: Float32Array;
  halves: Float32Array;
  /** To be multiplied with the factor of the check. */
  variance: Float32Array;
}
export interface MeasuredNoise extends PooledNoise {
  check: NoiseCheck;
}

/** What the pixels that were rendered twice say of the variance. */
export interface NoiseCheck {
  pixels: number;
  /** True over reported, 1 where nothing is known; the variance was multiplied with it. */
  factor: number;
  /** Standard error of what they say, relative; null where they say nothing. */
  spread: number | null;
}

/**
 * The cells around one count as so many of its pixels, and the whole picture as so many of theirs: few pixels say nothing by
 * themselves.
 */
const NEAR_PIXELS = 8;
const FAR_PIXELS = 4;
/**
 * Of the factor, before anything was rendered twice: standard deviation of its logarithm. More where evenness is estimated to
 * give much, for each unit of its logarithm, and where the halves of few samples show little of it, over their number, as far as
 * no few pixels lead (twenty scenes made by chance, and the occlusion of a room).
 */
const PRIOR_SPREAD = { least: 0.08, gain: 0.2, few: 0.5 };
/** Two halves that differ by more than independent ones do so by chance. */
const MOST_SPREAD = 1.25;

/**
 * Of one film by itself.
 * @param measured one of MEASURED
 */
export function measureNoise(film: Film, measured: number): MeasuredNoise {
  const rows = new CheckedPixels();
  const pooled = poolNoise(film, measured, noiseCells(film), rows);
  const check = rows.check();
  for (let i = 0; i < pooled.variance.length; i++) pooled.variance[i] *= check.factor;
  return { ...pooled, check };
}

/**
 * Of a film, or of a band of one, without what the pixels that were rendered twice say: that is one factor for the whole.
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

/** Holds variances against the pixels that were rendered twice: half the square between the two means is unbiased. */
export class CheckedPixels {
  /**
   * In any order. Of each block of a band its mean variance, row by row; of each of those pixels what was found, what is
   * reported, s^2 / n, and the number of its block in the band; and their samples in all.
   */
  private readonly bands: { top: number; columns: number; blocks: Float64Array; rows: number[]; samples: number }[] =
    [];

  /** Of a film, or of a band of one. */
  add(
    { data, region, stride }: Film,
    measured: number,
    { classical, variance }: Pick<PooledNoise, 'classical' | 'variance'>,
    { blockOf, blocks: count, cellOf, columns }: NoiseCells,
  ): void {
    const [blocks, pixels] = [new Float64Array(count), new Float64Array(count)];
    variance.forEach((v, i) => {
      blocks[blockOf[cellOf[i]]] += v;
      pixels[blockOf[cellOf[i]]]++;
    });
    pixels.forEach((number, block) => (blocks[block] /= number));
    const rows: number[] = [];
    let samples = 0;
    for (let i = 0; i < region.width * region.height; i++) {
      const at = i * stride;
      const [n, second] = [data[at + FILM.samples], data[at + FILM.checkSamples]];
      if (second < 2 || variance[i] === 0) continue;
      const apart = measuredSum(data, at, measured) / n - data[at + FILM.check + measured] / second;
      rows.push((apart * apart) / 2, variance[i], classical[i], blockOf[cellOf[i]]);
      samples += n;
    }
    this.bands.push({ top: region.y, columns, blocks, rows, samples });
  }

  check(): NoiseCheck {
    const bands = this.bands.toSorted((a, b) => a.top - b.top);
    const blocks = bands.flatMap((band) => [...band.blocks]);
    // every place counts by its standard error, not by its variance: one bright edge would stand for the picture otherwise. No
    // pixel and no block sets its own weight: the mean of 1 / v is more than 1 over the mean of v
    const floor = 0.1 * mean(blocks);
    const [found, reported, classical] = [0, 1, 2].map((): number[] => []);
    let first = 0;
    for (const { blocks: own, columns, rows } of bands) {
      for (let at = 0; at < rows.length; at += 4) {
        const weight = 1 / Math.sqrt(meanAround(blocks, columns, first + rows[at + 3]) + floor);
        [found, reported, classical].forEach((values, k) => values.push(weight * rows[at + k]));
      }
      first += own.length;
    }
    const pixels = found.length;
    if (sum(found) === 0) return { pixels, factor: 1, spread: null };
    const ratio = sum(found) / sum(reported);
    const scatter = found.map((f, i) => Math.max((f - ratio * reported[i]) ** 2, 2 * (ratio * reported[i]) ** 2));
    const spread = Math.sqrt(sum(scatter)) / sum(found);
    const { few, gain, least } = PRIOR_SPREAD;
    const samples = sum(bands.map((band) => band.samples)) / pixels;
    // 1 where what was found spreads as squares of normal numbers do, and next to nothing where a few pixels lead
    const tame = 2 / (pixels * spread ** 2);
    const prior = least + gain * Math.abs(Math.log(sum(reported) / sum(classical))) + (tame * few) / samples;
    return { pixels, factor: ratio ** (prior ** 2 / (prior ** 2 + spread ** 2)), spread };
  }
}

const sum = (values: number[]) => values.reduce((total, v) => total + v, 0);
const mean = (values: number[]) => sum(values) / (values.length || 1);

/** Mean of one of some values that stand in rows, and of those that touch it. */
function meanAround(values: number[], columns: number, at: number): number {
  const [row, column] = [Math.floor(at / columns), at % columns];
  let [total, count] = [0, 0];
  for (let y = Math.max(0, row - 1); y <= row + 1 && y * columns < values.length; y++)
    for (let x = Math.max(0, column - 1); x <= Math.min(columns - 1, column + 1); x++) {
      total += values[y * columns + x];
      count++;
    }
  return total / count;
}
