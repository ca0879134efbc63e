import type { RenderSettings } from '../scene/index.ts';
import { SPLIT_LOBES } from './film.ts';

/**
 * The luminance that a sample is brought down to: the lowest of the clamps that it falls under, by whether it comes over one
 * event or more, and by the first event of its path. Infinity where none is set; 0 is off.
 * @param first that event, as a place in SPLIT_LOBES
 */
export function clampLimit(clamp: RenderSettings['clamp'], indirect: boolean, first: number): number {
  return Math.min((indirect ? clamp.indirect : clamp.direct) || Infinity, clamp[SPLIT_LOBES[first]] || Infinity);
}
