import { denoiseSteps, findChannel, lastOf, type NoisyPicture, type Picture } from '../image/index.ts';
import { InputError } from '../formats/index.ts';

/** Name of the layer that is computed for looking, and layers that it is computed from. */
export const DENOISED = 'denoised';
export const DENOISED_FROM = /^(beauty|emission|background|albedo|normal|depth|error|spread)$/;

/** Whether a picture says how noisy its pixels are. @param names of its channels */
export const canDenoise = (names: string[]) => ['R', 'G', 'B', 'error.Y'].every((name) => names.includes(name));

/**
 * The beauty of a picture without noise, for looking alone, as channels of the layer DENOISED.
 * @throws InputError where the picture does not say how noisy its pixels are
 */
export function denoisedLook(picture: Picture): Picture {
  return lastOf(denoisedLookSteps(picture));
}

/** The same step by step, as denoiseSteps(). @throws InputError at the first step */
export function* denoisedLookSteps(picture: Picture): Generator<number, Picture> {
  const { height, width } = picture;
  const plane = (layer: string, channel: string) => findChannel(picture, layer, channel)?.data;
  const three = (layer: string, channels: string) => {
    const found = [...channels].map((c) => plane(layer, c));
    return found.every((p) => p !== undefined) ? (found as unknown as NoisyPicture['rgb']) : undefined;
  };
  const rgb = three('beauty', 'RGB');
  const error = plane('error', 'Y');
  if (!rgb || !error) throw new InputError('this picture carries no statistics (no layer "error"): a look without noise needs them'); // prettier-ignore
  const [emission, background] = [three('emission', 'RGB'), three('background', 'RGB')];
  const seen = emission && background ? emission.map((plane, k) => plane.map((v, i) => v + background[k][i])) as unknown as NoisyPicture['rgb'] : (emission ?? background); // prettier-ignore
  const found = yield* denoiseSteps({ width, height, rgb, seen, error, spread: plane('spread', 'Y'), albedo: three('albedo', 'RGB'), normal: three('normal', 'XYZ'), depth: plane('depth', 'Z') }); // prettier-ignore
  return {
    ...picture,
    channels: [...'RGB'].map((c, k) => ({ name: `${DENOISED}.${c}`, type: 'half', data: found[k] })),
  };
}
