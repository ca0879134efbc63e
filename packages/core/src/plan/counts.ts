import { SPLIT_KINDS, type SplitKind } from '../render/index.ts';
import type { RenderSettings } from '../scene/index.ts';

/** How often is sampled: for a pixel, and of each kind at an event. */
export type Counts = Pick<RenderSettings, 'pixelSamples' | `${SplitKind}Samples`>;

export const countOf = (counts: Counts, kind: SplitKind) => counts[`${kind}Samples`];

export const countsOf = (settings: Counts): Counts => ({
  pixelSamples: settings.pixelSamples,
  diffuseSamples: settings.diffuseSamples,
  specularSamples: settings.specularSamples,
  transmissionSamples: settings.transmissionSamples,
  volumeSamples: settings.volumeSamples,
  lightSamples: settings.lightSamples,
});

/** The counts of all kinds but some. */
export const countsBut = (counts: Counts, kinds: SplitKind[]): Partial<Counts> =>
  Object.fromEntries(SPLIT_KINDS.filter((k) => !kinds.includes(k)).map((k) => [`${k}Samples`, countOf(counts, k)]));
