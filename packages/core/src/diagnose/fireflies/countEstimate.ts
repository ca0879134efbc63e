import type { Estimate } from '../units.ts';

/** Of counts that come by chance (Poisson) four in five lie within so many deviations. */
const DOUBT = 1.28;
/** Where none was seen, there may be so many. */
const UNSEEN = 2;

export const countEstimate = (count: number, times = 1): Estimate => countInParts([{ count, weight: times }]);

/**
 * A count of all from the counts of parts that stand for others. Parts of one weight are taken to be drawn alike: they differ
 * by chance, or by more where what is counted comes in heaps.
 */
export function countInParts(parts: { count: number; weight: number }[]): Estimate {
  let [value, variance, most] = [0, 0, 0];
  for (const weight of new Set(parts.map((part) => part.weight))) {
    const counts = parts.filter((part) => part.weight === weight).map((part) => part.count);
    const all = counts.reduce((sum, count) => sum + count, 0);
    const mean = all / counts.length;
    const spread = weight > 1 ? counts.reduce((sum, count) => sum + (count - mean) ** 2, 0) / Math.max(1, counts.length - 1) : 0; // prettier-ignore
    value += weight * all;
    variance += weight ** 2 * counts.length * Math.max(mean, spread);
    most = Math.max(most, weight);
  }
  const doubt = DOUBT * Math.sqrt(variance);
  return {
    value: Math.round(value),
    low: Math.round(Math.max(0, value - doubt)),
    high: Math.round(value + Math.max(doubt, UNSEEN * most)),
  };
}
