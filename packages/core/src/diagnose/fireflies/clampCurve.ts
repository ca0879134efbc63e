import type { Firefly } from './findFireflies.ts';
import type { GuiltyPath } from './guiltyPath.ts';

export type Clamp = { direct: number; indirect: number };
export type Guilty = { firefly: Firefly; path: GuiltyPath };

/**
 * Luminance of a pixel with clamps: what they take from its brightest sample is taken off. Other samples would lose light as
 * well, so that it is this much at most.
 * @param clamp luminance of a sample; 0 is off
 */
export function clamped({ firefly, path }: Guilty, clamp: Clamp): number {
  const lost = path.parts.reduce((sum, { indirect, luminance, share }) => {
    const most = indirect ? clamp.indirect : clamp.direct;
    return most > 0 ? sum + share * Math.max(0, luminance - most) : sum;
  }, 0);
  return firefly.luminance - (path.weight * lost) / Math.max(1, firefly.samples);
}

/** How many are left of them. */
export const leftWith = (guilty: Guilty[], clamp: Clamp): number =>
  guilty.filter((of) => clamped(of, clamp) > of.firefly.limit).length;

/** The highest clamp of a kind that leaves no more than a share of those that a clamp can take away; null: none does. */
export function clampThatLeaves(guilty: Guilty[], kind: keyof Clamp, share: number): number | null {
  const most = share * guilty.length;
  for (let step = 40; step >= -40; step--) {
    const value = 2 ** (step / 4);
    if (leftWith(guilty, { direct: 0, indirect: 0, [kind]: value }) <= most) return value;
  }
  return null;
}
