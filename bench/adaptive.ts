// What adaptive sampling does to the mean and what it saves, beside even sampling with the same seeds.
import { FILM, frameOf, lightnessSlope, renderHere } from '@dusting/core/render';
import { luminance } from '@dusting/core/color';
import { compileTest, sphere, square, type TestScene } from '../packages/core/test/scenes.ts';
import { randomScene } from './randomScenes.ts';
import { NO_CLAMP } from '@dusting/core/scene';

const SCENES = 10;
const SEEDS = 50;
const SIZE = { width: 32, height: 32 };

/** A caustic below a ball of clear glass: light that few samples meet, and that carries much of the floor's. */
const CAUSTIC: TestScene = {
  objects: [
    { mesh: square(8), surface: { base_color: [0.6, 0.6, 0.6], specular_weight: 0 } },
    {
      mesh: sphere(0.5, 32),
      surface: { transmission_weight: 1, base_color: [1, 1, 1], specular_roughness: 0 },
      transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0.9],
    },
  ],
  lights: [{ kind: 'sphere', radius: 0.3, strength: 60, transform: [1, 0, 0, 0.5, 0, 1, 0, 0.3, 0, 0, 1, 4] }],
  view: 2,
  settings: { ...SIZE, depth: { diffuse: 2, specular: 4, transmission: 8, volume: 0, total: 12 } },
};

interface Outcome {
  /** Mean luminance of the frame, adaptive over even, less 1; and the standard error of that, from seeds in pairs. */
  bias: number;
  error: number;
  /** Samples of adaptive sampling over those of even sampling. */
  samples: number;
  /** Squared error in L* times samples: even over adaptive. */
  gain: number;
}

export function adaptiveAgainstEven(scene: TestScene, limit: number, most: number, seeds: number): Outcome {
  const { compiled, settings } = compileTest(scene);
  const pixels = settings.width * settings.height;
  const render = (seed: number, adaptive: number) => {
    const chosen = { ...settings, pixelSamples: most, seed, adaptive: { ...settings.adaptive, limit: adaptive } };
    const { data } = renderHere(compiled, { ...chosen, clamp: NO_CLAMP }, frameOf(settings));
    const picture = new Float64Array(pixels);
    let samples = 0;
    for (let i = 0; i < pixels; i++) {
      const at = i * FILM.stride;
      const n = data[at + FILM.samples];
      picture[i] = luminance(data[at] / n, data[at + 1] / n, data[at + 2] / n);
      samples += n;
    }
    return { picture, samples, mean: picture.reduce((sum, y) => sum + y, 0) / pixels };
  };
  const runs = Array.from({ length: seeds }, (_, i) => ({ even: render(i + 1, 0), adaptive: render(i + 1, limit) }));
  const truth = new Float64Array(pixels);
  for (const { even } of runs) even.picture.forEach((y, i) => (truth[i] += y / seeds));
  const evenMean = runs.reduce((sum, { even }) => sum + even.mean, 0) / seeds;
  const differences = runs.map(({ even, adaptive }) => (adaptive.mean - even.mean) / evenMean);
  const bias = differences.reduce((sum, d) => sum + d, 0) / seeds;
  const cost = (of: 'even' | 'adaptive') => {
    let squared = 0;
    let samples = 0;
    for (const run of runs) {
      run[of].picture.forEach((y, i) => (squared += ((y - truth[i]) * lightnessSlope(truth[i])) ** 2));
      samples += run[of].samples;
    }
    return { samples, product: squared * samples };
  };
  const [even, adaptive] = [cost('even'), cost('adaptive')];
  return {
    bias,
    error: Math.sqrt(differences.reduce((sum, d) => sum + (d - bias) ** 2, 0) / (seeds - 1) / seeds),
    samples: adaptive.samples / even.samples,
    gain: even.product / adaptive.product,
  };
}

export async function benchAdaptive(): Promise<void> {
  const percent = (value: number) => `${(100 * value).toFixed(2)} %`;
  const row = (name: string, { bias, error, samples, gain }: Outcome) =>
    console.log(`| ${name} | ${percent(bias)} ± ${percent(error)} | ${samples.toFixed(2)} | ${gain.toFixed(2)} |`);
  const outcomes = Array.from({ length: SCENES }, (_, scene) => {
    const outcome = adaptiveAgainstEven(randomScene(scene, SIZE.width, SIZE.height), 2, 64, SEEDS);
    row(`scene ${scene}, limit 2 L*, up to 64`, outcome);
    return outcome;
  });
  const mean = outcomes.reduce((sum, { bias }) => sum + bias / SCENES, 0);
  const error = Math.sqrt(outcomes.reduce((sum, o) => sum + (o.error / SCENES) ** 2, 0));
  console.log(`| mean of the ten | ${percent(mean)} ± ${percent(error)} | | |`);
  row('caustic, limit 2 L*, up to 256', adaptiveAgainstEven(CAUSTIC, 2, 256, SEEDS));
}
