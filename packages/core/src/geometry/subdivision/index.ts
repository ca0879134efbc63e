export * from './controlMesh.ts';
export * from './firstLevel.ts';
export * from './limitSurface.ts';
export * from './refine.ts';
export * from './uvRules.ts';
export * from './subdividedMesh.ts';
