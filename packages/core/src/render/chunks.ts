import { InputError } from '../formats/index.ts';
import type { Region } from '../image/index.ts';
import type { RenderSettings } from '../scene/index.ts';

/** A piece of work of up to a few seconds: some samples of the pixels of one tile. */
export interface Chunk {
  region: Region;
  sampleStart: number;
  sampleCount: number;
}

/** Side of the tiles of a render, pixels. */
export const TILE = 32;
/** Samples of the passes over the picture: the first is quick, so that a whole picture stands early. */
const PASSES = [1, 3, 12, 48];
/** Of a render that nobody looks at before it is done: fewer chunks, less to hand over and to put together. */
const UNWATCHED_PASSES = [16, 48];
/** Adaptive passes grow: every chunk has to look at some samples before it can tell that a block needs no more. */
const GROWTH = 4;

/**
 * Cuts a render into chunks, pass by pass. The plan depends on the region and the settings alone, and films are merged
 * in its order, so that the result does not depend on the number of workers.
 * @param watched its picture is shown while it is rendered
 * @param parts of the region that are rendered, each within a band of it (`bandsOf`)
 */
export function planChunks(
  region: Region,
  { pixelSamples, adaptive }: Pick<RenderSettings, 'pixelSamples' | 'adaptive'>,
  { watched = true, parts = [region] }: { watched?: boolean; parts?: readonly Region[] } = {},
): Chunk[] {
  const passes = watched ? PASSES : UNWATCHED_PASSES;
  const chunks: Chunk[] = [];
  let start = 0;
  for (let pass = 0; start < pixelSamples; pass++) {
    const beyond = Math.max(0, pass - passes.length + 1);
    const size = passes[Math.min(pass, passes.length - 1)] * (adaptive.limit > 0 ? GROWTH ** beyond : 1);
    const count = Math.min(size, pixelSamples - start);
    for (const part of parts)
      for (let y = part.y; y < part.y + part.height; y += TILE)
        for (let x = part.x; x < part.x + part.width; x += TILE) {
          const width = Math.min(TILE, part.x + part.width - x);
          const height = Math.min(TILE, part.y + part.height - y);
          chunks.push({ region: { x, y, width, height }, sampleStart: start, sampleCount: count });
        }
    start += count;
  }
  return chunks;
}

/** A proof holds some 300 bytes a pixel while it is put together: more than this many pixels are not rendered in one piece. */
const MOST_PIXELS = 2 ** 24;

/** @throws InputError */
export function checkRenderSize(region: Region): void {
  const pixels = region.width * region.height;
  if (pixels > MOST_PIXELS)
    throw new InputError(
      `${region.width} x ${region.height} is too large to render in one piece (at most 16.7 million pixels): render a region, or choose a smaller size`,
    );
}

export function frameOf(size: { width: number; height: number }): Region {
  return { x: 0, y: 0, width: size.width, height: size.height };
}
