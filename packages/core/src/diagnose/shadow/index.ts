import type { DiagnosisModule } from '../contract.ts';
import { regionCuts } from '../limits/regionCuts.ts';
import { diagnoseShadow } from './diagnoseShadow.ts';
import { words } from './words.ts';

export { lightChain, type LightChain } from './lightChain.ts';

/** Why a shadow is missing, weak or soft. */
export const shadowModule: DiagnosisModule = {
  kind: 'shadow',
  title: 'What keeps the shadow away',
  version: 5,
  requires: {
    layers:
      /^(beauty|albedo|cut\..*|group\..*|(direct|indirect)(Diffuse|Specular)|transmission|volume|emission|background|time|rays)$/,
    scene: 'used',
    limit: false,
  },
  asks: words.whichCaster,
  diagnose: diagnoseShadow,
  measure: (picture, region) => {
    const cuts = regionCuts(picture, region);
    return cuts ? { luminance: cuts.meanLuminance } : {};
  },
};
