export * from './film.ts';
export * from './chunks.ts';
export { compileScene, type CompiledScene, type BlobReader } from './compile.ts';
export { PathTracer, PROBE_SHARE } from './pathTracer.ts';
export * from './proofPicture.ts';
export * from './statistics.ts';
export * from './renderHere.ts';
