import { BLOCK, isSettled, ROUND } from './adaptive.ts';
import type { Chunk } from './chunks.ts';
import { emptyFilm, FILM, type Film } from './film.ts';
import type { PathTracer } from './pathTracer.ts';

const noClock = () => 0;

/**
 * Renders one chunk; single precision is what goes between threads and machines.
 * @param clock milliseconds, for the time of each pixel
 */
export function renderChunk(tracer: PathTracer, chunk: Chunk, clock: () => number = noClock): Film {
  const film = emptyFilm(chunk.region);
  addSamples(tracer, film, chunk.sampleStart, chunk.sampleCount, clock);
  return { region: chunk.region, data: Float32Array.from(film.data) };
}

/** Adds samples start .. start + count - 1 of every pixel of the film's region: fewer where blocks have settled. */
export function addSamples(tracer: PathTracer, film: Film, start: number, count: number, clock: () => number): void {
  const { width, height } = film.region;
  const { limit, least } = tracer.settings.adaptive;
  const adapts = limit > 0 && start >= least && count > ROUND;
  for (let y = 0; y < height; y += BLOCK)
    for (let x = 0; x < width; x += BLOCK) {
      const right = Math.min(width, x + BLOCK);
      const bottom = Math.min(height, y + BLOCK);
      if (!adapts) {
        renderBlock(tracer, film, x, y, right, bottom, start, count, clock);
        continue;
      }
      for (let done = 0; done < count; done += ROUND) {
        renderBlock(tracer, film, x, y, right, bottom, start + done, Math.min(ROUND, count - done), clock);
        if (isSettled(film, x, y, right, bottom, start, limit)) break;
      }
    }
}

// prettier-ignore
function renderBlock(tracer: PathTracer, { region, data }: Film, x0: number, y0: number, x1: number, y1: number, start: number, count: number, clock: () => number): void {
  for (let y = y0; y < y1; y++)
    for (let x = x0; x < x1; x++)
      tracer.renderPixel(region.x + x, region.y + y, start, count, data, (y * region.width + x) * FILM.stride, clock);
}
