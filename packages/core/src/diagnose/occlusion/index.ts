import type { DiagnosisModule } from '../contract.ts';
import { diagnoseOcclusion, layerNoise } from './diagnoseOcclusion.ts';
import { meanOpenness } from './occlusionPlane.ts';

export { chooseDistance, type DistanceChoice } from './distanceChoice.ts';
export { dialLayer, dialShares } from './layerDial.ts';
export { layerOf, occlusionSketch, opennessAt, readLayer, type OcclusionSketch } from './occlusionSketch.ts';
export { noiseOf, overall } from './layerNoise.ts';

/** Why an occlusion layer is black, empty, grainy or dark around glass. */
export const occlusionModule: DiagnosisModule = {
  kind: 'occlusion',
  title: 'What is wrong with the occlusion',
  version: 3,
  requires: { layers: /^(beauty|indirectDiffuse|occlusion|error\.occlusion|depth|time)$/, scene: 'used', limit: true },
  diagnose: diagnoseOcclusion,
  measure: (picture, region) => {
    const [openness, noise] = [meanOpenness(picture, region), layerNoise(picture, region)];
    return { ...(openness !== null && { openness }), ...(noise !== null && { layerNoise: noise }) };
  },
  asks: null,
};
