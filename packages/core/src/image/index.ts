export * from './picture.ts';
export * from './noiseFromPicture.ts';
export * from './visibleNoise.ts';
export { noiseInterval, type NoiseInterval } from './noiseInterval.ts';
export * from './differences.ts';
export { cropPicture, cropPlane } from './cropPicture.ts';
export { planeSum } from './planeSum.ts';
export { regionTable, type RegionRow } from './regionTable.ts';
export * from './graphs.ts';
