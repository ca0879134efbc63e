export * from './fresnel.ts';
export * from './ggx.ts';
export { ALBEDO_STRIDE } from './albedoTable.ts';
export * from './textures.ts';
export * from './surfaceTable.ts';
export * from './surfacePoint.ts';
export * from './environment.ts';
export * from './lights.ts';
export * from './emitters.ts';
