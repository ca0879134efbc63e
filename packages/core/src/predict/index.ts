export * from './predictCounts.ts';
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
export { noisePower } from './noisePower.ts';
export { PART_RANGE } from './splitParts.ts';
