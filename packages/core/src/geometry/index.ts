export * from './meshShells.ts';
export * from './uvSeams.ts';
export { vertexNormals } from './vertexNormals.ts';
