// What is predicted of pending changes, on the pictures of proofs and pilots.
import type { Region } from '@dusting/core/image';
import { type Counted, foretell, predictChange, samplingPlan, type ChangePrediction, type PlanInput, type SamplingPlan, type Timed } from '@dusting/core/plan'; // prettier-ignore
import type { RenderSettings } from '@dusting/core/scene';
import { STATISTICS_LAYERS, type OpenPictures, type PictureSource } from './openPictures.ts';

export interface RenderedSource {
  proof: number;
  source: PictureSource;
  settings: RenderSettings;
  seconds: number;
  counted?: Counted;
}
type PlanWish = Omit<PlanInput, 'pilot' | 'measured' | 'region'> & { region: Region | null };
export interface CountPrediction extends ChangePrediction {
  /** The pilot that it was predicted from, if one was. */
  pilot: number | null;
}

export function planJobs(pictures: OpenPictures) {
  const open = async ({ source, ...rest }: Omit<RenderedSource, 'proof'>) => ({
    picture: await pictures.get(source, { layers: STATISTICS_LAYERS }),
    ...rest,
  });
  return {
    async predict(
      from: Omit<RenderedSource, 'proof'>,
      by: RenderedSource | null,
      timed: Timed[],
      after: RenderSettings,
      asked: Region | null,
      stops: number,
      lights: number,
    ): Promise<CountPrediction> {
      const measured = await open(from);
      const region = asked ?? measured.picture.dataWindow;
      const plain = predictChange(measured.picture, from.settings, after, timed, region, stops, lights);
      if (!by || !plain.noise || after.adaptive.limit > 0) return { ...plain, pilot: null };
      return { ...plain, ...foretell(await open(by), measured, timed, after, region, stops), pilot: by.proof };
    },

    async plan(by: RenderedSource, from: RenderedSource | null, { region, ...wish }: PlanWish): Promise<SamplingPlan> {
      const pilot = await open(by);
      const measured = from && (await open(from));
      return samplingPlan({ ...wish, pilot, measured, region: region ?? pilot.picture.dataWindow });
    },
  };
}
