// What a change has cost and brought, in sentences.
import type { RegionStatistics } from '../api.ts';

/** Beyond this share the variance hangs on single samples: it does not fall as 1 / n yet, and nothing can be predicted. */
export const HEAVY_TAIL = 0.3;

/**
 * Efficiency 1 / (variance x time) of a pixel, of the one over the other; null where it cannot be computed.
 * @param pixels of the one over those of the other: their frames may be of different sizes
 */
export function efficiencyRatio(before: RegionStatistics, after: RegionStatistics, pixels = 1): number | null {
  const [a, b] = [(before.variance * before.seconds) / pixels, after.variance * after.seconds];
  return a > 0 && b > 0 ? a / b : null;
}

export function payOff(
  before: RegionStatistics,
  after: RegionStatistics,
  names: { before: string; after: string },
  pixels = 1,
): string[] {
  const sentences: string[] = [];
  const ratio = efficiencyRatio(before, after, pixels);
  if (ratio !== null)
    sentences.push(
      `${names.after} is ${ratio.toFixed(2)} times as efficient as ${names.before}: efficiency is 1 / (variance × time)${pixels === 1 ? '' : ' of a pixel'}, measured here.`,
    );
  const unsure = [before, after].find((s) => s.peakShare > HEAVY_TAIL);
  if (ratio !== null && !unsure && Math.abs(Math.log(ratio)) > 0.05) {
    const [good, bad] = ratio > 1 ? [names.after, names.before] : [names.before, names.after];
    const less = 1 - Math.sqrt(Math.min(ratio, 1 / ratio));
    sentences.push(
      `In equal time ${good} comes to ${Math.round(100 * less)} % less noise than ${bad}: computed, since the variance falls with 1 / samples.`,
    );
  }
  if (!(before.variance > 0 && after.variance > 0)) return sentences;
  const [worse, better] = before.variance > after.variance ? ['before', 'after'] as const : ['after', 'before'] as const; // prettier-ignore
  const [w, b] = worse === 'before' ? [before, after] : [after, before];
  const needed = Math.ceil((w.samples * w.variance) / b.variance);
  if (w.peakShare > HEAVY_TAIL)
    sentences.push(
      `How many samples ${names[worse]} would need to match ${names[better]} cannot be predicted: ${Math.round(100 * w.peakShare)} % of its variance hangs on single bright samples.`,
    );
  else if (needed > w.samples * 1.05)
    sentences.push(
      `${names[worse]} would need ${needed} samples a pixel instead of ${Math.round(w.samples)} to match the noise of ${names[better]}.`,
    );
  return sentences;
}
