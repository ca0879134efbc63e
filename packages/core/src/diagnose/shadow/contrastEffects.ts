// How deep shadows become by a remedy: from the layers of the light groups where it does no more than change strengths, and else
// from the rehearsal of the region.
import type { Region } from '../../image/index.ts';
import type { DiagnosisContext } from '../contract.ts';
import { TILE, type Rehearsal } from '../rehearsal/rehearse.ts';
import type { Effect } from '../remedy.ts';
import { shadowDepth, type ScaledShadow } from './shadowDepth.ts';

/** Of the change that is predicted, and L* besides, so far a render may be off. No source. */
const DOUBT = { share: 0.15, depth: 0.5 };

/**
 * What the depth becomes by each remedy: of a rehearsal, or of strengths to reckon with.
 * @param before the region without a change @param step pixels of the picture for one of the rehearsals
 */
export function contrastEffects(
  { noise: { stops }, picture }: Pick<DiagnosisContext, 'noise' | 'picture'>,
  region: Region,
  before: Rehearsal,
  step: number,
): (after: Rehearsal | ScaledShadow) => Effect[] {
  const now = shadowDepth(picture, region, stops);
  if (now === null) return () => [];
  const tile = Math.max(2, Math.round(TILE / step));
  const depth = (of: Rehearsal, scaled?: ScaledShadow) => shadowDepth(of.picture, of.region, stops, scaled, tile) ?? 0; // prettier-ignore
  const unchanged = depth(before);
  return (after) => {
    const changed = ('scales' in after ? depth(before, after) : depth(after)) - unchanged;
    const value = Math.max(0, now + changed);
    const doubt = DOUBT.depth + DOUBT.share * Math.abs(changed);
    return [{ measure: 'contrast', now, target: null, value, low: Math.max(0, value - doubt), high: value + doubt }];
  };
}
