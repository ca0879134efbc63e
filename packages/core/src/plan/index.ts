export * from './predictChange.ts';
export * from './mixChange.ts';
