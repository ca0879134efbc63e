import { VISIBLE_NOISE_DEFAULTS } from '../image/index.ts';
import { FILM, MEASURED, type Film } from './film.ts';
import { largestId } from './largestId.ts';
import { measuredSum } from './noiseChecks.ts';

/** Pixels along the side of a block. */
export const { tile: BLOCK } = VISIBLE_NOISE_DEFAULTS;
/** So many steps of brightness, a factor of two each, about 1. */
const LEVELS = 32;

/** Groups of pixels that share what is measured of their noise. */
export interface NoiseCells {
  /** Cell of each pixel, row by row. */
  cellOf: Int32Array;
  /** For each cell itself, and the cells of its kind in the blocks around it. */
  near: number[][];
  /** Block of each cell. */
  blockOf: Int32Array;
  blocks: number;
  /** Blocks side by side. */
  columns: number;
}

/**
 * The pixels of one object in a block of 8 x 8 that are as bright to a factor of two: light and shadow are not as even as each
 * other, and noise is seen in the dark.
 */
export function noiseCells({ data, region, stride }: Film): NoiseCells {
  const columns = Math.ceil(region.width / BLOCK);
  const blocks = Array.from({ length: columns * Math.ceil(region.height / BLOCK) }, () => new Map<number, number>());
  const cellOf = new Int32Array(region.width * region.height);
  const kinds: { block: number; kind: number }[] = [];
  for (let i = 0; i < cellOf.length; i++) {
    const at = i * stride;
    const [x, y] = [i % region.width, Math.floor(i / region.width)];
    const block = Math.floor(y / BLOCK) * columns + Math.floor(x / BLOCK);
    const light = measuredSum(data, at, MEASURED.beauty) / (data[at + FILM.samples] || 1);
    const level = light > 0 ? Math.min(LEVELS - 1, Math.max(0, Math.round(Math.log2(light) + LEVELS / 2))) : 0;
    const kind = largestId(data, at + FILM.objects) * LEVELS + level;
    let cell = blocks[block].get(kind);
    if (cell === undefined) blocks[block].set(kind, (cell = kinds.push({ block, kind }) - 1));
    cellOf[i] = cell;
  }
  const near = kinds.map(({ block, kind }) =>
    around(block, columns, blocks.length).flatMap((other) => blocks[other].get(kind) ?? []),
  );
  return { cellOf, near, blockOf: Int32Array.from(kinds, ({ block }) => block), blocks: blocks.length, columns };
}

/** A block and those around it. */
function around(block: number, columns: number, blocks: number): number[] {
  const column = block % columns;
  const all: number[] = [];
  for (let y = -1; y <= 1; y++)
    for (let x = Math.max(-1, -column); x <= Math.min(1, columns - 1 - column); x++) {
      const other = block + y * columns + x;
      if (other >= 0 && other < blocks) all.push(other);
    }
  return all;
}
