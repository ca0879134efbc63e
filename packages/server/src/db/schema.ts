export * from './blobSchema.ts';
export * from './shotSchema.ts';
export * from './sweepSchema.ts';
export * from './proofSchema.ts';
export * from './defectSchema.ts';
export * from './logSchema.ts';
