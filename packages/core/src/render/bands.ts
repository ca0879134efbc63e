import type { Region } from '../image/index.ts';
import { TILE } from './chunks.ts';
import type { Film } from './film.ts';

/** A region in bands of whole tiles, from the top: what a proof is put together from. */
export function bandsOf({ height, width, x, y }: Region): Region[] {
  const bands: Region[] = [];
  for (let top = 0; top < height; top += TILE)
    bands.push({ x, y: y + top, width, height: Math.min(TILE, height - top) });
  return bands;
}

/** A band of a film that is whole. */
export function bandOf({ data, region, stride }: Film, band: Region): Film {
  const row = region.width * stride;
  const first = (band.y - region.y) * row;
  return { region: band, stride, data: data.subarray(first, first + band.height * row) };
}
