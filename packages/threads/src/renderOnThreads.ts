import type { Region } from '@dusting/core/image';
import { emptyFilm, mergeFilm, planChunks, type CompiledScene, type Film, type FilmExtra } from '@dusting/core/render';
import type { RenderSettings } from '@dusting/core/scene';
import { RenderPool } from './renderPool.ts';

export interface ThreadOptions {
  threads?: number;
  /** Share of the chunks that are done, 0..1. */
  onProgress?: (done: number) => void;
  extras?: readonly FilmExtra[];
  /** No chunk is begun after it is aborted. */
  signal?: AbortSignal;
}

/** Renders a region on worker threads. The same bits for any number of them: parts are merged in the order of the plan. */
export async function renderOnThreads(
  scene: CompiledScene,
  settings: RenderSettings,
  region: Region,
  { extras = [], onProgress, signal, threads }: ThreadOptions = {},
): Promise<Film> {
  const chunks = planChunks(region, settings);
  const film = emptyFilm(region);
  const early = new Map<number, Film>();
  const pool = new RenderPool(threads);
  let merged = 0;
  let done = 0;
  let next = 0;
  const work = async () => {
    while (next < chunks.length) {
      signal?.throwIfAborted();
      const index = next++;
      early.set(index, await pool.render('scene', { scene, settings, extras }, chunks[index]));
      for (let part = early.get(merged); part; part = early.get(merged)) {
        mergeFilm(film, part);
        early.delete(merged++);
      }
      onProgress?.(++done / chunks.length);
    }
  };
  try {
    await Promise.all(Array.from({ length: pool.size }, work));
  } finally {
    await pool.close();
  }
  return film;
}
