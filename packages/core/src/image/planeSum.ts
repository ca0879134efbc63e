import type { Picture, Region } from './picture.ts';

/** Sum of a plane of a picture over a region that lies inside of it; 0 where there is no such plane. */
export function planeSum({ dataWindow, width }: Picture, plane: Float32Array | undefined, region: Region): number {
  if (!plane) return 0;
  let sum = 0;
  for (let y = region.y - dataWindow.y; y < region.y - dataWindow.y + region.height; y++)
    for (let x = region.x - dataWindow.x; x < region.x - dataWindow.x + region.width; x++) sum += plane[y * width + x];
  return sum;
}
