import { MATTE_RANKS, type Film } from './film.ts';

/** Number + 1 of what covers most of a pixel; 0 where nothing does. @param slot first pair of id and samples */
export function largestId(data: Film['data'], slot: number): number {
  let most = slot;
  for (let k = slot; k < slot + 2 * MATTE_RANKS; k += 2) if (data[k + 1] > data[most + 1]) most = k;
  return data[most];
}
