import { intersectRegions, findChannel, pixelNoise, type Picture, type Region } from '../../image/index.ts';
import { COMPONENTS, DEPTH_LIMITS, layerLuminance, RAY_TYPES, SPLIT_LOBES } from '../../render/index.ts';
import { InputError } from '../../formats/index.ts';

/** What the film says about the pixels of one region, row by row. Variances are of the mean's luminance. */
export interface NoiseData {
  region: Region;
  luminance: Float32Array;
  beauty: Float32Array;
  /** One array for each of COMPONENTS. */
  components: Float32Array[];
  /** Part of the variance of each of SPLIT_LOBES that their own splits caused; zeros where it was not measured. */
  splits: Float32Array[];
  /** Square of L* over luminance, at each pixel's own noise: turns a variance into visible noise squared. */
  weight: Float32Array;
  seconds: Float32Array;
  rays: Float32Array;
  branchRays: Float32Array[];
  /** Rays of probes beyond each of DEPTH_LIMITS. */
  probeRays: Float32Array[];
}

/** Whether a picture carries the standard error of its pixels. */
export const hasStatistics = (picture: Picture) => findChannel(picture, 'error', 'Y') !== undefined;

/** @throws InputError where the region lies outside the picture or the picture has no statistics */
export function readNoiseData(picture: Picture, region: Region, stops: number): NoiseData {
  const inside = intersectRegions(region, picture.dataWindow);
  if (!inside) throw new InputError('the region lies outside the picture');
  const whole = layerLuminance(picture, 'beauty');
  const error = findChannel(picture, 'error', 'Y')?.data;
  if (!whole || !error)
    throw new InputError(
      'this picture carries no statistics (no layer "error"): render a proof of the shot, and diagnose that',
    );
  const { dataWindow, width } = picture;
  const crop = (source: Float32Array | undefined, square = false): Float32Array => {
    const out = new Float32Array(inside.width * inside.height);
    if (!source) return out;
    for (let y = 0; y < inside.height; y++)
      for (let x = 0; x < inside.width; x++) {
        const value = source[(y + inside.y - dataWindow.y) * width + x + inside.x - dataWindow.x];
        out[y * inside.width + x] = square ? value * value : value;
      }
    return out;
  };
  const channel = (layer: string, name: string) => findChannel(picture, layer, name)?.data;
  const luminance = crop(whole);
  const beauty = crop(error, true);
  const weight = luminance.map((y, i) => {
    const se = Math.sqrt(beauty[i]);
    return se > 0 ? (pixelNoise(y, se, stops) / se) ** 2 : 0;
  });
  const rays = crop(channel('rays', 'camera'));
  for (const type of RAY_TYPES.slice(1)) crop(channel('rays', type)).forEach((n, i) => (rays[i] += n));
  return {
    region: inside,
    luminance,
    beauty,
    components: COMPONENTS.map((c) => crop(channel(`error.${c}`, 'Y'), true)),
    splits: SPLIT_LOBES.map((lobe) => crop(channel('splitError', lobe), true)),
    weight,
    seconds: crop(channel('time', 'ms')).map((ms) => ms / 1000),
    rays,
    branchRays: SPLIT_LOBES.map((lobe) => crop(channel('branchRays', lobe))),
    probeRays: DEPTH_LIMITS.map((limit) => crop(channel('probeRays', limit))),
  };
}
