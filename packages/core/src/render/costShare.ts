import { namesAt, readIdMattes } from '../formats/index.ts';
import { findChannel, type Picture } from '../image/index.ts';

/** Layers that say what pixels cost, with their channel. */
export const COST_LAYERS = { time: 'ms', samples: 'N' } as const;
export type CostLayer = keyof typeof COST_LAYERS;

/** How unevenly pixels cost. */
export interface CostShare {
  /** Of all pixels: milliseconds, or samples. */
  total: number;
  /** Share of the pixels that cost more than DEAR times the mean, and what they take together of the total. */
  pixels: number;
  taken: number;
  /** Surfaces that those pixels show, by what is taken on them, the most expensive first; shares of `taken`. */
  surfaces: { name: string; share: number }[];
}

/** Pixels that cost more than so many times the mean are dear. */
export const DEAR = 2;
const MOST_SURFACES = 4;

/** null where the picture does not carry the layer. */
export function costShare(picture: Picture, layer: CostLayer): CostShare | null {
  const costs = findChannel(picture, layer, COST_LAYERS[layer])?.data;
  if (!costs) return null;
  let total = 0;
  for (const cost of costs) total += cost;
  const from = (DEAR * total) / costs.length;
  const mattes = readIdMattes(picture).find((m) => m.name === 'surfaces');
  const bySurface = new Map<string, number>();
  let pixels = 0;
  let taken = 0;
  costs.forEach((cost, i) => {
    if (!(cost > from)) return;
    pixels++;
    taken += cost;
    for (const { name, share } of mattes ? namesAt(mattes, i) : [])
      bySurface.set(name, (bySurface.get(name) ?? 0) + cost * share);
  });
  const surfaces = [...bySurface]
    .map(([name, cost]) => ({ name, share: cost / taken }))
    .sort((a, b) => b.share - a.share)
    .slice(0, MOST_SURFACES);
  return { total, pixels: pixels / costs.length, taken: total > 0 ? taken / total : 0, surfaces };
}
