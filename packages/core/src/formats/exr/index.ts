export { isExr, readExr, readExrHeader, type ExrHeader, type ExrWanted } from './readExr.ts';
export { streamExr, writeExr, EXR_WRITE_DEFAULTS, type ExrWriteOptions } from './writeExr.ts';
export type { Compression } from './layout.ts';
