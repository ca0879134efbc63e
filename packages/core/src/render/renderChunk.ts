import { BLOCK, BlockRules, ROUND } from './adaptive.ts';
import type { Chunk } from './chunks.ts';
import { emptyFilm, type Film } from './film.ts';
import { addChecks } from './noiseChecks.ts';
import type { PathTracer } from './pathTracer.ts';

const noClock = () => 0;

/**
 * Renders one chunk; single precision is what goes between threads and machines.
 * @param clock milliseconds, for the time of each pixel
 */
export function renderChunk(tracer: PathTracer, chunk: Chunk, clock: () => number = noClock): Film {
  const film = renderInto(emptyFilm(chunk.region, tracer.stride), tracer, chunk, clock);
  return { ...film, data: Float32Array.from(film.data) };
}

/** The same into an empty film of its region. */
export function renderInto(film: Film, tracer: PathTracer, chunk: Chunk, clock: () => number): Film {
  addSamples(tracer, film, chunk.sampleStart, chunk.sampleCount, clock);
  addChecks(tracer, film, chunk.sampleStart);
  return { ...film, paths: tracer.takeTallies() };
}

/** Adds samples start .. start + count - 1 of every pixel of the film's region: fewer where blocks have settled. */
export function addSamples(tracer: PathTracer, film: Film, start: number, count: number, clock: () => number): void {
  const { data, region, stride } = film;
  const { limit, least } = tracer.settings.adaptive;
  const rules = limit > 0 && start >= least && count > ROUND ? new BlockRules(film, start, limit) : null;
  const step = rules ? ROUND : count;
  for (let done = 0; done < count; done += step) {
    // block by block, since neighbours meet the same parts of the scene
    for (let y0 = 0; y0 < region.height; y0 += BLOCK)
      for (let x0 = 0; x0 < region.width; x0 += BLOCK)
        for (let y = y0; y < Math.min(region.height, y0 + BLOCK); y++)
          for (let x = x0; x < Math.min(region.width, x0 + BLOCK); x++)
            if (!rules?.isSettled(x, y))
              tracer.renderPixel(region.x + x, region.y + y, start + done, Math.min(step, count - done), data, (y * region.width + x) * stride, clock); // prettier-ignore
    rules?.look();
  }
}
