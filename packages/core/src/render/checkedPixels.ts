// What the pixels that were rendered twice say of the variance: half the square between their two means is unbiased.
//
// One factor for all of a picture has the right sum where all of its light is as even; with four samples smooth light and what few
// samples bring are off by factors of their own: direct diffuse light had 1.06 to 1.34 times its true error by one factor. So
// blocks are put into classes by their noise, each of which has a factor about the common one: 0.97 to 1.11, 0.05 off in the root
// mean square instead of 0.14 (ten scenes made by chance, 256 x 192). All factors are drawn to what was known before as long as
// few pixels tell them.
//
// Tried: the factor drawn on to the plain sums of those pixels: right at 16 samples, led by single pixels at 2 to 8. Each of
// them over the reported variance of its own block: light that rare samples bring was said to have 1.1 times its noise, since
// blocks without a bright sample counted most. Over that of the blocks around it: 1.04, over its root: 1.01 (the median of ten
// scenes, 16 samples, beauty). A factor that grows with the noise of the block by a power: sums as good, and up to twice the
// error in the quiet half of a picture.
import { FILM, type Film } from './film.ts';
import type { PooledNoise } from './measureNoise.ts';
import { BLOCK, type NoiseCells } from './noiseCells.ts';
import { measuredSum } from './noiseChecks.ts';

/** What the pixels that were rendered twice say of the noise of a whole picture. */
export interface NoiseCheck {
  pixels: number;
  /** True over reported, 1 where nothing is known; the variance in all was multiplied with it. */
  factor: number;
  /** Standard error of what they say, relative; null where they say nothing. */
  spread: number | null;
  /** Standard deviation of the logarithm of the factor, after all. */
  doubt: number;
}

/** The same for each block: the reported variance is to be multiplied with it. */
export interface NoiseFactors {
  check: NoiseCheck;
  /** Factor of each class. */
  factors: number[];
  /** Class of each block of 8 x 8, row by row. */
  classOf: Uint8Array;
  /** Blocks side by side. */
  columns: number;
}

/**
 * Standard deviation of the logarithm of the common factor, before anything was rendered twice: more where evenness is estimated to
 * give much, for each unit of its logarithm, and where the halves of few samples show little of it, over their number, as far as
 * no few pixels lead: without that condition the noise of a frame moved by a fifth with the seed. Twenty scenes made by chance, and
 * the occlusion of a room.
 */
const PRIOR = { least: 0.08, gain: 0.2, few: 0.5 };
/** The same of a class about the common factor. */
const CLASS_PRIOR = { least: 0.08, few: 1.5 };
/** The priors of fewer samples are those of so many: fewer were not looked at. */
const FEWEST = 4;
/** Quiet to noisy, a quarter of the blocks in each. By shares of the noise, the quiet half of a picture went with the noisy one. */
const CLASSES = 4;
/** A class takes so many pixels that were rendered twice: one of a dozen follows single bright ones. */
const CLASS_PIXELS = 64;

/** Of a film, or of a band of one. */
interface Band {
  /** First row. */
  top: number;
  /** Blocks side by side. */
  columns: number;
  /** Means of the blocks, row by row: of the reported variance and of s^2 / n. */
  reported: Float64Array;
  classical: Float64Array;
  /** Of each of those pixels: what was found, what is reported, and the number of its block in the band. */
  rows: number[];
  /** Of those pixels, in all. */
  samples: number;
}

/** Those pixels of a picture: variances over the weight of their place. */
interface Seen {
  found: Float64Array;
  reported: Float64Array;
  kind: Uint8Array;
}

/** Collects the pixels of one film, band by band. */
export class CheckedPixels {
  /** In any order. */
  private readonly bands: Band[] = [];

  /** Of a film, or of a band of one. */
  add(
    { data, region, stride }: Film,
    measured: number,
    { classical, variance }: Pick<PooledNoise, 'classical' | 'variance'>,
    { blockOf, blocks, cellOf, columns }: NoiseCells,
  ): void {
    const band: Band = { top: region.y, columns, reported: new Float64Array(blocks), classical: new Float64Array(blocks), rows: [], samples: 0 }; // prettier-ignore
    const pixels = new Float64Array(blocks);
    for (let i = 0; i < variance.length; i++) {
      const block = blockOf[cellOf[i]];
      band.reported[block] += variance[i];
      band.classical[block] += classical[i];
      pixels[block]++;
      const at = i * stride;
      const [n, second] = [data[at + FILM.samples], data[at + FILM.checkSamples]];
      if (second < 2 || variance[i] === 0) continue;
      const apart = measuredSum(data, at, measured) / n - data[at + FILM.check + measured] / second;
      band.rows.push((apart * apart) / 2, variance[i], block);
      band.samples += n;
    }
    for (const means of [band.reported, band.classical]) means.forEach((_, block) => (means[block] /= pixels[block]));
    this.bands.push(band);
  }

