import { wrap, type Remote } from 'comlink';
import type { MeshTools } from './meshTools.ts';
import type { PictureTools } from './pictureTools.ts';

let tools: Remote<PictureTools> | null = null;

/** One worker for the whole page, started when it is first needed. */
export function pictureTools(): Remote<PictureTools> {
  tools ??= wrap<PictureTools>(new Worker(new URL('./pictureTools.ts', import.meta.url), { type: 'module' }));
  return tools;
}

let meshes: Remote<MeshTools> | null = null;

/** The same for meshes. */
export function meshTools(): Remote<MeshTools> {
  meshes ??= wrap<MeshTools>(new Worker(new URL('./meshTools.ts', import.meta.url), { type: 'module' }));
  return meshes;
}
