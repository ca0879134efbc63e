export * from './displacedMesh.ts';
export * from './meshShells.ts';
export * from './subdivision/index.ts';
export * from './tJunctions.ts';
export * from './uvLayout.ts';
export * from './uvSeams.ts';
export { vertexNormals } from './vertexNormals.ts';
export { weld } from './weld.ts';
