// A second look at single pixels, with points of their own.
//
// In one picture a highlight looks like a firefly, and so does ordinary noise of few samples. So a pixel is rendered again and again,
// each time with as many samples as it had. A highlight is bright again. A firefly is far brighter than most of these renders: than
// their median, as some are fireflies themselves, and pull the mean along. Where its surroundings are so noisy that it hardly stands
// out, few of the renders may be as far off, too: what is more common there is noise, and more samples are the cure. (Asked of all
// of them, that would leave out the fireflies of a flame that is met in every tenth pixel.)
//
// LH-020 at 120 x 68 and 16 samples, two seeds, against 128 renders of each pixel with other seeds (bench/fireflies.ts): precision
// and recall 0.94 and 0.95 where only what was bright again fell out and nothing hidden was looked for, 0.96 and 0.97 now.
import { lightness, luminance } from '../../color/index.ts';
import { FILM, type PathTracer } from '../../render/index.ts';
import type { DiagnosisContext } from '../contract.ts';
import { FIREFLY_DEFAULTS } from './fireflyDefaults.ts';
import type { Firefly } from './findFireflies.ts';

/** Samples of a pixel that are taken again, and renders that they make at least and at most. */
const SAMPLES = 1024;
const FEWEST = 12;
const MOST = 64;
/** Of the excess of a firefly, what a second look may still find: others like it. */
const KEPT = 0.05;
/** Standard errors that a second look is given: five samples have to be bright before it counts as a highlight. */
const DOUBT = 2;
/** Lighter than it should be by so much, L*, is seen at a glance. */
const GLARING = 8;

/** After so many pixels whoever cancels is heard. */
const AT_ONCE = 8;

/**
 * @param common share of the renders of a pixel that may be as far off
 * @returns those that are far too bright by chance
 */
export async function confirmFireflies(
  tracer: PathTracer,
  fireflies: Firefly[],
  common: number,
  { pause, signal }: Pick<DiagnosisContext, 'pause' | 'signal'>,
): Promise<Firefly[]> {
  const data = new Float64Array(FILM.stride);
  const confirmed: Firefly[] = [];
  for (const [i, firefly] of fireflies.entries()) {
    if (i % AT_ONCE === 0) await pause();
    signal.throwIfAborted();
    const { around, luminance: own, x, y } = firefly;
    const samples = Math.max(1, firefly.samples);
    const renders = Math.min(MOST, Math.max(FEWEST, Math.floor(SAMPLES / samples)));
    const again = Float64Array.from({ length: renders }, (_, k) => {
      data.fill(0);
      tracer.renderPixel(x, y, k * samples, samples, data, 0, () => 0, 1);
      return luminance(data[0], data[1], data[2]) / samples;
    }).sort();
    const mean = again.reduce((sum, value) => sum + value, 0) / renders;
    const error = Math.sqrt(again.reduce((sum, value) => sum + (value - mean) ** 2, 0) / (renders * (renders - 1)));
    const isHighlight = mean - DOUBT * error > around + KEPT * (own - around);
    const usual = again[renders >> 1];
    const isFarOff = (value: number) => value > FIREFLY_DEFAULTS.times * usual && lightness(value) > lightness(usual) + GLARING; // prettier-ignore
    if (!isHighlight && isFarOff(own) && again.filter(isFarOff).length <= common * renders) confirmed.push(firefly);
  }
  return confirmed;
}
