// Counts that cost and change nothing that is seen.
import type { SplitKind } from '../render/index.ts';
import type { Patch, RenderSettings, SettingsUse } from '../scene/index.ts';
import { planWords } from './planWords.ts';
import { countOf, countsOf, noiseAt, secondsAt, type SamplingModel } from './samplingModel.ts';

/** By so much the noise may grow where it is called nothing. */
const NOTHING = 0.03;
/** Less of the time than this is not worth a word. */
const LEAST_SAVED = 0.01;

export interface WasteItem {
  kind: SplitKind;
  title: string;
  /** Of the frame. */
  saves: number;
  /** Noise afterwards, of now. */
  noise: number;
  patch: Patch;
}

/**
 * Each kind of samples by itself: the fewest with which the noise stays as it is, where that saves time.
 * @param frameSeconds what the frame takes now
 */
export function wasteOf(
  model: SamplingModel,
  present: RenderSettings,
  use: SettingsUse,
  frameSeconds: number,
): WasteItem[] {
  const now = countsOf(present);
  const noise = noiseAt(model, now);
  const seconds = secondsAt(model, now);
  return model.kinds
    .flatMap((kind): WasteItem[] => {
      const from = countOf(now, kind);
      for (let count = 1; count < from; count *= 2) {
        const fewer = { ...now, [`${kind}Samples`]: count };
        const grown = noiseAt(model, fewer) / noise;
        const saved = 1 - secondsAt(model, fewer) / seconds;
        if (!(grown <= 1 + NOTHING)) continue;
        if (saved < LEAST_SAVED) return [];
        const patch: Patch = [{ op: 'replace', path: `/${use}/${kind}Samples`, value: count }];
        return [{ kind, title: planWords.waste(kind, from, count), saves: saved * frameSeconds, noise: grown, patch }];
      }
      return [];
    })
    .sort((a, b) => b.saves - a.saves);
}

/** What the time of a frame goes to: the camera rays with what they shade, and each kind of samples. Shares of 1. */
export function costShares(
  model: SamplingModel,
  counts = model.pilot,
): { kind: SplitKind | 'camera'; share: number }[] {
  const whole = secondsAt(model, counts);
  if (!(whole > 0)) return [];
  const without = (kind: SplitKind) => secondsAt(model, { ...counts, [`${kind}Samples`]: 0 });
  const kinds = model.kinds.map((kind) => ({ kind, share: 1 - without(kind) / whole }));
  return [{ kind: 'camera' as const, share: 1 - kinds.reduce((sum, { share }) => sum + share, 0) }, ...kinds];
}
