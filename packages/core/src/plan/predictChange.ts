import { predictNoise, readNoiseData, secondsForRays, total, type Estimate } from '../diagnose/index.ts';
import type { Picture, Region } from '../image/index.ts';
import { PROBE_SHARE, SPLIT_LOBES } from '../render/index.ts';
import type { RenderSettings } from '../scene/index.ts';

const LIMIT_KEYS = ['diffuse', 'specular', 'transmission', 'total'] as const;

export interface ChangePrediction {
  /** Seconds for the whole frame. */
  seconds: Estimate;
  /** L* over the region; null where the change alters what is seen, so that only a trial can tell. */
  noise: Estimate | null;
  /** What to know before rendering. */
  notes: string[];
}

/**
 * What a change of settings will cost, from a proof made with the old ones. Counts scale the rays that were counted;
 * a raised depth limit adds the rays that probes sent beyond it, times the inverse of their share.
 */
export function predictChange(
  picture: Picture,
  before: RenderSettings,
  after: RenderSettings,
  seconds: number,
  region: Region,
  stops: number,
): ChangePrediction {
  const frame = readNoiseData(picture, picture.dataWindow, stops);
  const rays = total(frame.rays);
  const splits = Object.fromEntries(SPLIT_LOBES.map((lobe) => [lobe, ratio(lobe, before, after)]));
  const pixels = after.pixelSamples / before.pixelSamples;
  let factor =
    1 + SPLIT_LOBES.reduce((sum, lobe, i) => sum + (total(frame.branchRays[i]) / rays) * (splits[lobe] - 1), 0);
  const raised = LIMIT_KEYS.filter((key) => after.depth[key] > before.depth[key]);
  // most stopped paths run through the lobe whose limit is raised: its new splits multiply them too
  const busiest = Math.max(...SPLIT_LOBES.map((lobe) => splits[lobe]));
  for (const key of raised)
    factor += ((1 / PROBE_SHARE - 1) * total(frame.probeRays[LIMIT_KEYS.indexOf(key)]) * busiest) / rays;
  const area = (after.width * after.height) / (before.width * before.height);
  const changesPicture =
    LIMIT_KEYS.some((key) => after.depth[key] !== before.depth[key]) ||
    after.clamp.direct !== before.clamp.direct ||
    after.clamp.indirect !== before.clamp.indirect ||
    area !== 1;
  return {
    seconds: secondsForRays(frame, seconds, factor * pixels * area),
    noise: changesPicture
      ? null
      : predictNoise(readNoiseData(picture, region, stops), { pixels, splits }, stops, before),
    notes: limitNotes(after),
  };
}

function ratio(lobe: (typeof SPLIT_LOBES)[number], before: RenderSettings, after: RenderSettings): number {
  return after[`${lobe}Samples`] / before[`${lobe}Samples`];
}

/** Limits that cannot take effect, in words. */
export function limitNotes({ depth }: RenderSettings): string[] {
  return (['transmission', 'specular', 'diffuse'] as const)
    .filter((key) => depth[key] > depth.total)
    .map(
      (key) =>
        `The total depth of ${depth.total} bites before the ${key} depth of ${depth[key]}: a path ends after ${depth.total} events of any kind. Raise the total depth to ${depth[key]} or more.`,
    );
}
