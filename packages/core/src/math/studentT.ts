/** Quantile 0.9 of the standard normal distribution. */
const Z = 1.2815515655446004;

/**
 * Quantile 0.9 of Student's distribution, for a range that four in five values fall into (Abramowitz & Stegun 1964, 26.7.5).
 * @param freedom degrees of freedom, from 2
 */
export function studentT90(freedom: number): number {
  const z = Z;
  return (
    z +
    (z ** 3 + z) / (4 * freedom) +
    (5 * z ** 5 + 16 * z ** 3 + 3 * z) / (96 * freedom ** 2) +
    (3 * z ** 7 + 19 * z ** 5 + 17 * z ** 3 - 15 * z) / (384 * freedom ** 3)
  );
}
