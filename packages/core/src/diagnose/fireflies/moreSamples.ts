import type { Estimate } from '../units.ts';
import { countEstimate } from './countEstimate.ts';
import type { Firefly } from './findFireflies.ts';

/**
 * Fireflies after so many times as many samples. Each sample that made one comes as often among them, and counts for as much
 * less: those that would still stand out are counted. That holds whatever law the tail follows, as far as samples of such
 * brightness were seen.
 */
export function leftWithMore(fireflies: Firefly[], times: number): Estimate {
  const still = fireflies.filter(
    ({ around, limit, luminance }) => around + (luminance - around) / times > limit,
  ).length;
  return countEstimate(still, times);
}
