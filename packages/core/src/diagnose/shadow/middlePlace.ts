import type { Region } from '../../image/index.ts';
import type { ShadowProbe } from '../../render/index.ts';

/** Places of a region that are tried each way. */
const TRIES = 8;

/** Lets the probe look at the surface that is seen nearest to the middle of a region. @returns whether any is seen */
export function lookAtMiddle(probe: ShadowProbe, region: Region): boolean {
  const offsets = Array.from({ length: TRIES * TRIES }, (_, i) => [(i % TRIES) + 0.5, Math.floor(i / TRIES) + 0.5].map((k) => k / TRIES - 0.5)); // prettier-ignore
  return [[0, 0], ...offsets.sort((a, b) => Math.hypot(...a) - Math.hypot(...b))].some(([u, v]) =>
    probe.at(Math.floor(region.x + (0.5 + u) * region.width), Math.floor(region.y + (0.5 + v) * region.height)),
  );
}
