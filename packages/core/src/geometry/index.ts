export * from './uvSeams.ts';
export { vertexNormals } from './vertexNormals.ts';
