import { SPLIT_KINDS } from '../render/index.ts';
import { FINAL_DEFAULTS, type RenderSettings, type SettingsUse, type ShotDocument } from '../scene/index.ts';
import { countOf, countsOf } from './counts.ts';

/** Twice the largest group of splits that is told apart, so that their doublings are seen (render/splitLevels.ts). */
const SPLITS = 8;
/** Fewer camera samples tell no variance, more cost more than they add. */
const PIXEL_SAMPLES = { least: 4, most: 16 };

/**
 * The cheap render that a sampling plan is predicted from: several splits of everything, and about half the samples that the
 * present settings take, as long as these are enough.
 */
export function pilotSettings(present: RenderSettings): RenderSettings {
  const splits = SPLIT_KINDS.reduce((sum, kind) => sum + countOf(present, kind), 0) / SPLIT_KINDS.length;
  const wanted = Math.round((present.pixelSamples * splits) / SPLITS / 2);
  return {
    ...present,
    ...Object.fromEntries(SPLIT_KINDS.map((kind) => [`${kind}Samples`, SPLITS])),
    pixelSamples: Math.min(PIXEL_SAMPLES.most, Math.max(PIXEL_SAMPLES.least, wanted)),
    adaptive: { ...present.adaptive, limit: 0 },
  };
}

const NO_COUNTS = Object.fromEntries(Object.keys(countsOf(FINAL_DEFAULTS)).map((key) => [key, 0]));

/** Whether two shots render the same picture, but for how often it is sampled. */
export function onlyCountsDiffer(a: ShotDocument, b: ShotDocument, use: SettingsUse): boolean {
  const bare = (document: ShotDocument) => {
    const settings = { ...document[use], ...NO_COUNTS, seed: 0, adaptive: null };
    return JSON.stringify({ ...document, preview: null, final: null, noise: null, name: null, [use]: settings });
  };
  return bare(a) === bare(b);
}
