// The layer multiplied into the picture: what that takes from it, and whether traced indirect light has darkened corners already.
import { findChannel, OCCLUSION_COMPOSITE_DEFAULTS, occlusionFactor, planeSum, takenByOcclusion, cropPlane, type Picture, type Region } from '../../image/index.ts'; // prettier-ignore
import { layerLuminance } from '../../render/index.ts';
import type { PicturesEvidence } from '../evidence.ts';
import { packPicture } from '../packPicture.ts';
import { TRACED } from './inSurfaces.ts';
import { occlusionPlane, surfacePixels } from './occlusionPlane.ts';
import { words } from './words.ts';

const HALF = { ...OCCLUSION_COMPOSITE_DEFAULTS, strength: 0.5 };

export interface DoubleDarkening {
  /** L* that the layer takes at full strength, on average and from the darkest tenth. */
  mean: number;
  darkest: number;
  /** Traced indirect light has darkened corners already. */
  isTwice: boolean;
  sentences: string[];
  pictures: PicturesEvidence;
}

/** Null where the picture has no layer, or no colours to multiply it into. */
export function doubleDarkening(picture: Picture, region: Region): DoubleDarkening | null {
  const open = occlusionPlane(picture, region);
  const planes = [...'RGB'].map((c) => findChannel(picture, 'beauty', c)?.data);
  if (!open || planes.some((plane) => !plane)) return null;
  const rgb = planes.map((plane) => cropPlane(picture, plane!, region));
  const shows = surfacePixels(picture, region);
  const { darkest, mean } = takenByOcclusion(rgb, open, OCCLUSION_COMPOSITE_DEFAULTS, shows);
  const light = (layer: string) => planeSum(picture, layerLuminance(picture, layer) ?? undefined, region);
  // of the light of the region, what came from matt surface to matt surface
  const indirect = light('indirectDiffuse') / Math.max(1e-12, light('beauty'));
  const composite = (of: typeof HALF) => {
    const own = { ...picture, dataWindow: region, width: region.width, height: region.height };
    const channels = [...'RGB'].map((c, k) => ({ ...findChannel(picture, 'beauty', c)!, data: rgb[k].map((v, i) => (shows(i) ? v * occlusionFactor(open[i], of, of.color[k]) : v)) })); // prettier-ignore
    return packPicture({ ...own, channels }, region);
  };
  return {
    mean,
    darkest,
    isTwice: indirect >= TRACED,
    sentences: [words.multiplied(mean, darkest), ...(indirect >= TRACED ? [words.twice(indirect)] : [])], // prettier-ignore
    pictures: {
      type: 'pictures',
      id: 'composite',
      title: words.composite,
      source: words.compositeSource,
      pictures: [
        { label: words.asRendered, ...packPicture(picture, region) },
        { label: words.halfStrength, ...composite(HALF) },
        { label: words.fullStrength, ...composite(OCCLUSION_COMPOSITE_DEFAULTS) },
      ],
    },
  };
}
