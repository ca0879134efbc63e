import type { DiagnosisModule } from '../contract.ts';
import { allShare } from '../limits/limitShares.ts';
import { regionCuts } from '../limits/regionCuts.ts';
import { diagnoseCutOff } from './diagnoseCutOff.ts';

/** What is cut off here: light that depth limits and clamps keep out of a region. */
export const cutOffModule: DiagnosisModule = {
  kind: 'other',
  title: 'What limits cut off here',
  version: 2,
  requires: { layers: /^(beauty|cut\..*|probeRays|time)$/, scene: 'used', limit: false },
  diagnose: diagnoseCutOff,
  measure: (picture, region) => {
    const cuts = regionCuts(picture, region);
    return cuts ? { luminance: cuts.meanLuminance, lightCutOff: allShare(cuts) } : {};
  },
  asks: null,
};
