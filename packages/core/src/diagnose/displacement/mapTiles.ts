// Tiles of a map against each other: of another size they are filtered differently at their common border, and of another encoding
// a step stands there.
import { srgbToLinear } from '../../color/index.ts';
import type { MapReader } from '../../geometry/index.ts';
import { quantile } from '../../math/index.ts';
import { placementOf } from '../../shade/index.ts';
import type { Moved } from './displacedObject.ts';

export interface MapTiles {
  /** Of the same size, most of them first; one where all are alike. */
  sizes: { width: number; height: number; numbers: number[] }[];
  /** Tiles that rest where the decoding of a color would put the others, or the other way round. */
  recoded: { numbers: number[]; rest: number; others: number } | null;
}

/** Looks at each tile, each way. */
const LOOKS = 48;
/** Tiles rest alike within this, and a decoded one lies as near to where it would be. No source. */
const ALIKE = 0.04;

/** @returns null where the map has no tiles, or one */
export function mapTiles({ texture }: Moved, read: MapReader): MapTiles | null {
  const { tiles } = texture;
  if (tiles.length < 2) return null;
  const bySize = new Map<string, MapTiles['sizes'][number]>();
  for (const { height, number, width } of tiles) {
    const key = `${width} ${height}`;
    const size = bySize.get(key) ?? { width, height, numbers: [] };
    size.numbers.push(number);
    bySize.set(key, size);
  }
  const rests = tiles.map(({ number }) => restOf(texture, number, read));
  const others = quantile(rests, 0.5);
  const isAlike = (a: number, b: number) => Math.abs(a - b) <= ALIKE;
  const decoded = tiles.filter((_, i) => !isAlike(rests[i], others) && (isAlike(rests[i], srgbToLinear(others)) || isAlike(srgbToLinear(rests[i]), others))); // prettier-ignore
  return {
    sizes: [...bySize.values()].sort((a, b) => b.numbers.length - a.numbers.length),
    recoded: decoded.length > 0 ? { numbers: decoded.map(({ number }) => number), rest: rests[tiles.indexOf(decoded[0])], others } : null, // prettier-ignore
  };
}

/** The median of a tile. */
function restOf(texture: Moved['texture'], number: number, read: MapReader): number {
  const p = placementOf(texture);
  const det = p[0] * p[4] - p[1] * p[3];
  const [left, top] = [(number - 1001) % 10, -Math.floor((number - 1001) / 10)];
  const rgba = new Float64Array(4);
  const values = Float64Array.from({ length: LOOKS * LOOKS }, (_, i) => {
    const [s, t] = [((i % LOOKS) + 0.5) / LOOKS + left - p[2], (Math.floor(i / LOOKS) + 0.5) / LOOKS + top - p[5]];
    read((p[4] * s - p[1] * t) / det, (p[0] * t - p[3] * s) / det, 0, rgba);
    return rgba[0];
  });
  return quantile(values, 0.5);
}
