import { expect } from 'chai';

/**
 * Pearson's test at the 0.1 % level: counts agree with what is expected. Bins of fewer than five expected are put
 * together (Cochran 1954, "Some methods for strengthening the common chi-square tests").
 */
export function chiSquare(seen: ArrayLike<number>, expected: ArrayLike<number>): void {
  let [statistic, bins, poolSeen, poolExpected] = [0, 0, 0, 0];
  for (let b = 0; b < expected.length; b++) {
    if (expected[b] >= 5) {
      statistic += (seen[b] - expected[b]) ** 2 / expected[b];
      bins++;
    } else {
      poolSeen += seen[b];
      poolExpected += expected[b];
    }
  }
  if (poolExpected >= 5) {
    statistic += (poolSeen - poolExpected) ** 2 / poolExpected;
    bins++;
  } else expect(poolSeen, 'nothing falls where the density is almost 0').to.be.at.most(20);
  expect(bins).to.be.above(1);
  // Wilson & Hilferty 1931; 3.0902 is the normal quantile of 0.999
  const k = bins - 1;
  const bound = k * (1 - 2 / (9 * k) + 3.0902 * Math.sqrt(2 / (9 * k))) ** 3;
  expect(statistic, `chi-square with ${k} degrees of freedom`).to.be.below(bound);
}
