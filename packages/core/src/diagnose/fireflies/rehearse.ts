// Cures tried on parts of the region, and compared there: at the samples of the picture, and at equal noise.
import {
  cropPicture,
  cropPlane,
  findChannel,
  intersectRegions,
  planeSum,
  type Picture,
  type Region,
} from '../../image/index.ts';
import { layerLuminance } from '../../render/index.ts';
import { regionNoise } from '../../predict/index.ts';
import type { Patch } from '../../scene/index.ts';
import type { DiagnosisContext, SceneAccess } from '../contract.ts';
import type { Effect } from '../remedy.ts';
import type { Estimate } from '../units.ts';
import { countInParts } from './countEstimate.ts';
import { DIAGNOSED_LAYERS } from './fireflyDefaults.ts';
import { findFireflies, type Firefly } from './findFireflies.ts';
import { meanOf } from './regionMean.ts';
import { rehearsalParts, type Part } from './rehearsalParts.ts';
import { words } from './words.ts';

/** Camera samples of a rehearsal. */
const REHEARSED = 240_000;
/** Of the square that is denoised twice. */
const DENOISED = 80_000;
/** The time of a render follows its rays this closely. No source. */
export const TIME_RANGE = [0.8, 1.25];

/** What a picture shows in the parts, all of it measured there. */
export interface Rehearsal {
  /** Of the region. */
  fireflies: Estimate;
  /** L* */
  noise: number;
  luminance: { value: number; error: number };
  /** Of the pixels that are brighter than display white and hardly noisy before: mean luminance; null where there are none. */
  highlights: number | null;
  /** Of the region. */
  rays: number;
}

export interface Rehearsed {
  title: string;
  after: Rehearsal;
}

/** The parts of the region that cures are tried on, and what the picture shows there. */
export interface Stage {
  region: Region;
  parts: Part[];
  before: Rehearsal;
  /** Places of the highlights in each part. */
  bright: Uint8Array[];
}

export function stageOf(
  { noise, picture, region, settings }: Pick<DiagnosisContext, 'noise' | 'picture' | 'region' | 'settings'>,
  fireflies: Firefly[],
): Stage {
  const all = brightPlaces(picture, region);
  const highlights = [...all.keys()].filter((i) => all[i]).map((i) => ({ x: region.x + (i % region.width), y: region.y + Math.floor(i / region.width) })); // prettier-ignore
  const parts = rehearsalParts(fireflies, highlights, region, REHEARSED / settings.pixelSamples);
  const bright = parts.map((part) => brightPlaces(picture, part.region));
  const count = fireflies.length;
  const before = { ...look(picture, parts, bright, noise.stops), fireflies: { value: count, low: count, high: count } };
  return { region, parts, bright, before };
}

/** Renders the parts with a patch and other samples: a cure must not be judged by the luck of the same ones. */
export async function rehearse(
  context: DiagnosisContext,
  scene: SceneAccess,
  { bright, parts, region }: Stage,
  { patch, title }: { title: string; patch: Patch },
): Promise<Rehearsed> {
  const picture = await otherSamples(context, scene, region, { title, patch }, parts.map((part) => part.region)); // prettier-ignore
  return { title, after: look(picture, parts, bright, context.noise.stops) };
}

/** The square of the region where fireflies are densest, as it is and with other samples. */
export async function busiestTwice(
  context: DiagnosisContext,
  scene: SceneAccess,
  fireflies: Firefly[],
): Promise<{ part: Region; other: Picture }> {
  const part = busiestPart(fireflies, context.region, DENOISED / context.settings.pixelSamples);
  return { part, other: await otherSamples(context, scene, part, { title: words.otherSeed, patch: [] }) };
}

async function otherSamples(
  { settings, use }: DiagnosisContext,
  scene: SceneAccess,
  region: Region,
  { patch, title }: { title: string; patch: Patch },
  parts?: Region[],
): Promise<Picture> {
  const seed = { op: 'replace' as const, path: `/${use}/seed`, value: settings.seed + 1 };
  const wish = { title: words.rehearse(title), region, parts, patch: [...patch, seed], extras: [], layers: DIAGNOSED_LAYERS }; // prettier-ignore
  return (await scene.render(wish)).picture;
}

/** What is expected of the region, from what its parts became. */
export function effectsOf(
  { picture, region, seconds }: Pick<DiagnosisContext, 'picture' | 'region' | 'seconds'>,
  { before }: Stage,
  after: Rehearsal,
  target: number,
): Effect[] {
  const whole = meanOf(picture, region).value;
  const changed = before.luminance.value > 0 ? after.luminance.value / before.luminance.value : 1;
  const doubt = 1.28 * Math.hypot(...[after, before].map(({ luminance: { error, value } }) => error / (value || 1)));
  const effects: Effect[] = [
    { measure: 'fireflies', now: before.fireflies.value, target, ...after.fireflies },
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

function look(whole: Picture, parts: Part[], bright: Uint8Array[], stops: number): Rehearsal {
  const looks = parts.map(({ region, weight }, k) => {
    const picture = cropPicture(whole, region)!;
    const luminance = layerLuminance(picture, 'beauty')!;
    const error = findChannel(picture, 'error', 'Y')?.data;
    const variance = error ? error.map((v) => v * v) : new Float32Array(luminance.length);
    return {
      weight,
      pixels: luminance.length,
      noise: regionNoise({ region, luminance }, variance, stops),
      mean: meanOf(picture, region),
      fireflies: findFireflies(picture, region).length,
      rays: raysIn(picture, region),
      bright: bright[k].reduce((sum, b) => sum + b, 0),
      brightLight: luminance.reduce((sum, v, i) => sum + v * bright[k][i], 0),
    };
  });
  type Look = (typeof looks)[number];
  const sum = (of: (look: Look) => number) => looks.reduce((all, one) => all + one.weight * of(one), 0);
  const pixels = sum((one) => one.pixels);
  const highlights = sum((one) => one.bright);
  return {
    fireflies: countInParts(looks.map(({ fireflies, weight }) => ({ count: fireflies, weight }))),
    noise: Math.sqrt(sum((one) => one.pixels * one.noise ** 2) / pixels),
    luminance: {
      value: sum((one) => one.pixels * one.mean.value) / pixels,
      error: Math.hypot(...looks.map((one) => one.weight * one.pixels * one.mean.error)) / pixels,
    },
    highlights: highlights > 0 ? sum((one) => one.brightLight) / highlights : null,
    rays: sum((one) => one.rays),
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
