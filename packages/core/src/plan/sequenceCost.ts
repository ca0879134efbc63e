// What a sequence takes, from what a frame takes.
import type { Estimate } from '../diagnose/index.ts';

export interface Farm {
  frames: number;
  /** Alike to the one that was measured. */
  machines: number;
}
export const FARM_DEFAULTS: Farm = { frames: 48, machines: 4 };

export interface SequenceCost {
  /** Hours of one machine for all frames. */
  machineHours: Estimate;
  /** Hours until the last frame is there: whole frames go to machines. */
  hours: Estimate;
}

/** @param seconds of a frame on one machine */
export function sequenceCost(seconds: Estimate, { frames, machines }: Farm): SequenceCost {
  const times = (n: number): Estimate => ({ value: (seconds.value * n) / 3600, low: (seconds.low * n) / 3600, high: (seconds.high * n) / 3600 }); // prettier-ignore
  return { machineHours: times(frames), hours: times(Math.ceil(frames / machines)) };
}
