import { luminance } from '../../color/index.ts';
import { FILM, type PathTracer } from '../../render/index.ts';
import type { DiagnosisContext } from '../contract.ts';
import type { Firefly } from './findFireflies.ts';

/** Samples of each pixel that are taken again: a highlight that covers a tenth of it is seen by 25 of the least. */
const LEAST = 256;
const MOST = 1024;
/** Of the excess of a firefly, what a second look may still find: others like it. */
const KEPT = 0.05;
/** Standard errors that a second look is given: five samples have to be bright before it counts as a highlight. */
const DOUBT = 2;

/** After so many pixels whoever cancels is heard. */
const AT_ONCE = 16;

/**
 * Renders single pixels once more with points of their own: what is bright again, by more than chance, is a highlight.
 * @returns those that are not
 */
export async function confirmFireflies(
  tracer: PathTracer,
  fireflies: Firefly[],
  { pause, signal }: Pick<DiagnosisContext, 'pause' | 'signal'>,
): Promise<Firefly[]> {
  const data = new Float64Array(FILM.stride);
  const confirmed: Firefly[] = [];
  for (const [i, firefly] of fireflies.entries()) {
    if (i % AT_ONCE === 0) await pause();
    signal.throwIfAborted();
    const { around, luminance: own, samples, x, y } = firefly;
    const n = Math.min(MOST, Math.max(LEAST, 4 * samples));
    data.fill(0);
    tracer.renderPixel(x, y, 0, n, data, 0, () => 0, 1);
    const mean = luminance(data[0], data[1], data[2]) / n;
    const squares = data[FILM.beauty + 6];
    const error = Math.sqrt(Math.max(0, squares - n * mean * mean) / (n * (n - 1)));
    if (!(mean - DOUBT * error > around + KEPT * (own - around))) confirmed.push(firefly);
  }
  return confirmed;
}
