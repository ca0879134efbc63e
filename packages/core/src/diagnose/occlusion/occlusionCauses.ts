import type { Reference } from '../reference.ts';
import type { Patch } from '../../scene/index.ts';
import type { Effect } from '../remedy.ts';
import { rounded, type DistanceChoice } from './distanceChoice.ts';
import { READS } from './occlusionDefaults.ts';
import type { Blocker } from './blockers.ts';
import type { Hidden } from './clearEvidence.ts';
import { TRACED, type InSurfaces } from './inSurfaces.ts';
import type { Faceted } from './layerScale.ts';
import type { LayerReading, LayerWish } from './occlusionSketch.ts';
import { NOISE_POWER } from './layerNoise.ts';
import { words } from './words.ts';

/** What can be wrong with a layer, in the order in which it is checked. */
export const OCCLUSION_FAULTS = [
  'off',
  'closed',
  'far',
  'near',
  'unit',
  'clear',
  'hidden',
  'noise',
  'precision',
  'facets',
  'flat',
  'surfaces',
] as const;
export type OcclusionFault = (typeof OCCLUSION_FAULTS)[number];

export interface OcclusionCause {
  fault: OcclusionFault;
  title: string;
  text: string;
  about: Reference[];
  remedy: {
    id: string;
    title: string;
    patch: Patch;
    sideEffect: string;
    wish: LayerWish;
    samples: number;
    /** Where they do not follow from wish and samples. */
    effects?: Effect[];
  };
}

export interface OcclusionState {
  use: string;
  wish: LayerWish;
  samples: number;
  /** Camera samples of a pixel, each with so many occlusion samples. */
  pixelSamples: number;
  /** The layer; without clear surfaces, where those are at fault by themselves. */
  now: LayerReading;
  /** Share of the rays that meet anything, and that do within the distance. */
  closed: number;
  stopped: number;
  choice: DistanceChoice;
  blockers: Blocker[];
  /** What clear surfaces do to the layer, in sentences; empty where that is little, or they do not count. */
  clearTexts: string[];
  /** Middle size of the objects that are seen, metres. */
  size: number;
  /** Pixels that the distance covers, and metres above their surface from which rays set out, in half of the looks. */
  pixels: number;
  offset: number;
  faceted: (Faceted & { id: string; name: string })[];
  inSurfaces: InSurfaces | null;
  /** The picture is the layer. */
  clay: boolean;
  /** L* now, and what it should be at most. */
  noise: number;
  limit: number;
}

/** Samples with which a layer that was off is rendered. */
const FIRST_SAMPLES = 16;
const MOST_SAMPLES = 1024;
/** Rays that set out higher than this part of their distance miss what is close. Common practice, no source. */
const MOST_OFFSET = 0.05;
/** Levels of subdivision with which faces follow their smooth normals. */
const FINER = 2;
/** Blockers that are worth a word stop so many of the rays that are stopped. Common practice, no source. */
const NOTABLE = 0.1;
/** What a distance may have been meant in. */
const UNITS: [string, number][] = [
  ['centimetres', 0.01],
  ['millimetres', 0.001],
];

