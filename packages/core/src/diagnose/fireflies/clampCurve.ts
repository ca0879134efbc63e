import type { Clamp } from '../limits/clampLimits.ts';
import type { Firefly } from './findFireflies.ts';
import { keptOf, type GuiltyPath } from './guiltyPath.ts';

type Guilty = { firefly: Firefly; path: GuiltyPath };

/**
 * Luminance of a pixel with other clamps: what they change of its bright samples is taken off.
 * @param now clamps of the picture
 */
function clamped({ firefly, path }: Guilty, now: Clamp, clamp: Clamp): number {
  const lost = path.samples.reduce((sum, { parts, weight }) => sum + weight * (keptOf(parts, now) - keptOf(parts, clamp)), 0); // prettier-ignore
  return firefly.luminance - lost / Math.max(1, firefly.samples);
}

/** How many are left of them. */
export const leftWith = (guilty: Guilty[], now: Clamp, clamp: Clamp): number =>
  guilty.filter((of) => clamped(of, now, clamp) > of.firefly.limit).length;

/** The highest clamp of a kind that leaves no more than a share of those that a clamp can take away; null: none does. */
export function clampThatLeaves(guilty: Guilty[], now: Clamp, kind: keyof Clamp, share: number): number | null {
  const most = share * guilty.length;
  for (let step = 40; step >= -40; step--) {
    const value = 2 ** (step / 4);
    if (leftWith(guilty, now, { ...now, [kind]: value }) <= most) return value;
  }
  return null;
}
