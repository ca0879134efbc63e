import type { DiagnosisModule } from '../contract.ts';
import { regionCuts } from '../limits/regionCuts.ts';
import { diagnoseShadow } from './diagnoseShadow.ts';
import { shadowDepth } from './shadowDepth.ts';
import { words } from './words.ts';

export { lightChain, type LightChain } from './lightChain.ts';

/** Why a shadow is missing, weak or soft. */
export const shadowModule: DiagnosisModule = {
  kind: 'shadow',
  title: 'What keeps the shadow away',
  version: 6,
  requires: {
    layers:
      /^(beauty|albedo|cut\..*|group\..*|shadow|(direct|indirect)(Diffuse|Specular)|transmission|volume|emission|background|time|rays)$/,
    scene: 'used',
    limit: true,
  },
  asks: words.whichCaster,
  diagnose: diagnoseShadow,
  measure: (picture, region, stops) => {
    const cuts = regionCuts(picture, region);
    const contrast = shadowDepth(picture, region, stops);
    return { ...(cuts ? { luminance: cuts.meanLuminance } : {}), ...(contrast === null ? {} : { contrast }) };
  },
};
