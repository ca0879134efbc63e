// The look without noise: how far it is from a reference, against the picture that it was made of, and what it takes.
import { lightness, luminance } from '@dusting/core/color';
import { denoise, DENOISE_DEFAULTS, findChannel, type Picture } from '@dusting/core/image';
import { compileScene, denoisedLook, filmNames, frameOf, proofPicture, renderHere } from '@dusting/core/render';
import { importShot, patchShot, type RenderSettings, type ShotDocument } from '@dusting/core/scene';
import { buildLh010, buildLh020 } from '@dusting/demo';
import { line } from './measure.ts';

const SIZE = { width: 120, height: 68 };
const SAMPLES = 16;
const REFERENCE = 128;
const LARGE = { width: 1920, height: 1080 };

export async function benchDenoise(): Promise<void> {
  for (const [name, build] of [
    ['LH-010', buildLh010],
    ['LH-020', buildLh020],
  ] as const) {
    const { document, blobs } = await importShot(await build());
    const render = (shot: ShotDocument, pixelSamples: number, seed: number) => {
      const settings: RenderSettings = { ...shot.final, ...SIZE, pixelSamples, seed };
      const scene = compileScene(shot, settings, (id) => blobs.get(id)!.bytes);
      return proofPicture(renderHere(scene, settings, frameOf(settings)), settings, filmNames(shot));
    };
    // the lantern with its cure on: without it nothing but fireflies lights the wall
    const shot = name === 'LH-020' ? patchShot(document, [{ op: 'replace', path: '/final/clearShadows', value: 'tinted' }]) : document; // prettier-ignore
    const [noisy, reference] = [render(shot, SAMPLES, 1), render(shot, REFERENCE, 99)];
    const wanted = lightnesses(reference);
    const error = (picture: Picture) => Math.sqrt(lightnesses(picture).reduce((sum, v, i) => sum + (v - wanted[i]) ** 2, 0) / wanted.length); // prettier-ignore
    const look = denoisedLook(noisy);
    const [before, after] = [error(noisy), error(look)];
    line(`${name}, ${SAMPLES} samples: error of the look : of the picture`, after / before, `${after.toFixed(2)} of ${before.toFixed(2)} L*, root of the mean square`); // prettier-ignore
    const [seed, other] = [lightnesses(look), lightnesses(denoisedLook(render(shot, SAMPLES, 2)))];
    const boils = seed.filter((v, i) => Math.abs(v - other[i]) > document.noise.limit).length / seed.length;
    line(`${name}: pixels that differ between two seeds by more than the limit`, boils, `${document.noise.limit} L*`);
    if (name === 'LH-020') continue;
    const started = performance.now();
    denoisedLook(noisy);
    const small = performance.now() - started;
    line(`${SIZE.width} x ${SIZE.height} : 100 ms`, small / 100, `${small.toFixed(0)} ms`);
    const many = LARGE.width * LARGE.height;
    const plane = (value: number) => Float32Array.from({ length: many }, (_, i) => value * (1 + 0.1 * Math.sin(i)));
    const three = (value: number): [Float32Array, Float32Array, Float32Array] => [plane(value), plane(value), plane(value)]; // prettier-ignore
    const large = { ...LARGE, rgb: three(0.4), error: plane(0.05), albedo: three(0.5), normal: three(0.577), depth: plane(3) }; // prettier-ignore
    const begun = performance.now();
    denoise(large, DENOISE_DEFAULTS);
    const took = performance.now() - begun;
    line(`${LARGE.width} x ${LARGE.height} : that by its pixels`, took / ((small * many) / (SIZE.width * SIZE.height)), `${(took / 1000).toFixed(1)} s`); // prettier-ignore
  }
}

function lightnesses(picture: Picture): number[] {
  const layer = findChannel(picture, 'denoised', 'R') ? 'denoised' : 'beauty';
  const [r, g, b] = ['R', 'G', 'B'].map((c) => findChannel(picture, layer, c)!.data);
  return Array.from(r, (_, i) => lightness(Math.max(0, luminance(r[i], g[i], b[i]))));
}
