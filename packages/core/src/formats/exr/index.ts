export { isExr, readExr, readExrHeader, type ExrHeader, type ExrWanted } from './readExr.ts';
export { streamExr, writeExr, writeExrAtOnce, EXR_WRITE_DEFAULTS, type ExrWriteOptions } from './writeExr.ts';
export { plainDeflate, type Level } from './deflate.ts';
export type { Compression } from './layout.ts';
