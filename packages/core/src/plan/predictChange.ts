import {
  predictNoise,
  readNoiseData,
  secondsForRays,
  total,
  type Estimate,
  type NoiseData,
} from '../diagnose/index.ts';
import type { Picture, Region } from '../image/index.ts';
import { DEPTH_LIMITS, PROBE_SHARE, SPLIT_LOBES } from '../render/index.ts';
import { rayBudget, type RayBudgetRow } from './rayBudget.ts';
import { listChanges, type RenderSettings } from '../scene/index.ts';

export interface ChangePrediction {
  /** Seconds for the whole frame, and for the region alone. */
  seconds: Estimate;
  regionSeconds: Estimate;
  /** L* over the region; null where the change alters what is seen, so that only a trial can tell. */
  noise: Estimate | null;
  /** For a pixel, with the new settings. */
  rays: RayBudgetRow[];
  /** What to know before rendering. */
  notes: string[];
}

/**
 * What a change of settings will cost, from a proof made with the old ones. Counts scale the rays that were counted;
 * a raised depth limit adds the rays that probes sent beyond it, times the inverse of their share.
 * @param lights that a surface can ask
 */
export function predictChange(
  picture: Picture,
  before: RenderSettings,
  after: RenderSettings,
  seconds: number,
  region: Region,
  stops: number,
  lights = 1,
): ChangePrediction {
  const frame = readNoiseData(picture, picture.dataWindow, stops);
  const part = readNoiseData(picture, region, stops);
  const splits = Object.fromEntries(SPLIT_LOBES.map((lobe) => [lobe, ratio(lobe, before, after)]));
  const pixels = after.pixelSamples / before.pixelSamples;
  const area = (after.width * after.height) / (before.width * before.height);
  const factor = (data: NoiseData) => rayFactor(data, before, after) * pixels * area;
  const share = total(frame.seconds) > 0 ? total(part.seconds) / total(frame.seconds) : 1;
  return {
    seconds: secondsForRays(frame, seconds, factor(frame)),
    regionSeconds: secondsForRays(part, seconds * share, factor(part)),
    noise: changesPicture(before, after) ? null : predictNoise(part, { pixels, splits }, stops, before),
    rays: rayBudget(frame, before, after, lights),
    notes: limitNotes(after),
  };
}

/** Whether anything differs but how often is sampled. */
function changesPicture(before: RenderSettings, after: RenderSettings): boolean {
  return listChanges(before, after).some(({ path }) => !/^(\w+Samples|seed)$/.test(path));
}

/** Rays for one pixel sample after the change over those before. */
function rayFactor(data: NoiseData, before: RenderSettings, after: RenderSettings): number {
  const rays = total(data.rays);
  const ratios = SPLIT_LOBES.map((lobe) => ratio(lobe, before, after));
  const splits = ratios.reduce((sum, r, i) => sum + (total(data.branchRays[i]) / rays) * (r - 1), 0);
  // most stopped paths run through the lobe whose limit is raised: its new splits multiply them too
  const busiest = Math.max(...ratios);
  const beyond = DEPTH_LIMITS.reduce(
    (sum, key, i) => (after.depth[key] > before.depth[key] ? sum + total(data.probeRays[i]) : sum),
    0,
  );
  return 1 + splits + ((1 / PROBE_SHARE - 1) * beyond * busiest) / rays;
}

function ratio(lobe: (typeof SPLIT_LOBES)[number], before: RenderSettings, after: RenderSettings): number {
  return after[`${lobe}Samples`] / before[`${lobe}Samples`];
}

/** Limits that cannot take effect, in words. */
export function limitNotes({ depth }: RenderSettings): string[] {
  return (['transmission', 'specular', 'diffuse', 'volume'] as const)
    .filter((key) => depth[key] > depth.total)
    .map(
      (key) =>
        `The total depth of ${depth.total} bites before the ${key} depth of ${depth[key]}: a path ends after ${depth.total} events of any kind. Raise the total depth to ${depth[key]} or more.`,
    );
}
