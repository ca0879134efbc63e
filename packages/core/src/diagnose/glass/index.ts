import type { DiagnosisModule } from '../contract.ts';
import { allShare } from '../limits/limitShares.ts';
import { regionCuts } from '../limits/regionCuts.ts';
import { diagnoseGlass } from './diagnoseGlass.ts';

export { lightenTint, targetTint, type TargetGlass, type TintAnswer } from './targetTint.ts';
export { glassFaults, type GlassFault } from './glassFaults.ts';
export { wallTransmittance } from './wallTransmittance.ts';
export { interfaceMap, type InterfaceMap } from './interfaceMap.ts';

/** How deep, how dark, how tinted: what stops light in glass. */
export const glassModule: DiagnosisModule = {
  kind: 'glass',
  title: 'What stops light in the glass',
  version: 4,
  requires: { layers: /^(beauty|cut\..*|probeRays|time|rays)$/, scene: 'needed', limit: false },
  diagnose: diagnoseGlass,
  measure: (picture, region) => {
    const cuts = regionCuts(picture, region);
    return cuts ? { luminance: cuts.meanLuminance, lightCutOff: allShare(cuts) } : {};
  },
  asks: null,
};
