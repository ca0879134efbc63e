// A depth limit that ends the paths of the fireflies: how many it leaves is counted in their replays, and what it takes of all
// light in a render that kept account of its paths.
import type { PathCounts, PathEvent } from '../../render/index.ts';
import { sum } from '../limits/clampLimits.ts';
import { DEPTH_KINDS, within, type DepthKind, type Depths } from '../limits/depthLimits.ts';
import { eventsOf, type GuiltyPath } from './guiltyPath.ts';

export interface DepthCure {
  kind: DepthKind;
  value: number;
  /** Luminance that it takes, in each group of pixels, and of all light, 0..1. */
  taken: number[];
  lost: number;
  /** Share of the fireflies that it leaves, 0..1. */
  left: number;
}

/** A limit that takes more of the light is no cure. Common practice, no source. */
const MOST_LOST = 0.25;

/**
 * Of all limits that leave no more than a share of the fireflies the one that takes least of the light; null where none does
 * without taking too much.
 * @param depths rays and light by the events of their paths, with the present limits
 */
export function depthCure(
  paths: Pick<GuiltyPath, 'light' | 'vertices'>[],
  depths: PathCounts['depths'],
  limits: Depths,
  share: number,
): DepthCure | null {
  const now = within(depths, limits).light;
  const all = sum(now);
  if (paths.length === 0 || all === 0) return null;
  const events = paths.map(eventsOf);
  const countOf = (of: PathEvent[], kind: DepthKind) => (kind === 'total' ? of.length : of.filter((one) => one === kind).length); // prettier-ignore
  const cures = DEPTH_KINDS.flatMap((kind): DepthCure[] => {
    const counts = events.map((of) => countOf(of, kind)).sort((a, b) => a - b);
    // all but the fireflies that may stay have more events than this
    const value = counts[Math.floor(share * counts.length)] - 1;
    if (value < 0 || value >= limits[kind]) return [];
    const then = within(depths, { ...limits, [kind]: value }).light;
    const left = counts.filter((count) => count <= value).length / counts.length;
    return [{ kind, value, taken: now.map((v, g) => v - then[g]), lost: 1 - sum(then) / all, left }];
  });
  return cures.filter(({ lost }) => lost <= MOST_LOST).sort((a, b) => a.lost - b.lost)[0] ?? null;
}
