import type { Estimate } from '../units.ts';

/**
 * A count that came by chance (Poisson), times a factor: four in five lie within 1.28 deviations; where none was seen, there
 * may be 2.
 */
export function countEstimate(count: number, times = 1): Estimate {
  const doubt = 1.28 * Math.sqrt(count);
  return {
    value: Math.round(times * count),
    low: Math.round(times * Math.max(0, count - doubt)),
    high: Math.round(times * (count + Math.max(doubt, 2))),
  };
}