/** All that speaks against the layer as it is set. */
export function occlusionCauses(state: OcclusionState): OcclusionCause[] {
  const {
    clearTexts,
    blockers,
    choice,
    closed,
    faceted,
    limit,
    noise,
    now,
    offset,
    pixels,
    pixelSamples,
    samples,
    size,
    stopped,
    use,
    wish,
  } = state;
  const set = (path: string, value: unknown) => ({ op: 'replace' as const, path: `/${use}/occlusion/${path}`, value }); // prettier-ignore
  const setting = (path: string): Reference => ({ type: 'setting', path: `occlusion.${path}` });
  const causes: OcclusionCause[] = [];
  const sideEffect = state.inSurfaces || state.clay ? words.layerUsed : words.onlyLayer;
  const distance = {
    id: 'distance',
    title: words.setDistance(wish.distance, choice.best),
    patch: [set('distance', choice.best)] as Patch,
    sideEffect,
    wish: { ...wish, distance: choice.best },
    samples,
  };
  if (samples === 0)
    causes.push({
      fault: 'off',
      title: words.causeOff,
      text: words.off,
      about: [setting('samples')],
      remedy: { ...distance, id: 'on', title: words.switchOn(FIRST_SAMPLES, choice.best), patch: [set('samples', FIRST_SAMPLES), set('distance', choice.best)], samples: FIRST_SAMPLES }, // prettier-ignore
    });
  const about = [setting('distance')];
  const dark = now.high < READS.stillLight;
  if (wish.distance === 0 && dark)
    causes.push({ fault: 'closed', title: words.causeClosed, text: words.closed(closed, now.mean), about, remedy: distance }); // prettier-ignore
  if (wish.distance > choice.to && dark)
    causes.push({ fault: 'far', title: words.causeFar, text: words.far(wish.distance, now.mean), about, remedy: distance }); // prettier-ignore
  const widest = Math.max(...choice.steps.filter(({ high }) => high >= READS.light).map(({ spread }) => spread), 0);
  if (wish.distance > 0 && wish.distance < choice.from && now.spread < widest / 2)
    causes.push({ fault: 'near', title: words.causeNear, text: words.near(wish.distance, stopped, size, pixels), about, remedy: distance }); // prettier-ignore
  for (const [unit, metres] of UNITS) {
    const meant = wish.distance * metres;
    // the distance that was meant reads, the one that is set does not
    if (wish.distance > 2 * choice.to && meant >= choice.from / 2 && meant <= choice.to * 2) {
      const title = words.setDistance(wish.distance, rounded(meant));
      const patch: Patch = [set('distance', rounded(meant))];
      causes.push({ fault: 'unit', title: words.causeFar, text: words.unit(wish.distance, unit, meant), about, remedy: { ...distance, id: 'unit', title, patch, wish: { ...wish, distance: rounded(meant) } } }); // prettier-ignore
      break;
    }
  }
  const object = ({ id, name }: Blocker): Reference => ({ type: 'object', id, name });
  if (clearTexts.length > 0)
    causes.push({
      fault: 'clear',
      title: words.causeClear,
      text: clearTexts.join(' '),
      about: [
        setting('clearSurfaces'),
        ...blockers
          .filter(({ kind }) => kind === 'clear')
          .slice(0, 3)
          .map(object),
      ],
      remedy: { id: 'clear', title: words.passClear, patch: [set('clearSurfaces', false)], sideEffect, wish: { ...wish, clearSurfaces: false }, samples }, // prettier-ignore
    });
  for (const blocker of blockers.filter(({ kind, share }) => kind === 'hidden' && share >= NOTABLE).slice(0, 2)) {
    const patch: Patch = [{ op: 'replace', path: `/objects/${blocker.id}/castsShadows`, value: false }];
    const remedy = { id: `hidden-${blocker.id}`, title: words.noShadow(blocker.name), patch, sideEffect: words.shadowGone, wish, samples }; // prettier-ignore
    causes.push({ fault: 'hidden', title: words.causeHidden(blocker.name), text: words.hidden(blocker.share, blocker.name), about: [object(blocker)], remedy }); // prettier-ignore
  }
  if (samples > 0 && noise > limit) {
    const wanted = Math.min(MOST_SAMPLES, Math.ceil(samples * (noise / limit) ** (1 / NOISE_POWER)));
    const patch: Patch = [set('samples', wanted)];
    causes.push({
      fault: 'noise',
      title: words.causeNoise,
      text: words.noise(noise, samples * pixelSamples, noise * 4 ** -NOISE_POWER),
      about: [setting('samples')],
      remedy: { id: 'samples', title: words.setSamples(samples, wanted), patch, sideEffect: words.raysCost(wanted / samples), wish, samples: wanted }, // prettier-ignore
    });
  }
  if (wish.distance > 0 && offset > MOST_OFFSET * wish.distance) {
    const farther = rounded(Math.max(choice.best, offset / (MOST_OFFSET / 2)));
    const remedy = { ...distance, id: 'farther', title: words.setDistance(wish.distance, farther), patch: [set('distance', farther)], wish: { ...wish, distance: farther } }; // prettier-ignore
    causes.push({ fault: 'precision', title: words.causePrecision, text: words.precision(offset, wish.distance), about, remedy }); // prettier-ignore
  }
  if (faceted.length > 0) {
    const [{ drop, id, name }] = faceted;
    const patch: Patch = faceted.map((of) => ({ op: 'replace', path: `/objects/${of.id}/subdivisionLevels`, value: FINER })); // prettier-ignore
    causes.push({ fault: 'facets', title: words.causeFacets(name), text: words.facets(name, drop), about: [{ type: 'object', id, name }], remedy: { id: 'finer', title: words.finer(name, faceted.length), patch, sideEffect: words.rounder, wish, samples, effects: [] } }); // prettier-ignore
  }
  if (state.inSurfaces && state.inSurfaces.indirect >= TRACED) {
    const { about: these, effect, indirect, patch, surfaces, taken } = state.inSurfaces;
    const [{ name }] = surfaces;
    const remedy = { id: 'surfaces', title: words.outOfSurfaces(name, surfaces.length), patch, sideEffect: words.wherePut, wish, samples, effects: [effect] }; // prettier-ignore
    causes.push({ fault: 'surfaces', title: words.causeSurfaces, text: words.surfacesTwice(name, surfaces.length, taken, indirect), about: these, remedy }); // prettier-ignore
  }
  return causes;
}

/** What stands behind glass is worth a word from this share of what is seen. Common practice, no source. */
const NOTABLE_BEHIND = 0.03;

/** What clear surfaces do to a layer in which they count, in sentences. */
export function clearSentences(blockers: Blocker[], behind: Hidden[]): string[] {
  const clear = blockers.filter(({ kind }) => kind === 'clear');
  const stopped = clear.reduce((sum, { share }) => sum + share, 0);
  const hidden = behind.reduce((sum, { share }) => sum + share, 0);
  return [
    ...(stopped >= NOTABLE ? [words.clear(stopped, clear[0].name)] : []),
    ...(hidden >= NOTABLE_BEHIND ? [words.behind(hidden, behind.slice(0, 3).map(({ name }) => name))] : []), // prettier-ignore
  ];
}
