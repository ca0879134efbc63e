import { fromHalf, toHalf } from '@dusting/core/formats';
import { isSurfaceDepth, occlusionFactor, takenByOcclusion, type OcclusionComposite } from '@dusting/core/image';
import type { LayerPicture } from '../api.ts';

/** L* that a layer takes from a picture: on average, and from its darkest tenth. */
export type Taken = ReturnType<typeof takenByOcclusion>;

/** An occlusion layer to be multiplied in: of its channels the first counts. Without a depth all pixels show surfaces. */
export interface Shade {
  open: LayerPicture;
  depth: LayerPicture | null;
  composite: OcclusionComposite;
}

/** Multiplies an occlusion layer into RGB halves, where surfaces are seen. @returns what that takes from them */
export function multiplyOcclusion({ halves }: LayerPicture, { composite, depth, open: layer }: Shade): Taken {
  const first = (of: LayerPicture) => Float32Array.from({ length: halves.length / 3 }, (_, i) => fromHalf(of.halves[i * of.channels.length])); // prettier-ignore
  const [open, away] = [first(layer), depth && first(depth)];
  const shows = (i: number) => !away || isSurfaceDepth(away[i]);
  const rgb = [0, 1, 2].map((k) => open.map((_, i) => fromHalf(halves[i * 3 + k])));
  open.forEach((value, i) => {
    for (let k = 0; k < 3 && shows(i); k++) halves[i * 3 + k] = toHalf(rgb[k][i] * occlusionFactor(value, composite, composite.color[k])); // prettier-ignore
  });
  return takenByOcclusion(rgb, open, composite, shows);
}
