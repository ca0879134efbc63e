export { exrRanges, type ByteRange } from './exrRanges.ts';
export { isExr, readExr, readExrHeader, type ExrHeader, type ExrWanted } from './readExr.ts';
export { streamExr, writeExr, EXR_WRITE_DEFAULTS, type ExrWriteOptions } from './writeExr.ts';
export { plainDeflate, type Level } from './deflate.ts';
export type { Compression } from './layout.ts';
