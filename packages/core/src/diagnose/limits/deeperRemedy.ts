// Deeper limits as a remedy, with the light that they bring and the time that they take.
import { findChannel, planeSum, type Region } from '../../image/index.ts';
import type { DiagnosisContext, RenderedRegion } from '../contract.ts';
import { ratioOf } from '../groupRatio.ts';
import type { Effect, Remedy } from '../remedy.ts';
import { brighter } from './brighter.ts';
import { OPEN, within, type DepthKind, type Depths } from './depthLimits.ts';
import { allShare } from './limitShares.ts';
import type { RegionCuts } from './regionCuts.ts';
import { setTo } from './setTo.ts';
import { words } from './words.ts';

/** Time is taken to go with the rays. How far the rays of deep paths are from the others is not measured yet: no source. */
const TIME_RANGE = [0.75, 1.3];

export function deeper(
  context: DiagnosisContext,
  { statistics }: RenderedRegion,
  cuts: RegionCuts,
  region: Region,
  to: Depths,
  kinds: DepthKind[],
  share: number,
): Remedy {
  const { settings, use } = context;
  const rows = statistics.paths!.depths;
  const [now, then] = [within(rows, settings.depth), within(rows, to)];
  const all = within(rows, OPEN).light;
  const { samples } = statistics.paths!;
  const won = ratioOf(then.light.map((v, g) => v - now.light[g]), samples); // prettier-ignore
  const left = ratioOf(all.map((v, g) => v - then.light[g]), all); // prettier-ignore
  return {
    id: `depths-${Math.round(share * 100)}`,
    title: words.raise(kinds, settings.depth, to),
    patch: kinds.map((kind) => setTo(use, `depth/${kind}`, to[kind])),
    effects: [
      brighter(cuts, won),
      { measure: 'lightCutOff', now: allShare(cuts), target: 1 - share, ...left },
      ...timesOf(context, region, then.rays / Math.max(1, now.rays), kinds),
    ],
    sideEffect: words.deeper,
  };
}

/** Time of the region by its rays; that of the frame by what probes met beyond the same limits in it. */
function timesOf({ picture, seconds }: DiagnosisContext, region: Region, growth: number, kinds: DepthKind[]): Effect[] {
  const time = findChannel(picture, 'time', 'ms')?.data;
  if (!time || !(seconds > 0)) return [];
  const share = planeSum(picture, time, region) / (planeSum(picture, time, picture.dataWindow) || 1);
  const now = seconds * share;
  const beyond = (part: Region) => kinds.reduce((sum, kind) => sum + planeSum(picture, findChannel(picture, 'probeRays', kind)?.data, part), 0); // prettier-ignore
  const here = beyond(region);
  const scale = here > 0 ? beyond(picture.dataWindow) / here : 1 / Math.max(share, 1e-6);
  const more = now * (growth - 1);
  const effect = (measure: 'regionTime' | 'time', from: number, added: number): Effect => {
    const [low, high] = TIME_RANGE.map((by) => from + added * by);
    return { measure, now: from, target: null, value: from + added, low, high };
  };
  return [effect('regionTime', now, more), effect('time', seconds, more * scale)];
}
