import { luminance } from '../../color/index.ts';
import type { PathTracer } from '../../render/index.ts';
import type { Clamp } from '../limits/clampLimits.ts';
import type { Firefly } from './findFireflies.ts';
import { keptOf, lightOf, type WeighedSample } from './guiltyPath.ts';

/** A sample counts from this share of the excess of its pixel on: others change no firefly into a pixel like its neighbours. */
const COUNTS = 0.02;
/** More samples of a pixel are not looked through; its brightest one stands for them. */
const MOST = 1024;

/**
 * The samples that bring a firefly its light, with all that clamps look at: a clamp takes from each of them.
 * @param clamp of the picture
 * @returns none where the pixel has too many samples, or nothing is known of them
 */
export function brightSamples(tracer: PathTracer, firefly: Firefly, clamp: Clamp): WeighedSample[] {
  const { around, luminance: own, samples, x, y } = firefly;
  if (samples > MOST) return [];
  const data = new Float64Array(tracer.stride);
  const least = COUNTS * samples * (own - around);
  const found: WeighedSample[] = [];
  for (let sample = 0; sample < samples; sample++) {
    data.fill(0, 0, 3);
    tracer.renderPixel(x, y, sample, 1, data, 0, noClock);
    const bright = luminance(data[0], data[1], data[2]);
    if (!(bright > least)) continue;
    const { parts, seen } = lightOf(tracer.replay(x, y, sample));
    const sum = seen + keptOf(parts, clamp);
    if (sum > 0) found.push({ parts, weight: bright / sum });
  }
  return found;
}

const noClock = () => 0;
