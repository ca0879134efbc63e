// The noise of a region of a frame that carries no statistics, estimated from its pixels.
import { InputError } from '../../formats/index.ts';
import {
  cropPlane,
  intersectRegions,
  noiseFromPicture,
  visibleNoise,
  type Picture,
  type Region,
} from '../../image/index.ts';
import { layerLuminance } from '../../render/index.ts';
import type { Estimate } from '../units.ts';

/**
 * What the measured noise was of the one estimated from the picture, at least and at most, over nine parts of LH-010 at two
 * sample counts (noiseFromPicture.ts); where the mean is more than that, edges and texture are in it.
 */
const SURE_WITHIN = { least: 0.73, most: 1.2 };

export interface NoiseEstimate extends Estimate {
  region: Region;
  luminance: Float32Array;
  /** Of each pixel of the region, by the median. */
  variance: Float32Array;
}

/** @returns L* at the shadow check @throws InputError where the region lies outside the picture, or that has no colours */
export function estimateNoise(picture: Picture, part: Region, stops: number): NoiseEstimate {
  const region = intersectRegions(part, picture.dataWindow);
  if (!region) throw new InputError('the region lies outside the picture');
  const whole = layerLuminance(picture, 'beauty');
  if (!whole) throw new InputError('this picture has no colours');
  const { variance, most } = varianceOf(picture, whole, region);
  const luminance = cropPlane(picture, whole, region);
  const inside = { ...region, x: 0, y: 0 };
  const seen = (v: Float32Array) => visibleNoise(luminance, v, region.width, inside, { stops });
  const value = seen(variance);
  return {
    region,
    luminance,
    variance,
    value,
    low: value * SURE_WITHIN.least,
    high: Math.max(value * SURE_WITHIN.most, seen(most)),
  };
}

/** Of a plane of the picture, over a region of the frame. */
export function varianceOf({ dataWindow, width, height }: Picture, plane: Float32Array, region: Region) {
  return noiseFromPicture(plane, width, height, {
    ...region,
    x: region.x - dataWindow.x,
    y: region.y - dataWindow.y,
  });
}
