// Clamps that would keep the light, with what they bring.
import type { DiagnosisContext, RenderedRegion } from '../contract.ts';
import { ratioOf } from '../groupRatio.ts';
import { brighter } from '../limits/brighter.ts';
import { clampableLight, clampedLight, clampThatKeeps, sum } from '../limits/clampLimits.ts';
import type { RegionCuts } from '../limits/regionCuts.ts';
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
        patch: [setTo(use, `clamp/${kind}`, to)],
        effects: [brighter(cuts, won)],
        sideEffect: words.brighter,
      },
    ];
  });
}
