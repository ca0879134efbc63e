export { isExr, readExr, readExrHeader, type ExrHeader } from './readExr.ts';
export { writeExr, EXR_WRITE_DEFAULTS, type ExrWriteOptions } from './writeExr.ts';
export type { Compression } from './layout.ts';
