import { total, type NoiseData } from '../predict/index.ts';
import { SPLIT_KINDS } from '../render/index.ts';
import { countOf, type Counts } from './counts.ts';

/** What samples of a region take, in seconds of one thread for all of its pixels. */
export interface UnitTimes {
  /** One camera sample, without its splits. */
  camera: number;
  /** One split of each of SPLIT_KINDS. */
  splits: number[];
}

/** By the clock of a render with these counts. */
export function unitTimes({ kindSeconds, seconds }: NoiseData, counts: Counts): UnitTimes {
  const spent = kindSeconds.map((values) => total(values) / counts.pixelSamples);
  const all = total(seconds) / counts.pixelSamples;
  return {
    camera: Math.max(0, all - spent.reduce((sum, part) => sum + part, 0)),
    splits: spent.map((part, k) => part / countOf(counts, SPLIT_KINDS[k])),
  };
}

/** Seconds with other counts, by parts: the camera samples, then each of SPLIT_KINDS. */
export function timesAt({ camera, splits }: UnitTimes, counts: Counts): number[] {
  const parts = [camera, ...splits.map((split, k) => countOf(counts, SPLIT_KINDS[k]) * split)];
  return parts.map((part) => part * counts.pixelSamples);
}
