export * from './settings.ts';
export * from './shotDocument.ts';
export { validateShot, describe } from './validate.ts';
export * from './patch.ts';
export { blobsOf } from './blobsOf.ts';
export * from './importShot.ts';
export * from './importFiles.ts';
export { mergeShot } from './mergeShot.ts';
export { completeShot, completeSettings } from './complete.ts';
