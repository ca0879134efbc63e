import type { Patch } from '../scene/index.ts';
import type { Estimate, Unit } from './units.ts';

/** What a remedy can change. Another kind of defect adds its measures here, so that all of them are written alike. */
export const MEASURES = {
  noise: { name: 'noise', unit: 'L*', target: 'limit' },
  /** Of the whole frame. */
  time: { name: 'frame time', unit: 's', target: 'budget' },
  regionTime: { name: 'region time', unit: 's', target: 'budget' },
  /** Mean luminance of the region, linear. */
  luminance: { name: 'mean luminance', unit: '', target: 'target' },
  /** In the region. */
  fireflies: { name: 'fireflies', unit: 'count', target: 'target' },
  /** Of the light that would be there without the limits. */
  lightCutOff: { name: 'light cut off', unit: 'share', target: 'target' },
  /** Mean of the occlusion layer over the region. */
  /** Of the shadows in the region: shadowDepth.ts. */
  contrast: { name: 'depth of shadows', unit: 'L*', target: 'target' },
  openness: { name: 'mean of the layer', unit: 'share', target: 'target' },
  /** Between both sides of UV seams in their widest tenth, at the size of the shot. */
  seamGap: { name: 'gap at seams', unit: 'px', target: 'limit' },
  /** Between sides of objects that meet in the region, by the length of their edges; 10 at most. */
  sideContrast: { name: 'contrast between sides', unit: 'L*', target: 'target' },
  layerNoise: { name: 'noise of the layer', unit: 'L*', target: 'limit' },
} as const satisfies Record<string, { name: string; unit: Unit; /** What its target is called. */ target: string }>;
export type Measure = keyof typeof MEASURES;

/** What a measure becomes by a remedy: predicted, with a range in which four in five are expected. */
export interface Effect extends Estimate {
  measure: Measure;
  /** As it is now, measured; null where it is not known. */
  now: number | null;
  /** What it should be at most, where something is wanted of it. */
  target: number | null;
}

/** A change that helps, as a patch of the shot document. */
export interface Remedy {
  id: string;
  title: string;
  patch: Patch;
  effects: Effect[];
  sideEffect: string;
}

/** Whether the predicted value is what is wanted; true where nothing is. */
export const meetsTarget = ({ value, target }: Pick<Effect, 'value' | 'target'>) => target === null || value <= target;

export const effectOf = ({ effects }: Remedy, measure: Measure): Effect | undefined =>
  effects.find((effect) => effect.measure === measure);

/** Values that were measured on a trial, for as many measures as it can tell. */
export type Measured = Partial<Record<Measure, number>>;

/** Whether a trial changed what a remedy changes, and nothing else. */
export function isTrialOf(patch: Patch, remedy: Remedy): boolean {
  const value = (of: Patch, path: string) => {
    const line = of.findLast((o) => o.path === path);
    return line && 'value' in line ? JSON.stringify(line.value) : undefined;
  };
  const paths = new Set(patch.map(({ path }) => path));
  return paths.size === remedy.patch.length && remedy.patch.every(({ path }) => value(patch, path) !== undefined && value(patch, path) === value(remedy.patch, path)); // prettier-ignore
}
