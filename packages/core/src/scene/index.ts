export * from './settings.ts';
export * from './shotDocument.ts';
export { validateShot, describe } from './validate.ts';
export * from './patch.ts';
export * from './importShot.ts';
