export * from './picture.ts';
export * from './visibleNoise.ts';
