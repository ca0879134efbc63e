// Where cures are tried when the region is too large to render it for each of them.
//
// Tried on the busiest square alone, a cure is judged by the light of that place: of LH-020 at 400 x 225 stand-in lights
// left 179 of 1492 fireflies by it, and 534 in the frame, since what they leave lies all over the bench. So the parts are
// taken from two lots: the tiles with most fireflies, each for itself, and others evenly spread, which stand for all the rest.
import { intersectRegions, type Region } from '../../image/index.ts';
import { bandsOf } from '../../render/index.ts';

export const REHEARSAL_PARTS_DEFAULTS = {
  /** Of a tile; it is as high as the bands that films are put together from. */
  width: 16,
  /** Share of the pixels for the busiest tiles. */
  busiest: 1 / 3,
} as const;

export interface Part {
  region: Region;
  /** It stands for so many like it. */
  weight: number;
}

interface Place {
  x: number;
  y: number;
}

/**
 * @param fireflies where they are @param highlights pixels that a cure must not dim: the tile with most of them is taken
 * @param pixels to render, about; a smaller region is one part
 */
export function rehearsalParts(fireflies: Place[], highlights: Place[], region: Region, pixels: number): Part[] {
  if (region.width * region.height <= pixels) return [{ region, weight: 1 }];
  const { busiest, width } = REHEARSAL_PARTS_DEFAULTS;
  const columns = Math.ceil(region.width / width);
  const bands = bandsOf(region);
  const tiles = bands.flatMap((band, row) =>
    Array.from({ length: columns }, (_, column) => ({
      region: intersectRegions({ ...band, x: region.x + column * width, width }, region)!,
      // a lattice that is even in both directions (Roberts 2018, from memory)
      turn: (0.7548776662 * column + 0.5698402909 * row) % 1,
    })),
  );
  const [{ height }] = bands;
  const countIn = (places: Place[]) => {
    const counts = new Map<(typeof tiles)[number], number>();
    for (const { x, y } of places) {
      const tile = tiles[Math.floor((y - region.y) / height) * columns + Math.floor((x - region.x) / width)];
      counts.set(tile, (counts.get(tile) ?? 0) + 1);
    }
    return [...counts].sort(([, a], [, b]) => b - a).map(([tile]) => tile);
  };
  const wanted = Math.max(2, Math.round(pixels / (width * height)));
  const busy = new Set([...countIn(highlights).slice(0, 1), ...countIn(fireflies)].slice(0, Math.max(1, Math.round(busiest * wanted)))); // prettier-ignore
  const rest = tiles.filter((tile) => !busy.has(tile)).sort((a, b) => a.turn - b.turn);
  const spread = rest.slice(0, Math.max(1, wanted - busy.size));
  const area = (of: typeof tiles) => of.reduce((sum, tile) => sum + tile.region.width * tile.region.height, 0);
  const weight = area(rest) / area(spread);
  return [
    ...[...busy].map((tile) => ({ region: tile.region, weight: 1 })),
    ...spread.map((tile) => ({ region: tile.region, weight })),
  ];
}
