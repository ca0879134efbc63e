import type { DiagnosisModule } from '../contract.ts';
import { diagnoseOcclusion, layerNoise } from './diagnoseOcclusion.ts';
import { meanOpenness } from './occlusionPlane.ts';

export { chooseDistance, type DistanceChoice } from './distanceChoice.ts';
export { dialLayer } from './dialLayer.ts';
export { layerOf, occlusionSketch, opennessAt, readLayer, type OcclusionSketch } from './occlusionSketch.ts';
import { sideContrast } from './sides.ts';

export { noiseOf, overall } from './layerNoise.ts';

/** Why an occlusion layer is black, empty, grainy or dark around glass. */
export const occlusionModule: DiagnosisModule = {
  kind: 'occlusion',
  title: 'What is wrong with the occlusion',
  version: 6,
  requires: {
    layers: /^(beauty|directDiffuse|indirectDiffuse|occlusion|error\.occlusion|depth|time|object|normal|albedo)$/,
    scene: 'used',
    limit: true,
  },
  diagnose: diagnoseOcclusion,
  measure: (picture, region) => {
    const values = { openness: meanOpenness(picture, region), layerNoise: layerNoise(picture, region), sideContrast: sideContrast(picture, region) }; // prettier-ignore
    return Object.fromEntries(Object.entries(values).filter(([, value]) => value !== null));
  },
  asks: null,
};
