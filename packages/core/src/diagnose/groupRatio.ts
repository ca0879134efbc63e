import { sum } from './limits/clampLimits.ts';
import type { Estimate } from './units.ts';

/**
 * A ratio of two sums over the groups of pixels, with its range: the jackknife over the groups (Efron & Tibshirani 1993,
 * An Introduction to the Bootstrap, ch. 11), times `spread`.
 */
export function ratioOf(above: number[], below: number[], spread = 1.28): Estimate {
  const [a, b] = [sum(above), sum(below)];
  const value = b > 0 ? a / b : 0;
  const n = above.length;
  const without = above.map((_, g) => (b - below[g] > 0 ? (a - above[g]) / (b - below[g]) : value));
  const mean = sum(without) / n;
  const error = Math.sqrt(((n - 1) / n) * sum(without.map((v) => (v - mean) ** 2)));
  return { value, low: Math.max(0, value - spread * error), high: value + spread * error };
}
