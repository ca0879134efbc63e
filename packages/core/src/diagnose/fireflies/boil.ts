// Where a denoiser would boil: the look without noise of the same picture with two sets of points, held against each other.
import { lightness } from '../../color/index.ts';
import { cropPicture, type Picture, type Region } from '../../image/index.ts';
import { DENOISED, denoisedLook, layerLuminance } from '../../render/index.ts';
import type { MapEvidence } from '../evidence.ts';
import { tileMap } from '../tileMap.ts';
import { words } from './words.ts';

export interface Boil {
  /** Of the pixels, 0..1, that differ by more than the limit. */
  share: number;
  map: MapEvidence;
}

/**
 * @param other the part rendered with another seed
 * @param noise limit in L* at the shadow check
 */
export function boilOf(picture: Picture, other: Picture, part: Region, noise: { limit: number; stops: number }): Boil {
  const [a, b] = [picture, other].map((of) => layerLuminance(denoisedLook(cropPicture(of, part)!), DENOISED)!);
  const gain = 2 ** noise.stops;
  const apart = a.map((v, i) => Math.abs(lightness(gain * v) - lightness(gain * b[i])));
  const shown = {
    id: 'boil',
    title: words.boil,
    source: words.boilSource(part.width, part.height),
    unit: 'L*' as const,
  };
  return {
    share: apart.reduce((n, v) => n + (v > noise.limit ? 1 : 0), 0) / apart.length,
    map: tileMap(part, shown, (pixels) => ({ value: pixels.reduce((sum, i) => sum + apart[i], 0) / pixels.length, leading: -1 })), // prettier-ignore
  };
}
