import type { HitSteps } from './hitSketch.ts';

/**
 * What a render keeps beside its film where it is asked to: light by how bright it is, or the whole account with rays and light
 * by the events of their paths (pathTallies.ts); or hit distances of the occlusion rays, for each pixel (hitSketch.ts). The
 * first costs next to no time, the others some (bench/README.md).
 */
export type FilmExtra = 'brightness' | 'paths' | HitSteps;

/** The steps of hit distances that are asked for, where they are. */
export const hitSteps = (extras: readonly FilmExtra[]): HitSteps | undefined =>
  extras.find((extra) => typeof extra === 'object');

export const wantsTallies = (extras: readonly FilmExtra[]): boolean =>
  extras.some((extra) => typeof extra === 'string');
