import type { DiagnosisModule } from '../contract.ts';
import { regionCuts } from '../limits/regionCuts.ts';
import { diagnoseDrift } from './diagnoseDrift.ts';
import { words } from './words.ts';

/** What the other set of settings would show: preview beside final. */
export const driftModule: DiagnosisModule = {
  kind: 'drift',
  title: words.title,
  version: 1,
  requires: { layers: /^(beauty|cut\..*|time)$/, scene: 'needed', limit: true },
  diagnose: diagnoseDrift,
  measure: (picture, region) => {
    const cuts = regionCuts(picture, region);
    return cuts ? { luminance: cuts.meanLuminance } : {};
  },
  asks: null,
};
