export { hash32, hashPair, hashUnit } from './hash.ts';
export { samplePoint, sobolSecond } from './sobol.ts';
export * from './matrix.ts';
export { quantile, searchRunningSum } from './statistics.ts';
export * from './matrix3.ts';
export * from './placement.ts';
export { tailIndex } from './tailIndex.ts';
export { inverse } from './inverse.ts';
export { studentT90 } from './studentT.ts';
