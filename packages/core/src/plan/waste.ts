// What costs and changes nothing that is seen.
import { DEPTH_LIMITS, PROBE_SHARE, raysIn, type RenderStatistics } from '../render/index.ts';
import type { LargeTexture } from '../shade/index.ts';
import type { Patch, RenderSettings, SettingsUse } from '../scene/index.ts';
import { planWords } from './planWords.ts';
import { countOf, countsOf } from './counts.ts';
import { noiseAt, secondsAt, type SamplingModel } from './samplingModel.ts';

/** By so much the noise may grow where it is called nothing. */
const NOTHING = 0.03;
/** And so much darker a tile may become, in L*: a third of what is just seen side by side (common practice, no source). */
const UNSEEN = 0.3;
/** Less of the time, or of memory in bytes, than this is not worth a word. */
const LEAST_SAVED = 0.01;
const LEAST_BYTES = 1e6;

export interface WasteItem {
  id: string;
  title: string;
  /** Seconds of the frame, or bytes of memory. */
  saves: { seconds: number } | { bytes: number };
  /** What would be seen of it. */
  effect: string;
  /** Empty where it is no setting. */
  patch: Patch;
}

/** What is known of a render beside its picture. */
export interface Counted {
  statistics: RenderStatistics;
  textures: LargeTexture[];
}

/**
 * Each kind of samples by itself: the fewest with which the noise stays as it is, where that saves time.
 * @param frameSeconds what the frame takes now
 */
export function sampleWaste(
  model: SamplingModel,
  present: RenderSettings,
  use: SettingsUse,
  frameSeconds: number,
): WasteItem[] {
  const now = countsOf(present);
  const noise = noiseAt(model, now);
  const seconds = secondsAt(model, now);
  return model.kinds.flatMap((kind): WasteItem[] => {
    const from = countOf(now, kind);
    for (let count = 1; count < from; count *= 2) {
      const fewer = { ...now, [`${kind}Samples`]: count };
      const grown = noiseAt(model, fewer) / noise;
      const saved = 1 - secondsAt(model, fewer) / seconds;
      if (!(grown <= 1 + NOTHING)) continue;
      if (saved < LEAST_SAVED) return [];
      const patch: Patch = [{ op: 'replace', path: `/${use}/${kind}Samples`, value: count }];
      return [{ id: kind, title: planWords.waste(kind, from, count), saves: { seconds: saved * frameSeconds }, effect: planWords.noiseStays(grown), patch }]; // prettier-ignore
    }
    return [];
  });
}

/** Depth limits of which half would do: what longer paths bring is nowhere seen, and their rays cost. */
export function depthWaste(
  statistics: RenderStatistics,
  { depth }: RenderSettings,
  use: SettingsUse,
  frameSeconds: number,
): WasteItem[] {
  const { deep } = statistics;
  return DEPTH_LIMITS.flatMap((limit): WasteItem[] => {
    const to = Math.floor(depth[limit] / 2);
    // some of the paths beyond the new limit would still be followed, as probes
    const saved = ((1 - PROBE_SHARE) * deep[limit].rays) / raysIn(statistics);
    if (to < 1 || saved < LEAST_SAVED || deep[limit].brings > UNSEEN) return [];
    const patch: Patch = [{ op: 'replace', path: `/${use}/depth/${limit}`, value: to }];
    return [{ id: `depth-${limit}`, title: planWords.deep(limit, depth[limit], to), saves: { seconds: saved * frameSeconds }, effect: planWords.darker(deep[limit].brings), patch }]; // prettier-ignore
  });
}

export function textureWaste(textures: LargeTexture[]): WasteItem[] {
  return textures
    .filter(({ saves }) => saves >= LEAST_BYTES)
    .map(({ name, needed, saves, size }) => ({ id: `texture-${name}`, title: planWords.large(name, size, needed), saves: { bytes: saves }, effect: planWords.tooFine, patch: [] })); // prettier-ignore
}
