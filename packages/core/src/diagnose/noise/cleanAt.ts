import { regionNoise, type NoiseData } from '../../predict/index.ts';

/** Stops by which shadows are lifted as a habit. */
export const LIFTS = [0, 1, 2];

/** Noise in L* under each lift, and whether it is within the limit there. */
export function cleanAt(data: NoiseData, limit: number): { stops: number; noise: number; clean: boolean }[] {
  return LIFTS.map((stops) => {
    const noise = regionNoise(data, data.beauty, stops);
    return { stops, noise, clean: noise <= limit };
  });
}
