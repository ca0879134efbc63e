// What lifts the darkest tenth of a region: each bounce between matt surfaces, and the sky. Each is left out of a render of the region.
import { lightness } from '../../color/index.ts';
import { darkestTenth } from '../../image/index.ts';
import type { RenderSettings, ShotDocument } from '../../scene/index.ts';
import type { BarsEvidence, CurvesEvidence } from '../evidence.ts';
import { setTo } from '../limits/setTo.ts';
import type { Rehearsal } from '../rehearsal/rehearse.ts';
import type { Wish } from './shadowCase.ts';
import { words } from './words.ts';

/** Bounces that are measured one by one. */
const MOST_BOUNCES = 3;
/** Share of the light that came from surface to surface from which bounces are rendered. Common practice, no source. */
const NOTABLE_INDIRECT = 0.05;

/** Bounces between matt surfaces that the limits allow. */
export const allBounces = ({ depth }: RenderSettings) => Math.min(depth.diffuse, depth.total) - 1;

export interface LiftWishes {
  /** With 0, 1, 2 ... bounces, fewer than there are now. */
  bounces: Wish[];
  sky: Wish[];
}

/** What is to be rendered. @param indirect share of the light of the region that came from matt surface to matt surface */
export function liftWishes(
  document: ShotDocument,
  settings: RenderSettings,
  use: string,
  indirect: number,
): LiftWishes {
  // a depth of 1 is light that came straight from lights
  const fewer = indirect < NOTABLE_INDIRECT ? 0 : Math.min(MOST_BOUNCES, allBounces(settings));
  const { environment } = document;
  const hasSky =
    environment.strength > 0 &&
    (environment.picture !== null || environment.gradient !== null || environment.color.some((c) => c > 0));
  return {
    bounces: Array.from({ length: Math.max(0, fewer) }, (_, k) => ({ title: words.bounces(k), patch: [setTo(use, 'depth/diffuse', k + 1)] })), // prettier-ignore
    sky: hasSky ? [{ title: words.noSky, patch: [{ op: 'replace', path: '/environment/strength', value: 0 }] }] : [],
  };
}

export interface DarkLift {
  /** Lightness of the darkest tenth as it is, L*. */
  dark: number;
  /** L* that each adds there, in the order of the bounces, the sky last. */
  lifts: { label: string; lift: number }[];
  bars: BarsEvidence;
  curve: CurvesEvidence | null;
}

/** @param bounces rendered, as they were wished for @param sky without the sky, where there is one @param all bounces that the settings allow */
export function darkLift(before: Rehearsal, bounces: Rehearsal[], sky: Rehearsal[], all: number): DarkLift | null {
  if (bounces.length + sky.length === 0) return null;
  const darkest = darkestTenth(before.tiles);
  const darkOf = ({ tiles }: Rehearsal) => darkest.reduce((sum, i) => sum + lightness(tiles[i]), 0) / darkest.length;
  const dark = darkOf(before);
  const steps = [...bounces, ...(bounces.length > 0 ? [before] : [])].map(darkOf);
  const lifts = steps.slice(1).map((value, k) => ({ label: k + 2 < steps.length ? words.bounce(k + 1) : words.laterBounces(k + 1, all), lift: value - steps[k] })); // prettier-ignore
  for (const one of sky) lifts.push({ label: words.sky, lift: dark - darkOf(one) });
  return {
    dark,
    lifts,
    bars: { type: 'bars', id: 'lift', title: words.lift, source: words.liftSource, unit: 'L*', bars: lifts.map(({ label, lift }) => ({ label, value: Math.max(0, lift) })) }, // prettier-ignore
    curve: bounces.length === 0 ? null : curveOf(before, bounces, all),
  };
}

function curveOf(before: Rehearsal, bounces: Rehearsal[], all: number): CurvesEvidence {
  const share = ({ luminance }: Rehearsal) => (before.luminance > 0 ? luminance / before.luminance : 0);
  const points = [...bounces.map((one, k): [number, number] => [k, share(one)]), [all, 1] as [number, number]];
  return {
    type: 'curves',
    id: 'bounces',
    title: words.byBounces,
    source: words.liftSource,
    x: { label: words.bouncesAxis, unit: 'count', scale: 'linear' },
    y: { label: words.lightAxis, unit: 'share', scale: 'linear' },
    curves: [{ label: words.byBounces, points }],
    markers: [],
  };
}
