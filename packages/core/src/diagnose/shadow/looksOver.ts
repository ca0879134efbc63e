import type { Region } from '../../image/index.ts';

/** Looks of a region at most: what is wrong with it has a size. */
const LOOKS = 2500;

/** Pixels from one look to the next. */
export const lookStep = ({ height, width }: Region) => Math.ceil(Math.sqrt((width * height) / LOOKS));
/** Looks of a row. @param step as lookStep says */
export const lookColumns = ({ width }: Region, step: number) => Math.max(1, Math.ceil((width - Math.floor(step / 2)) / step)); // prettier-ignore

/** Visits pixels evenly over a region, row by row. @returns their number */
export function looksOver(region: Region, visit: (x: number, y: number) => void): number {
  const step = lookStep(region);
  let looks = 0;
  for (let y = Math.floor(step / 2); y < region.height; y += step)
    for (let x = Math.floor(step / 2); x < region.width; x += step, looks++) visit(region.x + x, region.y + y);
  return looks;
}
