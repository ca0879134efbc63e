export { plainBuffer, sharedBuffer, Arena, type MakeBuffer } from './arena.ts';
export { buildHierarchy, NODE_STRIDE } from './hierarchy.ts';
export * from './rayScene.ts';
export * from './triangleMesh.ts';
export * from './rayQuery.ts';
export { meshBox } from './instanceBox.ts';
