export * from './predictChange.ts';
