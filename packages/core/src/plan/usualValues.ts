// Values that are usual in the trade (common practice, no source): a plan that leaves them says so.
import type { SplitKind } from '../render/index.ts';
import { planWords } from './planWords.ts';
import { countOf, type Counts } from './samplingModel.ts';

export const USUAL = {
  pixelSamples: 9,
  /** Where something moves, or lines are fine. */
  moving: 16,
  /** Splits times pixel samples that are called extreme. */
  shading: 512,
  volume: 16,
};

export function usualNotes(counts: Counts, kinds: SplitKind[], moves: boolean): string[] {
  const { pixelSamples } = counts;
  const all = (kind: SplitKind) => pixelSamples * countOf(counts, kind);
  const notes: string[] = [];
  if (pixelSamples < USUAL.pixelSamples) notes.push(planWords.fewPixels(pixelSamples));
  if (moves && pixelSamples < USUAL.moving) notes.push(planWords.moving(pixelSamples));
  for (const kind of kinds) if (all(kind) > USUAL.shading) notes.push(planWords.manySplits(kind, all(kind)));
  if (kinds.includes('volume') && all('volume') < USUAL.volume) notes.push(planWords.volume(all('volume')));
  return notes;
}
