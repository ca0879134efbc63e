import { InputError } from '../formats/index.ts';
import type { Region } from '../image/index.ts';

/** A piece of work of up to a few seconds: some samples of the pixels of one tile. */
export interface Chunk {
  region: Region;
  sampleStart: number;
  sampleCount: number;
}

const TILE = 32;
/** Samples of the passes over the picture: the first is quick, so that a whole picture stands early. */
const PASSES = [1, 3, 12, 48];

/**
 * Cuts a render into chunks, pass by pass. The plan depends on the region and the samples alone, and films are merged
 * in its order, so that the result does not depend on the number of workers.
 */
export function planChunks(region: Region, pixelSamples: number): Chunk[] {
  const chunks: Chunk[] = [];
  let start = 0;
  for (let pass = 0; start < pixelSamples; pass++) {
    const count = Math.min(PASSES[Math.min(pass, PASSES.length - 1)], pixelSamples - start);
    for (let y = region.y; y < region.y + region.height; y += TILE)
      for (let x = region.x; x < region.x + region.width; x += TILE) {
        const width = Math.min(TILE, region.x + region.width - x);
        const height = Math.min(TILE, region.y + region.height - y);
        chunks.push({ region: { x, y, width, height }, sampleStart: start, sampleCount: count });
      }
    start += count;
  }
  return chunks;
}

/** A film holds 800 bytes a pixel while it is merged: more than this many pixels are not rendered in one piece. */
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
