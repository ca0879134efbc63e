import { findChannel, planeSum, type Picture, type Region } from '../../image/index.ts';
import { layerLuminance } from '../../render/index.ts';

/** Mean luminance of a region and its standard error; 0 where the picture does not carry errors. */
export function meanOf(picture: Picture, region: Region): { value: number; error: number } {
  const pixels = region.width * region.height;
  const errors = findChannel(picture, 'spread', 'Y')?.data.map((v) => v * v);
  return {
    value: planeSum(picture, layerLuminance(picture, 'beauty') ?? undefined, region) / pixels,
    error: Math.sqrt(planeSum(picture, errors, region)) / pixels,
  };
}
