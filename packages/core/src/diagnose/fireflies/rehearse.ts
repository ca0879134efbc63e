// Cures tried on a part of the region, and compared there: at the samples of the picture, and at equal noise.
import { cropPlane, findChannel, intersectRegions, planeSum, type Picture, type Region } from '../../image/index.ts';
import { layerLuminance } from '../../render/index.ts';
import { regionNoise } from '../../predict/index.ts';
import type { Patch } from '../../scene/index.ts';
import type { DiagnosisContext, SceneAccess } from '../contract.ts';
import type { Effect } from '../remedy.ts';
import type { Estimate } from '../units.ts';
import { countEstimate } from './countEstimate.ts';
import { DIAGNOSED_LAYERS } from './fireflyDefaults.ts';
import { findFireflies, type Firefly } from './findFireflies.ts';
import { meanOf } from './regionMean.ts';
import { words } from './words.ts';

/** Camera samples of a rehearsal. */
const REHEARSED = 80_000;
/** The time of a render follows its rays this closely. No source. */
export const TIME_RANGE = [0.8, 1.25];

/** What a picture shows in the part, all of it measured. */
export interface Rehearsal {
  fireflies: number;
  /** L* */
  noise: number;
  luminance: { value: number; error: number };
  /** Of the pixels that are brighter than display white and hardly noisy before: mean luminance; null where there are none. */
  highlights: number | null;
  rays: number;
}

export interface Rehearsed {
  title: string;
  after: Rehearsal;
  /** Of the part. */
  picture: Picture;
}

/** The part of the region that cures are tried on, and the same with other samples and no cure. */
export interface Stage {
  part: Region;
  before: Rehearsal;
  /** Places of the highlights in the part. */
  bright: Uint8Array;
}

export function stageOf(
  { noise, picture, region, settings }: Pick<DiagnosisContext, 'noise' | 'picture' | 'region' | 'settings'>,
  fireflies: Firefly[],
): Stage {
  const part = busiestPart(fireflies, region, REHEARSED / settings.pixelSamples);
  const bright = brightPlaces(picture, part);
  return { part, bright, before: look(picture, part, bright, noise.stops) };
}

/** Renders the part with a patch and other samples: a cure must not be judged by the luck of the same ones. */
export async function rehearse(
  { noise, settings, use }: DiagnosisContext,
  scene: SceneAccess,
  { bright, part }: Stage,
  { patch: wished, title }: { title: string; patch: Patch },
): Promise<Rehearsed> {
  const patch = [...wished, { op: 'replace' as const, path: `/${use}/seed`, value: settings.seed + 1 }];
  const { picture } = await scene.render({
    title: words.rehearse(title),
    region: part,
    patch,
    extras: [],
    layers: DIAGNOSED_LAYERS,
  });
  return { title, picture, after: look(picture, part, bright, noise.stops) };
}

/** What is expected of the region, from what its part became. */
export function effectsOf(
  { picture, region, seconds }: Pick<DiagnosisContext, 'picture' | 'region' | 'seconds'>,
  { before, part }: Stage,
  after: Rehearsal,
  fireflies: Firefly[],
  target: number,
): Effect[] {
  const here = fireflies.filter(({ x, y }) => intersectRegions({ x, y, width: 1, height: 1 }, part)).length;
  const now = fireflies.length;
  const left = countEstimate(after.fireflies, here > 0 ? now / here : 1);
  const whole = meanOf(picture, region).value;
  const changed = before.luminance.value > 0 ? after.luminance.value / before.luminance.value : 1;
  const doubt = 1.28 * Math.hypot(...[after, before].map(({ luminance: { error, value } }) => error / (value || 1)));
  const effects: Effect[] = [
    { measure: 'fireflies', now, target, ...left },
    { measure: 'luminance', now: whole, target: null, value: whole * changed, low: whole * changed * Math.max(0, 1 - doubt), high: whole * changed * (1 + doubt) }, // prettier-ignore
  ];
  if (before.rays > 0) effects.push({ measure: 'time', now: seconds, target: null, ...timed((seconds * after.rays) / before.rays) }); // prettier-ignore
  return effects;
}

export const timed = (value: number): Estimate => ({ value, low: value * TIME_RANGE[0], high: value * TIME_RANGE[1] });

const WHITE = 1;
/** A highlight is known to a tenth. */
const KNOWN = 0.1;

function brightPlaces(picture: Picture, part: Region): Uint8Array {
  const y = cropPlane(picture, layerLuminance(picture, 'beauty')!, part);
  const error = findChannel(picture, 'error', 'Y')?.data;
  if (!error) return new Uint8Array(y.length);
  const doubt = cropPlane(picture, error, part);
  return Uint8Array.from(y, (v, i) => (v > WHITE && doubt[i] < KNOWN * v ? 1 : 0));
}

function look(picture: Picture, part: Region, bright: Uint8Array, stops: number): Rehearsal {
  const luminance = cropPlane(picture, layerLuminance(picture, 'beauty')!, part);
  const error = findChannel(picture, 'error', 'Y')?.data;
  const variance = error ? cropPlane(picture, error, part).map((v) => v * v) : new Float32Array(luminance.length);
  const count = bright.reduce((sum, b) => sum + b, 0);
  return {
    fireflies: findFireflies(picture, part).length,
    noise: regionNoise({ region: part, luminance }, variance, stops),
    luminance: meanOf(picture, part),
    highlights: count > 0 ? luminance.reduce((sum, v, i) => sum + v * bright[i], 0) / count : null,
    rays: raysIn(picture, part),
  };
}

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
