import type { DiagnosisModule } from '../contract.ts';
import { regionCuts } from '../limits/regionCuts.ts';
import { diagnoseDisplacement } from './diagnoseDisplacement.ts';

/** Why displacement does nothing, too much, or cracks. */
export const displacementModule: DiagnosisModule = {
  kind: 'displacement',
  title: 'What the map does to the mesh',
  version: 6,
  requires: { layers: /^(beauty|cut\..*|time|rays)$/, scene: 'used', limit: false },
  diagnose: diagnoseDisplacement,
  measure: (picture, region) => {
    const cuts = regionCuts(picture, region);
    return cuts ? { luminance: cuts.meanLuminance } : {};
  },
  asks: null,
};
