export * from './transfer.ts';
export * from './lightness.ts';
