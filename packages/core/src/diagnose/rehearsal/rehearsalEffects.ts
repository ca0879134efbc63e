import { findChannel, planeSum, type Region } from '../../image/index.ts';
import type { DiagnosisContext } from '../contract.ts';
import type { RegionCuts } from '../limits/regionCuts.ts';
import type { Effect } from '../remedy.ts';
import type { Rehearsal } from './rehearse.ts';

/** The time of a render follows its rays this closely. No source. */
const TIME_RANGE = [0.8, 1.25];
/** Luminance of a rehearsal against that of the picture. No source. */
const LIGHT_RANGE = [0.9, 1.1];

/**
 * What is predicted for the region: its light and its time, by their ratios to the render without the change. How the rest of the
 * frame changes is not known.
 * @param seconds that the region took
 */
export function rehearsalEffects(
  before: Rehearsal,
  after: Rehearsal,
  seconds: number,
  cuts: RegionCuts | null,
): Effect[] {
  const effects: Effect[] = [];
  const scaled = (now: number, by: number, [low, high]: number[]) => ({ now, target: null, value: now * by, low: now * (1 + (by - 1) * low), high: now * (1 + (by - 1) * high) }); // prettier-ignore
  const inOrder = (effect: Effect): Effect => ({ ...effect, low: Math.min(effect.low, effect.high), high: Math.max(effect.low, effect.high) }); // prettier-ignore
  const [least, most] = LIGHT_RANGE;
  // of black no ratio is known
  if (cuts && before.luminance === 0 && cuts.meanLuminance === 0) effects.push({ measure: 'luminance', now: 0, target: null, value: after.luminance, low: least * after.luminance, high: most * after.luminance }); // prettier-ignore
  if (cuts && before.luminance > 0) effects.push(inOrder({ measure: 'luminance', ...scaled(cuts.meanLuminance, after.luminance / before.luminance, LIGHT_RANGE) })); // prettier-ignore
  if (before.rays > 0 && seconds > 0) effects.push(inOrder({ measure: 'regionTime', ...scaled(seconds, after.rays / before.rays, TIME_RANGE) })); // prettier-ignore
  return effects;
}

/** Of the render of the picture, the part that the region took. */
export function secondsOf({ picture, seconds }: DiagnosisContext, region: Region): number {
  const time = findChannel(picture, 'time', 'ms')?.data;
  const all = planeSum(picture, time, picture.dataWindow);
  return all > 0 ? (seconds * planeSum(picture, time, region)) / all : 0;
}
