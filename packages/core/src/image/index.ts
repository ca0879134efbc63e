export * from './picture.ts';
export * from './visibleNoise.ts';
export * from './differences.ts';
