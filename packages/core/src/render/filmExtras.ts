import type { HitSteps } from './hitSketch.ts';

/**
 * What a render keeps beside its film where it is asked to, at the price of some time (bench/README.md): light by the events of
 * its paths and by how bright it is, or rays as well (pathTallies.ts); or hit distances of the occlusion rays, for each pixel
 * (hitSketch.ts).
 */
export type FilmExtra = 'light' | 'paths' | HitSteps;

/** The steps of hit distances that are asked for, where they are. */
export const hitSteps = (extras: readonly FilmExtra[]): HitSteps | undefined =>
  extras.find((extra) => typeof extra === 'object');
