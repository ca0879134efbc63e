// Cures of fireflies, each with what it is predicted to leave.
import { findChannel, intersectRegions, planeSum, type Picture, type Region } from '../../image/index.ts';
import type { Patch } from '../../scene/index.ts';
import type { DiagnosisContext, RenderedRegion, SceneAccess } from '../contract.ts';
import { clampableLight, clampedLight, sum } from '../clampLimits.ts';
import { ratioOf } from '../groupRatio.ts';
import type { Effect, Remedy } from '../remedy.ts';
import type { Estimate } from '../units.ts';
import { clampThatLeaves, leftWith } from './clampCurve.ts';
import { countEstimate } from './countEstimate.ts';
import type { Explained } from './clusters.ts';
import { findFireflies, type Firefly } from './findFireflies.ts';
import { leftWithMore } from './moreSamples.ts';
import { meanOf } from './regionMean.ts';
import { words } from './words.ts';

/** A cure should leave no more than this share of the fireflies. Common practice, no source. */
const LEFT = 0.05;
const MORE = 4;
const FLOOR = 0.3;
/** Camera samples of a rehearsal. */
const REHEARSED = 150_000;
/** The time of a render follows its rays this closely. No source. */
const TIME_RANGE = [0.8, 1.25];

const replace = (path: string, value: string | number) => ({ op: 'replace' as const, path, value });
const target = (now: number) => Math.floor(LEFT * now);

/** @param opened the region without clamps, with its account of light by brightness */
export function clampRemedy(
  { settings, use }: DiagnosisContext,
  opened: RenderedRegion,
  explained: Explained[],
  now: number,
  luminance: number,
): Remedy[] {
  const { clamps, samples } = opened.statistics.paths!;
  const all = clampableLight(clamps);
  const options = (['direct', 'indirect'] as const).flatMap((kind) => {
    const found = clampThatLeaves(explained, settings.clamp, kind, LEFT);
    const value = found && Number(found.toPrecision(2));
    return value === null || all === 0 || (settings.clamp[kind] > 0 && value >= settings.clamp[kind])
      ? []
      : [{ kind, value, lost: clampedLight(clamps, kind, value) }];
  });
  // the one that takes less light away
  const [best] = options.sort((a, b) => sum(a.lost) - sum(b.lost));
  if (!best) return [];
  const { kind, lost, value } = best;
  const share = leftWith(explained, settings.clamp, { ...settings.clamp, [kind]: value }) / explained.length;
  const before = clampedLight(clamps, kind, settings.clamp[kind]);
  const darker = ratioOf(lost.map((v, g) => v - before[g]), samples); // prettier-ignore
  return [
    {
      id: `clamp.${kind}`,
      title: words.setClamp(kind, settings.clamp[kind], value),
      patch: [replace(`/${use}/clamp/${kind}`, value)],
      effects: [
        { measure: 'fireflies', now, target: target(now), ...countEstimate(share * now) },
        { measure: 'luminance', now: luminance, target: null, value: luminance - darker.value, low: luminance - darker.high, high: luminance - darker.low }, // prettier-ignore
      ],
      sideEffect: words.clampSide(sum(lost) / all),
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
      { measure: 'fireflies', now, target: target(now), ...leftWithMore(fireflies, times) },
      { measure: 'time', now: seconds, target: null, ...timed(seconds * times) },
    ],
    sideEffect: words.samplesSide,
  };
}

