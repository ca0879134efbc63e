import type { Region } from '../image/index.ts';
import type { RenderSettings } from '../scene/index.ts';
import { planChunks, type Chunk } from './chunks.ts';
import type { CompiledScene } from './compile.ts';
import { emptyFilm, mergeFilm, type Film } from './film.ts';
import { PathTracer } from './pathTracer.ts';
import { STRATEGIES, type Strategies } from './strategies.ts';

const noClock = () => 0;

/** Renders one chunk; single precision is what goes between threads and machines. */
export function renderChunk(tracer: PathTracer, chunk: Chunk, clock: () => number = noClock): Film {
  const film = emptyFilm(chunk.region);
  tracer.render(film, chunk.sampleStart, chunk.sampleCount, clock);
  return { region: chunk.region, data: Float32Array.from(film.data) };
}

/** Renders a region on this thread. The same bits as any number of workers would give. */
export function renderHere(
  scene: CompiledScene,
  settings: RenderSettings,
  region: Region,
  strategies: Strategies = STRATEGIES,
): Film {
  const tracer = new PathTracer(scene, settings, 0, strategies);
  const film = emptyFilm(region);
  for (const chunk of planChunks(region, settings)) mergeFilm(film, renderChunk(tracer, chunk));
  return film;
}