  factors(): NoiseFactors {
    const bands = this.bands.toSorted((a, b) => a.top - b.top);
    const [reported, classical] = [bands.map((b) => b.reported), bands.map((b) => b.classical)].map(joined);
    const columns = bands[0]?.columns ?? 1;
    // every place counts by its standard error, not by its variance: one bright edge would stand for the picture otherwise. No
    // pixel and no block sets its own weight: the mean of 1 / v is more than 1 over the mean of v
    const floor = (0.1 * sum(reported)) / reported.length;
    const weights = meansAround(reported, columns).map((mean) => Math.sqrt(mean + floor));
    const pixels = sum(bands.map((band) => band.rows.length / 3));
    const classes = Math.max(1, Math.min(CLASSES, Math.floor(pixels / CLASS_PIXELS)));
    const classOf = equalParts(weights, (block) => reported[block] > 0, classes);
    const seen = pixelsOf(bands, pixels, weights, classOf);
    const weighed = (values: Float64Array) => sum(values.map((v, block) => v / weights[block]));
    // of all blocks: that of the pixels themselves follows the bright ones among them
    const gain = Math.abs(Math.log(weighed(reported) / weighed(classical))) || 0;
    const samples = Math.max(FEWEST, sum(bands.map((band) => band.samples)) / pixels);
    const common = believed(seen, ANY, 1, PRIOR.least + PRIOR.gain * gain, PRIOR.few / samples);
    const few = CLASS_PRIOR.few / samples;
    const factors = Array.from(
      { length: classes },
      (_, kind) =>
        common.factor * (classes > 1 ? believed(seen, kind, common.factor, CLASS_PRIOR.least, few).factor : 1),
    );
    const whole = sum(reported.map((v, block) => v * factors[classOf[block]])) / (sum(reported) || 1);
    const check = { pixels, factor: common.spread === null ? 1 : whole, spread: common.spread, doubt: common.doubt };
    return { check, factors, classOf, columns };
  }
}

/** The pixels of all bands, from top to bottom. @param pixels of them */
function pixelsOf(bands: Band[], pixels: number, weights: Float64Array, classOf: Uint8Array): Seen {
  const [found, reported] = [new Float64Array(pixels), new Float64Array(pixels)];
  const kind = new Uint8Array(pixels);
  let [pixel, first] = [0, 0];
  for (const band of bands) {
    for (let at = 0; at < band.rows.length; at += 3, pixel++) {
      const block = first + band.rows[at + 2];
      found[pixel] = band.rows[at] / weights[block];
      reported[pixel] = band.rows[at + 1] / weights[block];
      kind[pixel] = classOf[block];
    }
    first += band.reported.length;
  }
  return { found, reported, kind };
}

/**
 * Calls for each stretch of pixels of one class, row by row.
 * @param top row of the picture that the first one is
 * @param call first of the stretch, and the first beyond it, of pixels row by row
 */
export function eachStretch(
  { classOf, columns }: NoiseFactors,
  { height, width }: { width: number; height: number },
  top: number,
  call: (kind: number, first: number, end: number) => void,
): void {
  for (let y = 0; y < height; y++) {
    const row = Math.floor((top + y) / BLOCK) * columns;
    for (let x = 0; x < width; x += BLOCK)
      call(classOf[row + x / BLOCK], y * width + x, y * width + Math.min(width, x + BLOCK));
  }
}

/** Mean of each of some values that stand in rows, and of those that touch it. */
function meansAround(values: Float64Array, columns: number): Float64Array {
  const rows = values.length / columns;
  return Float64Array.from(values, (_, at) => {
    const [row, column] = [Math.floor(at / columns), at % columns];
    let [total, count] = [0, 0];
    for (let y = Math.max(0, row - 1); y <= Math.min(rows - 1, row + 1); y++)
      for (let x = Math.max(0, column - 1); x <= Math.min(columns - 1, column + 1); x++) {
        total += values[y * columns + x];
        count++;
      }
    return total / count;
  });
}

type Believed = Pick<NoiseCheck, 'factor' | 'spread' | 'doubt'>;

/** Pixels of all classes. */
const ANY = -1;

/**
 * Found over reported of the pixels of a class, drawn to 1 as far as its own spread is larger than that of the prior.
 * @param by what is reported is multiplied with
 * @param tame added to the prior as far as no few pixels lead
 */
function believed(seen: Seen, of: number, by: number, least: number, tame = 0): Believed {
  let [found, reported, pixels, scatter] = [0, 0, 0, 0];
  for (let i = 0; i < seen.kind.length; i++) {
    if (of !== ANY && seen.kind[i] !== of) continue;
    found += seen.found[i];
    reported += by * seen.reported[i];
    pixels++;
  }
  if (found === 0) return { factor: 1, spread: null, doubt: least };
  const ratio = found / reported;
  for (let i = 0; i < seen.kind.length; i++) {
    if (of !== ANY && seen.kind[i] !== of) continue;
    const expected = ratio * by * seen.reported[i];
    // squares of normal numbers spread so; those of few bright samples more
    scatter += Math.max((seen.found[i] - expected) ** 2, 2 * expected ** 2);
  }
  const spread = Math.sqrt(scatter) / found;
  // 1 where what was found spreads as squares of normal numbers do, and next to nothing where a few pixels lead
  const share = 2 / (pixels * spread ** 2);
  const prior = least + tame * share;
  const trust = prior ** 2 / (prior ** 2 + spread ** 2);
  return { factor: ratio ** trust, spread, doubt: spread * Math.sqrt(trust) };
}

/** Classes from low to high, as many in each of the values that are `counted`. */
function equalParts(values: Float64Array, counted: (at: number) => boolean, classes: number): Uint8Array {
  const sorted = values.filter((_, at) => counted(at)).sort();
  const kinds = new Uint8Array(values.length);
  for (let k = 1; k < classes; k++) {
    const limit = sorted[Math.floor((k * sorted.length) / classes)];
    values.forEach((value, at) => (kinds[at] += Number(value >= limit)));
  }
  return kinds;
}

function joined(parts: Float64Array[]): Float64Array {
  const all = new Float64Array(parts.reduce((length, part) => length + part.length, 0));
  let at = 0;
  for (const part of parts) {
    all.set(part, at);
    at += part.length;
  }
  return all;
}

function sum(values: ArrayLike<number>): number {
  let total = 0;
  for (let i = 0; i < values.length; i++) total += values[i];
  return total;
}
