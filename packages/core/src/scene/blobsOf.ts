import type { ShotDocument } from './shotDocument.ts';

/** Names of all blobs that a shot refers to, each once. */
export function blobsOf(document: Pick<ShotDocument, 'meshes' | 'textures' | 'environment'>): string[] {
  const { meshes, textures, environment } = document;
  // documents from before there were tiles do not name them
  const pictures = Object.values(textures).flatMap(({ blob, tiles = [] }) => [blob, ...tiles.map((tile) => tile.blob)]);
  const sky = environment.picture ? [environment.picture.blob] : [];
  return [...new Set([...Object.values(meshes).map(({ blob }) => blob), ...pictures, ...sky])];
}
