import { unpackPicture } from '../../formats/index.ts';
import type { PackedPicture } from '../../image/index.ts';
import type { FireflyCount } from '../../render/index.ts';
import { FIREFLY_LAYERS } from './fireflyDefaults.ts';
import { findFireflies } from './findFireflies.ts';

/** Of fewer samples, what is bright by chance is noise like any other. Common practice, no source. */
const LEAST_SAMPLES = 8;

/** Fireflies of a whole proof, and the worst of them; undefined where it has too few samples to tell. */
export function countFireflies(picture: PackedPicture, pixelSamples: number): FireflyCount | undefined {
  if (pixelSamples < LEAST_SAMPLES) return undefined;
  const channels = picture.channels.filter(({ name }) => FIREFLY_LAYERS.test(name.includes('.') ? name.slice(0, name.lastIndexOf('.')) : 'beauty')); // prettier-ignore
  const [worst, ...others] = findFireflies(unpackPicture({ ...picture, channels }), picture.dataWindow);
  return worst ? { count: 1 + others.length, worst: { x: worst.x, y: worst.y } } : { count: 0, worst: null };
}
