// What the time of a frame goes to.
import { groupWords, noiseByLight, type NoiseShare } from '../diagnose/index.ts';
import { readNoiseData } from '../predict/index.ts';
import type { Picture, Region } from '../image/index.ts';
import { channelSafe, SPLIT_KINDS, type RenderStatistics, type SplitKind } from '../render/index.ts';
import type { Counts } from './counts.ts';
import type { SamplingModel } from './samplingModel.ts';
import { timesAt } from './unitTimes.ts';

/** The camera rays with what they shade, and each kind of samples. Shares of 1. */
export function costShares(
  { paces, times }: SamplingModel,
  counts: Counts,
): { kind: SplitKind | 'camera'; share: number }[] {
  const seconds = timesAt(times, counts).map((part, k) => part * paces[k]);
  const whole = seconds.reduce((sum, part) => sum + part, 0);
  if (!(whole > 0)) return [];
  return (['camera', ...SPLIT_KINDS] as const).map((kind, k) => ({ kind, share: seconds[k] / whole }));
}

/** A light group: its share of the noise, and of the time by asking for it at the first surface. */
export interface LightCost {
  name: string;
  noise: number;
  time: number;
}

/**
 * Of each light group of a render, the most expensive first; none where there is one alone.
 * @param groups names in the order of the film
 */
export function lightCosts(
  picture: Picture,
  region: Region,
  stops: number,
  { lightSeconds, pixelSeconds }: RenderStatistics,
  groups: string[],
): LightCost[] {
  if (groups.length < 2 || !(pixelSeconds > 0)) return [];
  const noise: NoiseShare[] = noiseByLight(picture, readNoiseData(picture, region, stops));
  return groups
    .map((group, i) => {
      const name = groupWords(channelSafe(group));
      return { name, noise: noise.find((n) => n.name === name)?.share ?? 0, time: lightSeconds[i] / pixelSeconds };
    })
    .filter(({ noise, time }) => noise > 0.005 || time > 0.005)
    .sort((a, b) => b.time - a.time);
}
