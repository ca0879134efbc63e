import type { Explained } from './clusters.ts';
import { isByChance } from './guiltyPath.ts';

/**
 * The reach of an emitter, in metres, that leaves a share of the fireflies that it made: each is cut off where its light was
 * spread last, if that lies farther away.
 * @returns null where it made none
 */
export function reachThatLeaves(explained: Explained[], emitter: string, share: number): number | null {
  const distances = explained
    .filter(({ path, story }) => story.emitter === emitter && !path.light.asked)
    .map(({ path: { vertices } }) => {
      const from = vertices.findLast((v, i) => i < vertices.length - 1 && isByChance(v)) ?? vertices[0];
      return Math.hypot(...from.position.map((c, k) => c - vertices.at(-1)!.position[k]));
    })
    .sort((a, b) => a - b);
  if (distances.length === 0) return null;
  return Number(distances[Math.floor(share * distances.length)].toPrecision(2));
}
