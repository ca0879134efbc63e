// How many rays a pixel sends, before anything is rendered.
import { SPLIT_KINDS, type SplitKind } from '../render/index.ts';
import type { RenderSettings } from '../scene/index.ts';
import { total, type NoiseData } from '../predict/index.ts';
import { countOf } from './counts.ts';

export interface RayBudgetRow {
  kind: SplitKind | 'camera';
  /** From the settings alone, for a pixel: every path ends at once; every path runs to the limits. */
  least: number;
  most: number;
  /** As counted with the old settings, scaled by the counts: for a pixel. */
  expected: number;
}

/**
 * Rays for a pixel by what sends them: the camera; the lights at the first surface; and whatever follows a first event of
 * a kind, where each event sends a ray and asks one light.
 * @param before settings that the rays were counted with
 * @param lights that can be asked
 */
export function rayBudget(
  frame: NoiseData,
  before: RenderSettings,
  after: RenderSettings,
  lights: number,
): RayBudgetRow[] {
  const pixels = frame.luminance.length;
  const n = after.pixelSamples;
  const more = n / before.pixelSamples;
  return [
    { kind: 'camera', least: n, most: n, expected: n },
    ...SPLIT_KINDS.map((kind, k) => ({
      kind,
      least: 0,
      most:
        n * countOf(after, kind) * (kind === 'light' ? lights : after.depth[kind] === 0 ? 0 : 2 * after.depth.total),
      expected: ((total(frame.kindRays[k]) / pixels) * more * countOf(after, kind)) / countOf(before, kind),
    })),
  ];
}
