export { noiseModule, diagnoseNoise } from './diagnoseNoise.ts';
export { hasStatistics, readNoiseData, type NoiseData } from './noiseData.ts';
export * from './predict.ts';
export { COMPONENT_NAMES, inL, inSeconds, percent } from './words.ts';
