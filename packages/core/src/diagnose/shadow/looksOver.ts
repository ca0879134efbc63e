import type { Region } from '../../image/index.ts';

/** Looks of a region at most: what is wrong with it has a size. */
const LOOKS = 2500;

/** Visits pixels evenly over a region. @returns their number */
export function looksOver(region: Region, visit: (x: number, y: number) => void): number {
  const step = Math.ceil(Math.sqrt((region.width * region.height) / LOOKS));
  let looks = 0;
  for (let y = Math.floor(step / 2); y < region.height; y += step)
    for (let x = Math.floor(step / 2); x < region.width; x += step, looks++) visit(region.x + x, region.y + y);
  return looks;
}
