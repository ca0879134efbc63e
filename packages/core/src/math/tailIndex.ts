import { quantile } from './statistics.ts';

/**
 * Index of a heavy tail (Hill 1975): P(x > t) falls as t^-index. Below 2 the variance is infinite, and what is measured of
 * it grows with the number of samples. The largest of blocks have the tail of what they were taken from.
 * @param share of the values that are taken for the tail
 * @returns Infinity where the values are too few or the same
 */
export function tailIndex(values: ArrayLike<number>, share = 0.01): number {
  const from = quantile(values, 1 - share);
  if (!(from > 0)) return Infinity;
  let sum = 0;
  let count = 0;
  for (let i = 0; i < values.length; i++)
    if (values[i] > from) {
      sum += Math.log(values[i] / from);
      count++;
    }
  return count < 10 || sum === 0 ? Infinity : count / sum;
}
