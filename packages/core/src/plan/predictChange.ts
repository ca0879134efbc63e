import { limitNotes, type Estimate } from '../diagnose/index.ts';
import { costModel, predictNoise, readNoiseData, secondsByKind, total, type NoiseData } from '../predict/index.ts';
import type { Picture, Region } from '../image/index.ts';
import { DEPTH_LIMITS, PROBE_SHARE, SPLIT_KINDS, SPLIT_LOBES, type SplitKind } from '../render/index.ts';
import type { Timed } from './foretell.ts';
import { rayBudget, type RayBudgetRow } from './rayBudget.ts';
import { countOf, type Counts } from './counts.ts';
import { listChanges, type RenderSettings } from '../scene/index.ts';

export interface ChangePrediction {
  /** Seconds for the whole frame, and for the region alone. */
  seconds: Estimate;
  regionSeconds: Estimate;
  /** L* over the region; null where the change alters what is seen, so that only a trial can measure it. */
  noise: Estimate | null;
  /** For a pixel, with the new settings. */
  rays: RayBudgetRow[];
  /** What to know before rendering. */
  notes: string[];
}

/**
 * What a change of settings will cost, from a proof made with the old ones. Counts scale what their samples were timed to
 * take; a raised depth limit adds the rays that probes sent beyond it, times the inverse of their share.
 * @param timed what that proof and others of the same picture and size took
 * @param lights that a surface can ask
 */
export function predictChange(
  picture: Picture,
  before: RenderSettings,
  after: RenderSettings,
  timed: Timed[],
  region: Region,
  stops: number,
  lights = 1,
): ChangePrediction {
  const frame = readNoiseData(picture, picture.dataWindow, stops);
  const part = readNoiseData(picture, region, stops);
  const splits = Object.fromEntries(SPLIT_KINDS.map((kind) => [kind, ratio(kind, before, after)]));
  const pixels = after.pixelSamples / before.pixelSamples;
  const area = (after.width * after.height) / (before.width * before.height);
  // a clay look follows nothing beyond the first surface
  const follows = after.clay ? 0 : 1;
  const parts = (counts: Counts) =>
    secondsByKind(frame).map((seconds, k) => (k > 0 ? follows : 1) * (seconds * counts.pixelSamples * (k > 0 ? ratio(SPLIT_KINDS[k - 1], before, counts) : 1)) / before.pixelSamples); // prettier-ignore
  const cost = costModel(timed.map(({ seconds, settings }) => ({ parts: parts(settings), seconds })));
  const further = area * beyondLimits(frame, before, after);
  const seconds = cost.seconds(parts(after).map((p) => p * further));
  const share = total(frame.seconds) > 0 ? total(part.seconds) / total(frame.seconds) : 1;
  return {
    seconds,
    regionSeconds: { value: seconds.value * share, low: seconds.low * share, high: seconds.high * share },
    noise: changesPicture(before, after) ? null : predictNoise(part, { pixels, splits }, stops, before),
    rays: rayBudget(frame, before, after, lights),
    notes: limitNotes(after),
  };
}

/** Whether a setting says how often is sampled, and not what is seen; by its path in the settings. */
export const isCount = (path: string) => /^(\w+Samples|seed)$/.test(path);

/** Whether anything differs but how often is sampled. */
function changesPicture(before: RenderSettings, after: RenderSettings): boolean {
  return listChanges(before, after).some(({ path }) => !isCount(path));
}

/** Rays after depth limits were raised, over those before. */
function beyondLimits(data: NoiseData, before: RenderSettings, after: RenderSettings): number {
  // most stopped paths run through the lobe whose limit is raised: its new splits multiply them too
  const busiest = Math.max(...SPLIT_LOBES.map((lobe) => ratio(lobe, before, after)));
  const beyond = DEPTH_LIMITS.reduce(
    (sum, key, i) => (after.depth[key] > before.depth[key] ? sum + total(data.probeRays[i]) : sum),
    0,
  );
  return 1 + ((1 / PROBE_SHARE - 1) * beyond * busiest) / total(data.rays);
}

const ratio = (kind: SplitKind, before: Counts, after: Counts) => countOf(after, kind) / countOf(before, kind);
