import type { Region } from '../image/index.ts';
import type { RenderSettings } from '../scene/index.ts';
import { planChunks } from './chunks.ts';
import type { CompiledScene } from './compile.ts';
import { emptyFilm, mergeFilm, type Film } from './film.ts';
import { PathTracer } from './pathTracer.ts';
import type { FilmExtra } from './filmExtras.ts';
import { renderChunk } from './renderChunk.ts';
import { STRATEGIES, type Strategies } from './strategies.ts';

/** Renders a region on this thread. The same bits as any number of workers would give. */
export function renderHere(
  scene: CompiledScene,
  settings: RenderSettings,
  region: Region,
  strategies: Strategies = STRATEGIES,
  extras: readonly FilmExtra[] = [],
): Film {
  const tracer = new PathTracer(scene, settings, 0, strategies, extras);
  const film = emptyFilm(region, tracer.stride);
  for (const chunk of planChunks(region, settings)) mergeFilm(film, renderChunk(tracer, chunk));
  return film;
}
