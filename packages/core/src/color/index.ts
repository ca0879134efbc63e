export * from './transfer.ts';
export * from './lightness.ts';
export * from './primaries.ts';
export * from './lab.ts';
export * from './displayTransform.ts';
export * from './oklab.ts';
