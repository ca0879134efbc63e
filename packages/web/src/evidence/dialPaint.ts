import { linearToSrgb } from '@dusting/core/color';
import { occlusionFactor, OCCLUSION_COMPOSITE_DEFAULTS } from '@dusting/core/image';

/** Steps of openness in the table: a look into a table is ten times as fast as the curves. */
const STEPS = 4096;
/** A pixel that is less open counts as black. */
const BLACK = 0.02;

export interface PaintedLayer {
  image: ImageData;
  /** Of all pixels, 0..1, and the share of those that are black. */
  mean: number;
  black: number;
}

/** A layer as grays. @param contrast exponent, as where it is multiplied in */
export function paintLayer(layer: Float32Array, width: number, height: number, contrast: number): PaintedLayer {
  const factors = Float32Array.from({ length: STEPS + 1 }, (_, i) => occlusionFactor(i / STEPS, { ...OCCLUSION_COMPOSITE_DEFAULTS, contrast }, 0)); // prettier-ignore
  // bytes of a pixel at once, opaque and gray, whatever their order
  const grays = Uint32Array.from(factors, (v) => 0xff000000 + 0x010101 * Math.round(255 * linearToSrgb(v)));
  const image = new ImageData(width, height);
  const pixels = new Uint32Array(image.data.buffer);
  let [sum, black] = [0, 0];
  for (let i = 0; i < layer.length; i++) {
    const step = (layer[i] * STEPS + 0.5) | 0;
    pixels[i] = grays[step];
    sum += factors[step];
    if (factors[step] < BLACK) black++;
  }
  return { image, mean: sum / layer.length, black: black / layer.length };
}
