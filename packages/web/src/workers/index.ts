import { wrap, type Remote } from 'comlink';
import type { PictureTools } from './pictureTools.ts';

let tools: Remote<PictureTools> | null = null;

/** One worker for the whole page, started when it is first needed. */
export function pictureTools(): Remote<PictureTools> {
  tools ??= wrap<PictureTools>(new Worker(new URL('./pictureTools.ts', import.meta.url), { type: 'module' }));
  return tools;
}
