// Noise as it is reported against that of many seeds, on scenes made by chance.
import { COMPONENTS, FILM, frameOf, measuredSum, measureNoise, renderHere } from '@dusting/core/render';
import { quantile } from '@dusting/core/math';
import { compileTest } from '../packages/core/test/scenes.ts';
import { randomScene } from './randomScenes.ts';

const SCENES = 10;
const SIZE = { width: 32, height: 24 };
/** Samples of a pixel, and seeds: fewer where they take long. */
const ROUNDS = [[4, 50], [16, 50], [64, 50], [256, 25]]; // prettier-ignore
const SHOWN = ['beauty', 'directDiffuse', 'indirectDiffuse', 'transmission'] as const;

/** Reported over true standard error of one scene: of the frame, and of the median pixel. */
export function noiseAgainstSeeds(
  scene: number,
  samples: number,
  seeds: number,
): Record<string, { summed: number; median: number; classical: number }> {
  const { compiled, settings } = compileTest(randomScene(scene, SIZE.width, SIZE.height));
  const pixels = SIZE.width * SIZE.height;
  const make = () => SHOWN.map(() => new Float64Array(pixels));
  const [sums, squares, reported, classical] = [make(), make(), make(), make()];
  for (let seed = 1; seed <= seeds; seed++) {
    const film = renderHere(compiled, { ...settings, pixelSamples: samples, seed }, frameOf(settings));
    SHOWN.forEach((name, k) => {
      const measured = name === 'beauty' ? 0 : 1 + COMPONENTS.indexOf(name);
      const noise = measureNoise(film, measured);
      for (let i = 0; i < pixels; i++) {
        const y = measuredSum(film.data, i * FILM.stride, measured) / film.data[i * FILM.stride + FILM.samples];
        sums[k][i] += y;
        squares[k][i] += y * y;
        reported[k][i] += noise.variance[i] / seeds;
        classical[k][i] += noise.classical[i] / seeds;
      }
    });
  }
  const total = (values: Float64Array) => values.reduce((sum, v) => sum + v, 0);
  return Object.fromEntries(
    SHOWN.map((name, k) => {
      const true_ = squares[k].map((s, i) => Math.max(0, s - sums[k][i] ** 2 / seeds) / (seeds - 1));
      const mean = total(true_) / pixels;
      const ratios = [...true_]
        .map((v, i) => (v > 1e-3 * mean ? Math.sqrt(reported[k][i] / v) : NaN))
        .filter((r) => r > 0);
      return [
        name,
        { summed: Math.sqrt(total(reported[k]) / total(true_)), median: quantile(ratios, 0.5), classical: Math.sqrt(total(classical[k]) / total(true_)) }, // prettier-ignore
      ];
    }),
  );
}

export async function benchNoise(): Promise<void> {
  for (const [samples, seeds] of ROUNDS) {
    const scenes = Array.from({ length: SCENES }, (_, scene) => noiseAgainstSeeds(scene, samples, seeds));
    for (const name of SHOWN) {
      const of = (key: 'summed' | 'median' | 'classical') => scenes.map((s) => s[name][key]).filter((v) => v > 0 && v < Infinity); // prettier-ignore
      const range = (values: number[]) => `${Math.min(...values).toFixed(2)} to ${Math.max(...values).toFixed(2)} (median ${quantile(values, 0.5).toFixed(2)})`; // prettier-ignore
      console.log(
        `| ${samples} | ${name} | ${range(of('classical'))} | ${range(of('summed'))} | ${range(of('median'))} |`,
      );
    }
  }
}