/** Glass that lets shadow rays through, and a roughness floor: tried on a part of the region, since no sum can predict them. */
export async function rehearsedRemedies(
  context: DiagnosisContext,
  scene: SceneAccess,
  region: Region,
  fireflies: Firefly[],
  explained: Explained[],
): Promise<Remedy[]> {
  const { settings, use } = context;
  const share = (causes: string[]) => explained.filter(({ story }) => causes.includes(story.cause)).length / explained.length; // prettier-ignore
  const wishes: { id: string; title: string; patch: Patch; sideEffect: string }[] = [];
  if (share(['behindGlass']) > LEFT && settings.clearShadows === 'off')
    wishes.push({ id: 'clearShadows', title: words.clearShadows, patch: [replace(`/${use}/clearShadows`, 'tinted')], sideEffect: words.clearShadowsSide }); // prettier-ignore
  if (share(['caustic']) > LEFT && settings.roughnessFloor < FLOOR)
    wishes.push({ id: 'roughnessFloor', title: words.floor(FLOOR), patch: [replace(`/${use}/roughnessFloor`, FLOOR)], sideEffect: words.floorSide }); // prettier-ignore
  const part = busiestPart(fireflies, region, REHEARSED / settings.pixelSamples);
  const remedies: Remedy[] = [];
  for (const wish of wishes) {
    context.signal.throwIfAborted();
    // other samples than those of the proof: the cure must not be judged by the luck of the same ones
    const patch = [...wish.patch, replace(`/${use}/seed`, settings.seed + 1)];
    const tried = await scene.render({ title: words.rehearse(wish.title), region: part, patch, extras: [] });
    remedies.push({ ...wish, effects: rehearsed(context, tried, region, part, fireflies) });
  }
  return remedies;
}

function rehearsed(
  { picture, seconds }: DiagnosisContext,
  tried: RenderedRegion,
  region: Region,
  part: Region,
  fireflies: Firefly[],
): Effect[] {
  const here = fireflies.filter(({ x, y }) => intersectRegions({ x, y, width: 1, height: 1 }, part)).length;
  const scale = here > 0 ? fireflies.length / here : 1;
  const left = countEstimate(findFireflies(tried.picture, part).length, scale);
  const now = fireflies.length;
  const [whole, before, after] = [meanOf(picture, region), meanOf(picture, part), meanOf(tried.picture, part)];
  const changed = before.value > 0 ? after.value / before.value : 1;
  const doubt = 1.28 * Math.hypot(after.error / (after.value || 1), before.error / (before.value || 1));
  const effects: Effect[] = [
    { measure: 'fireflies', now, target: target(now), ...left }, // prettier-ignore
    { measure: 'luminance', now: whole.value, target: null, value: whole.value * changed, low: whole.value * changed * Math.max(0, 1 - doubt), high: whole.value * changed * (1 + doubt) }, // prettier-ignore
  ];
  const [was, is] = [raysIn(picture, part), raysIn(tried.picture, part)];
  if (was > 0) effects.push({ measure: 'time', now: seconds, target: null, ...timed((seconds * is) / was) });
  return effects;
}

const timed = (value: number): Estimate => ({ value, low: value * TIME_RANGE[0], high: value * TIME_RANGE[1] });

const raysIn = (picture: Picture, region: Region) =>
  ['camera', 'diffuse', 'specular', 'transmission', 'volume', 'shadow'].reduce((all, kind) => all + planeSum(picture, findChannel(picture, 'rays', kind)?.data, region), 0); // prettier-ignore

/** A square part of a region with so many pixels, about the place where fireflies are densest. */
function busiestPart(fireflies: Firefly[], region: Region, pixels: number): Region {
  if (region.width * region.height <= pixels) return region;
  const side = Math.max(16, Math.floor(Math.sqrt(pixels)));
  const [width, height] = [Math.min(side, region.width), Math.min(side, region.height)];
  const within = (part: Region) => fireflies.filter(({ x, y }) => intersectRegions({ x, y, width: 1, height: 1 }, part)).length; // prettier-ignore
  const clampTo = (v: number, low: number, high: number) => Math.round(Math.max(low, Math.min(high, v)));
  const parts = fireflies.slice(0, 100).map(({ x, y }) => ({
    x: clampTo(x - width / 2, region.x, region.x + region.width - width),
    y: clampTo(y - height / 2, region.y, region.y + region.height - height),
    width,
    height,
  }));
  return parts.reduce((best, part) => (within(part) > within(best) ? part : best), parts[0] ?? region);
}
