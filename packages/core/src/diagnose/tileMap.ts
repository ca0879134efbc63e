import type { Region } from '../image/index.ts';
import type { MapEvidence } from './evidence.ts';

/** Side of the square tiles of maps, pixels. */
export const MAP_TILE = 8;

/**
 * A map of square tiles.
 * @param valueOf the value of a tile, and the category that leads in it or -1, from its pixels as places in the region
 */
export function tileMap(
  { width, height, ...at }: Region,
  shown: Pick<MapEvidence, 'id' | 'title' | 'source' | 'unit' | 'categories'>,
  valueOf: (pixels: number[]) => { value: number; leading: number },
  tile = MAP_TILE,
): MapEvidence {
  const columns = Math.ceil(width / tile);
  const rows = Math.ceil(height / tile);
  const values: number[] = [];
  const leading: number[] = [];
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const pixels: number[] = [];
      for (let y = row * tile; y < Math.min(height, (row + 1) * tile); y++)
        for (let x = column * tile; x < Math.min(width, (column + 1) * tile); x++) pixels.push(y * width + x);
      const found = valueOf(pixels);
      values.push(Number(found.value.toPrecision(4)));
      leading.push(found.leading);
    }
  return { type: 'map', ...shown, region: { ...at, width, height }, tile, columns, rows, values, leading };
}
