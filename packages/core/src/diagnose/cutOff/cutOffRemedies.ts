// Limits that would keep the light, with what they bring and cost.
import { findChannel, planeSum, type Region } from '../../image/index.ts';
import type { DiagnosisContext, RenderedRegion } from '../contract.ts';
import type { RegionCuts } from '../regionCuts.ts';
import type { Effect, Remedy } from '../remedy.ts';
import { clampableLight, clampedLight, clampThatKeeps, sum } from '../clampLimits.ts';
import { ratioOf } from '../groupRatio.ts';
import { CUT_OFF_DEFAULTS } from './cutOffDefaults.ts';
import { OPEN, within, type DepthKind, type Depths } from './depthLimits.ts';
import { allShare } from './limitShares.ts';
import type { Estimate } from '../units.ts';
import { words } from './words.ts';

const { visible } = CUT_OFF_DEFAULTS;
/** Time is taken to go with the rays. How far the rays of deep paths are from the others is not measured yet: no source. */
const TIME_RANGE = [0.75, 1.3];
/** A line of a patch that sets one of the settings. */
export const replace = (use: string, path: string, value: number) => ({ op: 'replace' as const, path: `/${use}/${path}`, value }); // prettier-ignore

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
    patch: kinds.map((kind) => replace(use, `depth/${kind}`, to[kind])),
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

export function clampRemedies(
  { settings, use }: DiagnosisContext,
  { statistics }: RenderedRegion,
  cuts: RegionCuts,
): Remedy[] {
  const { clamps: rows, samples } = statistics.paths!;
  const all = clampableLight(rows);
  return (['direct', 'indirect'] as const).flatMap((kind): Remedy[] => {
    const from = settings.clamp[kind];
    const lost = clampedLight(rows, kind, from);
    if (sum(lost) <= visible * all) return [];
    const to = Number(clampThatKeeps(rows, kind, visible / 2).toPrecision(2));
    const left = clampedLight(rows, kind, to);
    const won = ratioOf(lost.map((v, g) => v - left[g]), samples); // prettier-ignore
    return [
      {
        id: `clamp.${kind}`,
        title: words.clamp(kind, from, to),
        patch: [replace(use, `clamp/${kind}`, to)],
        effects: [brighter(cuts, won)],
        sideEffect: words.brighter,
      },
    ];
  });
}

/** @param won luminance of a sample that comes back */
const brighter = ({ meanLuminance: now }: RegionCuts, won: Estimate): Effect => ({ measure: 'luminance', now, target: null, value: now + won.value, low: now + won.low, high: now + won.high }); // prettier-ignore
