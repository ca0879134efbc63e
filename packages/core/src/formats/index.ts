export { InputError, PICTURE_LIMIT, checkPictureSize } from './inputError.ts';
export { toHalf, fromHalf } from './half.ts';
export * from './exr/index.ts';
export * from './texturePicture.ts';
export * from './meshBlob.ts';
export * from './gltf.ts';
export { SHUTTER_DEFAULTS, type ShutterInterval } from './gltfMotion.ts';
export * from './gltfSurface.ts';
export { readObj } from './obj.ts';
