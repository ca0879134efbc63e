import { LIGHT_PREFIX, LIGHT_ROLES } from '../../frames/index.ts';
import type { DiagnosisModule } from '../contract.ts';
import { diagnoseFrame } from './diagnoseFrame.ts';
import { diagnoseNoise } from './diagnoseNoise.ts';
import { hasStatistics } from '../../predict/index.ts';

export { diagnoseFrame, diagnoseNoise };
export type { NoiseInput } from './diagnoseNoise.ts';
export { estimateNoise } from './estimateNoise.ts';
export { cleanAt } from './cleanAt.ts';
export { groupWords, noiseByLight, noiseByMatte, type NoiseShare } from './noiseBy.ts';
export { COMPONENT_NAMES } from './words.ts';

/** Of a proof, what noise is measured by and the mattes; of a frame of another renderer, the parts of its light. */
const NOISE_LAYERS = new RegExp(`^(beauty|(error|splits)(\\..*)?|halves|spread|rays|branchRays|kindTime|probeRays|samples|time|early|brightest|depth|(objects|surfaces)\\d\\d|${LIGHT_ROLES.join('|')}|${LIGHT_PREFIX}.*)$`); // prettier-ignore

/** Measured where the picture carries its statistics, else estimated from what it shows. */
export const noiseModule: DiagnosisModule = {
  kind: 'noise',
  title: 'Noise by component',
  version: 1,
  requires: { layers: NOISE_LAYERS, scene: 'unused', limit: true },
  asks: null,
  diagnose: async (context) => (hasStatistics(context.picture) ? diagnoseNoise(context) : diagnoseFrame(context)),
  measure: () => ({}),
};
