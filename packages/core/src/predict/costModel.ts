// What a render will take, from what the renders of the same picture took: a regression of their seconds on what is told of
// them by the parts of one of them (its camera samples, and each kind of splits, by its own clock).
//
// The parts of one render tell another to within what the machine does meanwhile; several renders with other counts say by
// how much each part is told too short or too long. With few of them the factors are held to 1 (ridge regression, Hoerl &
// Kennard 1970; as a posterior with a normal prior, Gelman et al. 2013, Bayesian Data Analysis, 14.8), so that every render
// helps and none is needed.
//
// Tried before: seconds of a ray of each kind by least squares over the tiles of the one render. Kinds often come together,
// and a slow tile looks like a dear ray: times were told 0.25 to 1.95 times as long as they were, with a pull to the mean
// 1.0 to 1.8 times. Now the parts are timed where they are traced.
import { inverse, quantile, studentT90, type Estimate } from '../math/index.ts';

/** What was told of a render, by parts, and what it took. Seconds. */
export interface TimedRender {
  parts: number[];
  seconds: number;
}
export interface CostModel {
  /** What each part that is told is multiplied with. */
  factors: number[];
  /** Of a render whose parts are told: four in five lie in the range. */
  seconds(parts: number[]): Estimate;
}

/** Standard deviation of a part's factor about 1, before anything was rendered (from the benchmark of plans). */
const FACTOR_SPREAD = 0.3;
/** The same of two runs of one render on a machine that others use, and how many runs that is worth. */
const RUN_SPREAD = 0.08;
const RUN_WEIGHT = 3;
const ROUNDS = 3;

/** @param renders at least one */
export function costModel(renders: TimedRender[]): CostModel {
  const sum = (values: number[]) => values.reduce((all, v) => all + v, 0);
  const usable = renders.filter(({ parts, seconds }) => sum(parts) > 0 && seconds > 0);
  const scale = usable.length > 0 ? quantile(usable.map(({ parts, seconds }) => seconds / sum(parts)), 0.5) : 1; // prettier-ignore
  const shares = usable.map(({ parts, seconds }) => parts.map((part) => (scale * part) / seconds));
  const kinds = renders[0].parts.map((_, k) => k);
  const freedom = RUN_WEIGHT + Math.max(0, usable.length - 1);
  let variance = RUN_SPREAD ** 2;
  let spread: number[][] = [];
  let factors = kinds.map(() => 1);
  for (let round = 0; round < ROUNDS; round++) {
    const precision = (k: number, j: number) => sum(shares.map((a) => a[k] * a[j])) / variance + (k === j ? FACTOR_SPREAD ** -2 : 0); // prettier-ignore
    spread = inverse(kinds.map((k) => kinds.map((j) => precision(k, j))));
    const pull = kinds.map((k) => sum(shares.map((a) => a[k] * (1 - sum(a)))) / variance);
    factors = kinds.map((k) => 1 + sum(kinds.map((j) => spread[k][j] * pull[j])));
    const apart = sum(shares.map((a) => (1 - sum(a.map((share, k) => share * factors[k]))) ** 2));
    variance = (RUN_WEIGHT * RUN_SPREAD ** 2 + apart) / freedom;
  }
  factors = factors.map((factor) => scale * Math.max(0, factor));
  return {
    factors,
    seconds: (parts) => {
      const value = sum(parts.map((part, k) => part * factors[k]));
      const of = parts.map((part) => (value > 0 ? (scale * part) / value : 0));
      const known = sum(kinds.map((k) => of[k] * sum(kinds.map((j) => spread[k][j] * of[j]))));
      const range = studentT90(freedom) * Math.sqrt(variance + known);
      return { value, low: value * Math.max(0, 1 - range), high: value * (1 + range) };
    },
  };
}
