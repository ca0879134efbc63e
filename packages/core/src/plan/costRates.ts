// Seconds of a ray of each kind, from what the tiles of a picture took and what was traced in them.
//
// Least squares with no rate below zero, by coordinates (Lawson & Hanson 1974, Solving Least Squares Problems, for the
// problem; the descent is the plainest that solves it for six unknowns). Kinds that often come together are hard to tell
// apart, and a clock on a busy machine is a poor witness: so the rates are held to the mean cost of a ray as far as the
// tiles leave them open (ridge regression, Hoerl & Kennard 1970, with the weight that the scatter of the tiles gives it).
// With a fixed weak pull the time of plans was told 0.25 to 1.95 times as long as it was. Tiles during which the machine
// did something else are held by weights that fall with their distance (Huber 1964).
import { quantile } from '../math/index.ts';

/** So far apart are the costs of rays of several kinds as a rule, of their mean (from the benchmarks). */
const SPREAD = 0.4;
/** Least weight of the pull to the mean, as a share of the tiles' own. */
const PULL = 1e-3;
const SWEEPS = 3000;
/** Standard deviation over median distance, of a normal distribution. */
const NORMAL = 1.4826;
/** Distances beyond so many median ones count less. */
const FAR = 2;

/**
 * @param seconds of each tile
 * @param rays of each kind, for each tile
 * @returns seconds for one ray of each kind; their sum over all tiles is the sum of `seconds`
 */
export function costRates(seconds: Float64Array, rays: Float64Array[]): number[] {
  const tiles = seconds.length;
  const sum = (values: Float64Array) => values.reduce((all, v) => all + v, 0);
  const totals = rays.map(sum);
  const whole = sum(seconds);
  const mean = whole / totals.reduce((all, v) => all + v, 0);
  if (!(mean > 0)) return rays.map(() => 0);
  const rates = rays.map(() => mean);
  // each tile by its own time: a slow tile is no better a witness than a quick one
  const shares = rays.map((own) => own.map((count, t) => (seconds[t] > 0 ? count / seconds[t] : 0)));
  const weights = seconds.map((s) => (s > 0 ? 1 : 0));
  let scatter = 0;
  for (let round = 0; round < 8; round++) {
    const product = (a: Float64Array, b: Float64Array | null) => a.reduce((all, v, t) => all + weights[t] * v * (b ? b[t] : 1), 0); // prettier-ignore
    const squares = shares.map((a) => shares.map((b) => product(a, b)));
    const sums = shares.map((a) => product(a, null));
    for (let sweep = 0; sweep < SWEEPS; sweep++)
      rates.forEach((_, k) => {
        const own = squares[k][k];
        const others = squares[k].reduce((all, v, j) => (j === k ? all : all + v * rates[j]), 0);
        const pull = Math.max(PULL * own, (scatter / SPREAD / mean) ** 2);
        rates[k] = own > 0 ? Math.max(0, (sums[k] - others + pull * mean) / (own + pull)) : mean;
      });
    const apart = seconds.map((_, t) => Math.abs(1 - shares.reduce((all, own, k) => all + rates[k] * own[t], 0)));
    const middle = quantile(apart, 0.5);
    scatter = NORMAL * middle;
    for (let t = 0; t < tiles; t++) if (seconds[t] > 0) weights[t] = Math.min(1, (FAR * middle) / (apart[t] || 1));
  }
  const told = rates.reduce((all, rate, k) => all + rate * totals[k], 0);
  return rates.map((rate) => (rate * whole) / told);
}
