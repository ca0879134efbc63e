export { InputError, PICTURE_LIMIT, checkPictureSize } from './inputError.ts';
export { toHalf, fromHalf } from './half.ts';
export * from './exr.ts';
export * from './texturePicture.ts';
export * from './meshBlob.ts';
export * from './gltf.ts';
