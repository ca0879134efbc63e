// How the noise that is measured follows the noise that is there.
//
// A pixel tells its mean and its error from the same few samples. Where they missed the rare bright paths it looks dark and
// quiet, where they met one bright and noisy, and the eye's answer makes less of either than of a pixel that knows both: so
// noise is measured too small from few samples, and falls slower than with their root. On LH-010 16 samples measured 2.65
// L* and 64 of them 1.60, not 1.32, though the variance of one sample stayed the same to a few percent. A plan that took it
// for proportional told 0.78 of the noise that came.
//
// Over the range of a plan the two follow a power. It is found by what the first quarter of the samples would have told,
// mean and error, beside what all samples say of a quarter of them.
//
// Tried before: a tail of the samples whose sum of squares grows with their number (Hill's index of the brightest; the
// variance of the first quarter against that of all). There is none worth the name on either shot.

/** Less was not met. */
const LEAST = 0.5;
/**
 * From so many samples on the bend is less beyond them than before, in proportion: with it in full, ten scenes made by chance
 * were told 1.2 to 1.5 times as noisy from 64 samples as they came (from the benchmark; no source).
 */
const FULL = 16;

/**
 * The power beyond them, LEAST to 1: 1 where the noise is small beside the light.
 * @param all noise in L* of all samples
 * @param quarter the same from the first quarter of them alone
 * @param foretold what all samples tell of a quarter of them
 * @param samples of a pixel
 */
export function noisePower(all: number, quarter: number, foretold: number, samples: number): number {
  if (!(all > 0) || !(foretold > 1.05 * all) || !(quarter > 0)) return 1;
  const before = Math.min(1, Math.max(LEAST, Math.log(quarter / all) / Math.log(foretold / all)));
  return 1 - (1 - before) * Math.min(1, FULL / samples);
}
