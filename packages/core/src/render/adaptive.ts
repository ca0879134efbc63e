// When a block of pixels has enough samples. The rule looks at the standard error of its pixels in display terms, from
// the samples of the chunk at hand alone, so that the result does not depend on who rendered what and when.
//
// Stopping each pixel by its own samples darkens the picture: those whose bright paths have not come yet look settled
// (Kirk & Arvo 1991, "Unbiased sampling techniques for image synthesis"). A block decides for all of its pixels by their
// mean variance instead, and not before it has seen ROUND samples of each.
import { LUMINANCE_B, LUMINANCE_G, LUMINANCE_R } from '../color/index.ts';
import { FILM, type Film } from './film.ts';

/** Side of a block in pixels. */
export const BLOCK = 8;
/** Samples of every pixel between two looks. */
export const ROUND = 8;

/**
 * Whether the standard error of the pixels of a block, all of its samples counted, is within a limit in L*.
 * @param start samples of each pixel before this film
 */
// prettier-ignore
export function isSettled(
  { region, data }: Film, x0: number, y0: number, x1: number, y1: number, start: number, limit: number,
): boolean {
  let variance = 0;
  let level = 0;
  let samples = 1;
  for (let y = y0; y < y1; y++)
    for (let x = x0; x < x1; x++) {
      const at = (y * region.width + x) * FILM.stride;
      const n = data[at + FILM.samples];
      const sum = LUMINANCE_R * data[at] + LUMINANCE_G * data[at + 1] + LUMINANCE_B * data[at + 2];
      variance += Math.max(0, data[at + FILM.beauty + 6] - (sum * sum) / n) / (n - 1);
      level += sum / n;
      samples = n;
    }
  const pixels = (x1 - x0) * (y1 - y0);
  return lightnessSlope(level / pixels) * Math.sqrt(variance / pixels / (start + samples)) <= limit;
}

/** Change of CIE L* with luminance; beyond display white that of white. */
export function lightnessSlope(y: number): number {
  const dark = 24389 / 27;
  if (y <= 216 / 24389) return dark;
  return 116 / 3 / Math.cbrt(Math.min(1, y)) ** 2;
}
