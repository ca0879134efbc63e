// Cures whose effect can be computed from what the picture carries.
import type { DiagnosisContext, RenderedRegion } from '../contract.ts';
import { CLAMP_KINDS, clampableLight, clampedLight, sum } from '../limits/clampLimits.ts';
import { ratioOf } from '../groupRatio.ts';
import type { Effect, Remedy } from '../remedy.ts';
import type { Estimate } from '../units.ts';
import { clampThatLeaves, leftWith } from './clampCurve.ts';
import { depthCure } from './depthCure.ts';
import { countEstimate } from './countEstimate.ts';
import type { Explained } from './clusters.ts';
import { WORTH } from './cureWishes.ts';
import type { Firefly } from './findFireflies.ts';
import { leftWithMore } from './moreSamples.ts';
import { timed } from './rehearse.ts';
import { words } from './words.ts';

const MORE = 4;

const replace = (path: string, value: string | number) => ({ op: 'replace' as const, path, value });
export const targetOf = (now: number) => Math.floor(WORTH * now);

/** @param left share of the fireflies that are left @param darker luminance that is lost */
const effectsOf = (now: number, left: number, luminance: number, darker: Estimate): Effect[] => [
  { measure: 'fireflies', now, target: targetOf(now), ...countEstimate(left * now) },
  { measure: 'luminance', now: luminance, target: null, value: luminance - darker.value, low: luminance - darker.high, high: luminance - darker.low }, // prettier-ignore
];

/** @param account render of the region with its light by brightness */
export function clampRemedy(
  { settings, use }: DiagnosisContext,
  account: RenderedRegion,
  explained: Explained[],
  now: number,
  luminance: number,
): Remedy[] {
  const { clamps, samples } = account.statistics.paths!;
  const all = clampableLight(clamps);
  const options = CLAMP_KINDS.flatMap((kind) => {
    const found = clampThatLeaves(explained, settings.clamp, kind, WORTH);
    const value = found && Number(found.toPrecision(2));
    return value === null || all === 0 || (settings.clamp[kind] > 0 && value >= settings.clamp[kind])
      ? []
      : [{ kind, value, lost: clampedLight(clamps, { ...settings.clamp, [kind]: value }) }];
  });
  // the one that takes less light away
  const [best] = options.sort((a, b) => sum(a.lost) - sum(b.lost));
  if (!best) return [];
  const { kind, lost, value } = best;
  const share = leftWith(explained, settings.clamp, { ...settings.clamp, [kind]: value }) / explained.length;
  const before = clampedLight(clamps, settings.clamp);
  const darker = ratioOf(lost.map((v, g) => v - before[g]), samples); // prettier-ignore
  return [
    {
      id: `clamp.${kind}`,
      title: words.setClamp(kind, settings.clamp[kind], value),
      patch: [replace(`/${use}/clamp/${kind}`, value)],
      effects: effectsOf(now, share, luminance, darker),
      sideEffect: words.clampSide(sum(lost) / all),
    },
  ];
}

/** @param account render of the region with its light by the events of its paths */
export function depthRemedy(
  { settings, use }: DiagnosisContext,
  account: RenderedRegion,
  explained: Explained[],
  now: number,
  luminance: number,
): Remedy[] {
  const { depths, samples } = account.statistics.paths!;
  const found = depthCure(explained.map(({ path }) => path), depths, settings.depth, WORTH); // prettier-ignore
  if (!found) return [];
  const { kind, left, lost, taken, value } = found;
  const darker = ratioOf(taken, samples);
  return [
    {
      id: `depth.${kind}`,
      title: words.depth(kind, settings.depth[kind], value),
      patch: [replace(`/${use}/depth/${kind}`, value)],
      effects: effectsOf(now, left, luminance, darker),
      sideEffect: words.depthSide(kind, value, lost),
    },
  ];
}

export function moreSamplesRemedy(
  { seconds, settings, use }: DiagnosisContext,
  fireflies: Firefly[],
  now: number,
): Remedy {
  const to = Math.min(65536, settings.pixelSamples * MORE);
  const times = to / settings.pixelSamples;
  return {
    id: 'pixelSamples',
    title: words.raiseSamples(settings.pixelSamples, to),
    patch: [replace(`/${use}/pixelSamples`, to)],
    effects: [
      { measure: 'fireflies', now, target: targetOf(now), ...leftWithMore(fireflies, times) },
      { measure: 'time', now: seconds, target: null, ...timed(seconds * times) },
    ],
    sideEffect: words.samplesSide,
  };
}
