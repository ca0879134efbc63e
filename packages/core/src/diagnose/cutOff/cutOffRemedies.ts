// Clamps that would keep the light, with what they bring.
import type { DiagnosisContext, RenderedRegion } from '../contract.ts';
import { ratioOf } from '../groupRatio.ts';
import { brighter } from '../limits/brighter.ts';
import { CLAMP_KINDS, clampableLight, clampedLight, clampThatKeeps, sum } from '../limits/clampLimits.ts';
import type { RegionCuts } from '../limits/regionCuts.ts';
import { NO_CLAMP } from '../../scene/index.ts';
import { setTo } from '../limits/setTo.ts';
import type { Remedy } from '../remedy.ts';
import { CUT_OFF_DEFAULTS } from './cutOffDefaults.ts';
import { words } from './words.ts';

const { visible } = CUT_OFF_DEFAULTS;

export function clampRemedies(
  { settings, use }: DiagnosisContext,
  { statistics }: RenderedRegion,
  cuts: RegionCuts,
): Remedy[] {
  const { clamps: rows, samples } = statistics.paths!;
  const all = clampableLight(rows);
  const { clamp } = settings;
  const now = clampedLight(rows, clamp);
  return CLAMP_KINDS.flatMap((kind): Remedy[] => {
    const from = clamp[kind];
    if (from === 0 || sum(clampedLight(rows, { ...NO_CLAMP, [kind]: from })) <= visible * all) return [];
    const to = Number(clampThatKeeps(rows, kind, visible / 2).toPrecision(2));
    const left = clampedLight(rows, { ...clamp, [kind]: to });
    const won = ratioOf(now.map((v, g) => v - left[g]), samples); // prettier-ignore
    return [
      {
        id: `clamp.${kind}`,
        title: words.clamp(kind, from, to),
        patch: [setTo(use, `clamp/${kind}`, to)],
        effects: [brighter(cuts, won)],
        sideEffect: words.brighter,
      },
    ];
  });
}
