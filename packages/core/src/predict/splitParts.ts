// How much of the variance that was measured the splits of each kind bring.
//
// Of s^2 / n the parts are known (render/splitShare.ts), and evenness takes a different share of each: what lies between the
// camera samples is a matter of two dimensions, in which points are even soonest, what lies within their splits of many. So
// as much of what was measured is put down to the splits as they bring to s^2 / n, and the rest to the camera samples.
//
// Tried before: one gain for all parts. On a frosted pane before a lamp (16 pixel samples, 4 light samples) it put 45 % down
// to the light samples; 20 seeds with 1 to 16 of them say 95 %, this 64 to 92 %. The splits taken by halves, as the samples are
// (measureNoise.ts): the first half of the splits of each sample is no even set over all samples, and gave twice the truth.
import { VISIBLE_NOISE_DEFAULTS } from '../image/index.ts';

/** What splits bring is known to a factor of these (the same scene, and rougher and smoother panes). */
export const PART_RANGE = [0.6, 1.4];
/** Of the gain that was met between camera samples, 0.1 to 0.3 are usual (the scenes of the benchmark). */
const BETWEEN_GAIN = 0.2;
const { tile: BLOCK } = VISIBLE_NOISE_DEFAULTS;

/**
 * Variance of each pixel's mean that the splits of each kind bring.
 * @param variance as it was measured
 * @param classical s^2 / n
 * @param shares of that, by kinds; empty where a kind's splits are single
 */
export function splitParts(
  variance: Float32Array,
  classical: Float32Array,
  shares: Float32Array[],
  width: number,
): Float32Array[] {
  const columns = Math.ceil(width / BLOCK);
  const blockOf = (i: number) => Math.floor(Math.floor(i / width) / BLOCK) * columns + Math.floor((i % width) / BLOCK);
  const blocks = variance.length > 0 ? blockOf(variance.length - 1) + columns : 0;
  const sum = (values: Float32Array) => {
    const sums = new Float64Array(blocks);
    values.forEach((v, i) => (sums[blockOf(i)] += v));
    return sums;
  };
  const [measured, all] = [sum(variance), sum(classical)];
  const within = new Float64Array(blocks);
  for (const share of shares) sum(share).forEach((v, b) => (within[b] += v));
  const gain = within.map((w, b) => {
    if (w === 0) return 0;
    const left = measured[b] - BETWEEN_GAIN * Math.max(0, all[b] - w);
    return Math.min(1, measured[b] / w, Math.max(measured[b] / all[b], left / w));
  });
  return shares.map((share) => share.map((v, i) => Math.min(variance[i], v * gain[blockOf(i)])));
}
