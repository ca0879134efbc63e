export { exrRanges, type ByteRange } from './exrRanges.ts';
export { isExr, readExr, readExrHeader, type ExrHeader, type ExrWanted } from './readExr.ts';
export { writeExr, EXR_WRITE_DEFAULTS, type ExrWriteOptions } from './writeExr.ts';
export { ExrBands, writeExrParts, type ExrBandOptions } from './exrBands.ts';
export { partOf } from './exrFile.ts';
export { plainDeflate, type Level } from './deflate.ts';
export type { Compression } from './layout.ts';
