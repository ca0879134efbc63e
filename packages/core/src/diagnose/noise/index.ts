import { COMPONENTS } from '../../render/index.ts';
import type { DiagnosisModule } from '../contract.ts';
import { diagnoseFrame } from './diagnoseFrame.ts';
import { diagnoseNoise } from './diagnoseNoise.ts';
import { hasStatistics } from './noiseData.ts';

export { diagnoseFrame, diagnoseNoise };
export { estimateNoise } from './estimateNoise.ts';
export { costModel, type CostModel, type TimedRender } from './costModel.ts';
export {
  eyeWeight,
  hasStatistics,
  readNoiseData,
  regionNoise,
  total,
  weightedSum,
  type NoiseData,
} from './noiseData.ts';
export { cleanAt } from './cleanAt.ts';
export { groupWords, noiseByLight, noiseByMatte, type NoiseShare } from './noiseBy.ts';
export * from './predict.ts';
export { PART_RANGE } from './splitParts.ts';
export { COMPONENT_NAMES, inL, inSeconds, percent } from './words.ts';

/** Measured where the picture carries its statistics, else estimated from what it shows. */
export const noiseModule: DiagnosisModule = {
  kind: 'noise',
  title: 'Noise by component',
  needs: [
    'beauty',
    'error',
    ...COMPONENTS.map((c) => `error.${c}`),
    'spread',
    'halves',
    'splits',
    'branchRays',
    'rays',
    'time',
  ],
  diagnose: (input) => (hasStatistics(input.picture) ? diagnoseNoise(input) : diagnoseFrame(input)),
};
