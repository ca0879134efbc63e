import type { Reference } from '../reference.ts';
import type { Patch } from '../../scene/index.ts';
import { rounded, type DistanceChoice } from './distanceChoice.ts';
import { READS } from './occlusionDefaults.ts';
import type { Blocker } from './blockers.ts';
import type { LayerReading, LayerWish } from './occlusionSketch.ts';
import { words } from './words.ts';

/** What can be wrong with a layer, in the order in which it is checked. */
export const OCCLUSION_FAULTS = ['off', 'closed', 'far', 'near', 'unit', 'clear', 'hidden', 'noise'] as const;
export type OcclusionFault = (typeof OCCLUSION_FAULTS)[number];

export interface OcclusionCause {
  fault: OcclusionFault;
  title: string;
  text: string;
  about: Reference[];
  remedy: { id: string; title: string; patch: Patch; sideEffect: string; wish: LayerWish; samples: number };
}

export interface OcclusionState {
  use: string;
  wish: LayerWish;
  samples: number;
  /** Camera samples of a pixel, each with so many occlusion samples. */
  pixelSamples: number;
  now: LayerReading;
  /** Share of the rays that meet anything, and that do within the distance. */
  closed: number;
  stopped: number;
  choice: DistanceChoice;
  blockers: Blocker[];
  /** Middle size of the objects that are seen, metres. */
  size: number;
  /** L* now, and what it should be at most. */
  noise: number;
  limit: number;
}

/** Samples with which a layer that was off is rendered. */
const FIRST_SAMPLES = 16;
const MOST_SAMPLES = 1024;
/** Blockers that are worth a word stop so many of the rays that are stopped. Common practice, no source. */
const NOTABLE = 0.1;
/** What a distance may have been meant in. */
const UNITS: [string, number][] = [
  ['centimetres', 0.01],
  ['millimetres', 0.001],
];

/** All that speaks against the layer as it is set. */
export function occlusionCauses(state: OcclusionState): OcclusionCause[] {
  const { blockers, choice, closed, limit, noise, now, pixelSamples, samples, size, stopped, use, wish } = state;
  const set = (path: string, value: unknown) => ({ op: 'replace' as const, path: `/${use}/occlusion/${path}`, value }); // prettier-ignore
  const setting = (path: string): Reference => ({ type: 'setting', path: `occlusion.${path}` });
  const causes: OcclusionCause[] = [];
  const distance = {
    id: 'distance',
    title: words.setDistance(wish.distance, choice.best),
    patch: [set('distance', choice.best)] as Patch,
    sideEffect: words.onlyLayer,
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
    causes.push({ fault: 'near', title: words.causeNear, text: words.near(wish.distance, stopped, size), about, remedy: distance }); // prettier-ignore
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
  const clear = blockers.filter(({ kind }) => kind === 'clear');
  const clearShare = clear.reduce((sum, { share }) => sum + share, 0);
  if (wish.clearSurfaces && clearShare >= NOTABLE)
    causes.push({
      fault: 'clear',
      title: words.causeClear,
      text: words.clear(clearShare, clear[0].name),
      about: [setting('clearSurfaces'), ...clear.slice(0, 3).map(object)],
      remedy: { id: 'clear', title: words.passClear, patch: [set('clearSurfaces', false)], sideEffect: words.onlyLayer, wish: { ...wish, clearSurfaces: false }, samples }, // prettier-ignore
    });
  for (const blocker of blockers.filter(({ kind, share }) => kind === 'hidden' && share >= NOTABLE).slice(0, 2)) {
    const patch: Patch = [{ op: 'replace', path: `/objects/${blocker.id}/castsShadows`, value: false }];
    const remedy = { id: `hidden-${blocker.id}`, title: words.noShadow(blocker.name), patch, sideEffect: words.shadowGone, wish, samples }; // prettier-ignore
    causes.push({ fault: 'hidden', title: words.causeHidden(blocker.name), text: words.hidden(blocker.share, blocker.name), about: [object(blocker)], remedy }); // prettier-ignore
  }
  if (samples > 0 && noise > limit) {
    const wanted = Math.min(MOST_SAMPLES, Math.ceil(samples * (noise / limit) ** 2));
    const patch: Patch = [set('samples', wanted)];
    causes.push({
      fault: 'noise',
      title: words.causeNoise,
      text: words.noise(noise, samples * pixelSamples),
      about: [setting('samples')],
      remedy: { id: 'samples', title: words.setSamples(samples, wanted), patch, sideEffect: words.raysCost(wanted / samples), wish, samples: wanted }, // prettier-ignore
    });
  }
  return causes;
}
