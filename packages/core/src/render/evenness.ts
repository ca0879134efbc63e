// By how much evenly spread points do better than independent ones.
//
// The variance of a mean of n samples is gain * s^2 / n. From one set of points it cannot be known for certain, but the two
// halves of a net are nets as well, and their difference shows how much evenness has paid so far: `spread`, the variance of
// the mean as two independent halves would tell it, over s^2 / n. Halving goes on (V of n is V of n / 2 without what lies
// between the halves), so the gain is further along the same way: a power of the spread.
//
// The exponent was fitted on ten scenes made by chance, 50 seeds of 4, 16, 64 and 256 samples, all components, and held on ten
// others (bench/README);
// what is left of a picture's own is measured by the pixels that are rendered twice (noiseChecks.ts).

/** Exponent of the spread that gives the gain. @param samples of a pixel, from 2 */
export function evennessPower(samples: number): number {
  return 1 + 2 / Math.max(1, Math.log2(samples)) + 24 / Math.max(4, samples) ** 2;
}

/**
 * The power by which variance falls with the samples from here on: 1 for independent points, up to 3 for smooth light (Owen
 * 1997, "Scrambled net variance for integrals of smooth functions"). Twice as many take away what half of them would add.
 * @param variance of the mean
 * @param halves the same as two independent halves would tell it: the variance of half as many samples is the sum of both
 */
export function evennessLaw(variance: number, halves: number): number {
  return variance > 0 ? Math.min(MOST_LAW, Math.max(LEAST_LAW, Math.log2(1 + halves / variance))) : 1;
}
const LEAST_LAW = 0.9;
const MOST_LAW = 3;
