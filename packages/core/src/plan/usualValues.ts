// Values that are usual in the trade (common practice, no source): a plan that leaves them says so.
import type { SplitKind } from '../render/index.ts';
import type { RenderSettings } from '../scene/index.ts';
import { planWords } from './planWords.ts';
import { countOf, type Counts } from './counts.ts';

export const USUAL = {
  pixelSamples: 9,
  /** Where something moves, or lines are fine. */
  moving: 16,
  /** Splits times pixel samples that are called extreme. */
  shading: 512,
  volume: 16,
  /** Widest filters, pixels. */
  filter: { box: 2, triangle: 3, gaussian: 4, mitchell: 4, 'blackman-harris': 4, sinc: 8 },
};

export function usualNotes(counts: Counts, kinds: SplitKind[], { filter }: RenderSettings, moves: boolean): string[] {
  const { pixelSamples } = counts;
  const all = (kind: SplitKind) => pixelSamples * countOf(counts, kind);
  const notes: string[] = [];
  if (pixelSamples < USUAL.pixelSamples) notes.push(planWords.fewPixels(pixelSamples));
  if (moves && pixelSamples < USUAL.moving) notes.push(planWords.moving(pixelSamples));
  for (const kind of kinds) if (all(kind) > USUAL.shading) notes.push(planWords.manySplits(kind, all(kind)));
  if (kinds.includes('volume') && all('volume') < USUAL.volume) notes.push(planWords.volume(all('volume')));
  const widest = USUAL.filter[filter.kind];
  if (filter.width > widest) notes.push(planWords.wideFilter(filter.kind, filter.width, widest));
  return notes;
}
