import type { Estimate } from '../units.ts';
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
  // of a count by chance (Poisson), four in five lie within 1.28 deviations; where none was seen, there may be 2
  const doubt = 1.28 * Math.sqrt(still);
  return {
    value: Math.round(times * still),
    low: Math.round(times * Math.max(0, still - doubt)),
    high: Math.round(times * Math.max(still + doubt, 2)),
  };
}
