// Cochran, Sampling Techniques, 1977, 10.3: variance of a two-stage mean = between / n + within / (n m).
import { expect } from 'chai';
import { noisePower, predictNoise, predictSeconds, readNoiseData, regionNoise } from '@dusting/core/predict';
import type { Picture } from '@dusting/core/image';
import { hashUnit } from '@dusting/core/math';
import { COMPONENTS } from '@dusting/core/render';

const side = 32;
const flat = (value: number) => new Float32Array(side * side).fill(value);
const frame = { x: 0, y: 0, width: side, height: side };
/** A proof by hand: grey, with a transmission variance of `between` + `within`, nothing else. */
function proof(between: number, within: number): Picture {
  const variance = between + within;
  const channel = (name: string, value: number) => ({ name, type: 'float' as const, data: flat(value) });
  return {
    width: side,
    height: side,
    dataWindow: frame,
    displayWindow: frame,
    metadata: {},
    channels: [
      ...['R', 'G', 'B'].map((c) => channel(c, 0.2)),
      channel('error.Y', Math.sqrt(variance)),
      ...COMPONENTS.map((c) => channel(`error.${c}.Y`, c === 'transmission' ? Math.sqrt(variance) : 0)),
      channel('splits.transmission', Math.sqrt(within)),
      channel('time.ms', 2),
      channel('rays.camera', 10),
      channel('rays.transmission', 30),
      channel('branchRays.transmission', 30),
    ],
  };
}
const counts = { diffuseSamples: 1, specularSamples: 1, transmissionSamples: 2, volumeSamples: 1, lightSamples: 1 };

describe('predicted noise', () => {
  const data = readNoiseData(proof(1e-6, 3e-6), frame, 1);
  const now = regionNoise(data, data.beauty, 1);
  const ratio = (change: Parameters<typeof predictNoise>[1]) => predictNoise(data, change, 1, counts).value / now;

  it('pixel samples divide all of the variance, splits the part within them', () => {
    expect(ratio({ pixels: 4, splits: {} })).to.be.closeTo(Math.sqrt(1 / 4), 1e-3);
    expect(ratio({ pixels: 1, splits: { transmission: 3 } })).to.be.closeTo(Math.sqrt((1 + 3 / 3) / 4), 1e-3);
    expect(ratio({ pixels: 2, splits: { transmission: 3 } })).to.be.closeTo(Math.sqrt((1 + 1) / 8), 1e-3);
    expect(
      ratio({ pixels: 1, splits: { transmission: 1e6 } }),
      'what is left is between the pixel samples',
    ).to.be.closeTo(0.5, 1e-3);
    expect(ratio({ pixels: 1, splits: { diffuse: 8 } }), 'a component without noise').to.be.within(0.99, 1.01);
  });

  it('one split cannot be taken apart: the range goes from all to nothing', () => {
    const range = predictNoise(data, { pixels: 1, splits: { transmission: 4 } }, 1, {
      ...counts,
      transmissionSamples: 1,
    });
    expect(range.low / now).to.be.closeTo(0.5, 1e-3);
    expect(range.high / now).to.be.closeTo(1, 1e-3);
    expect(range.value).to.be.within(range.low, range.high);
  });

  it('time follows the rays that are traced more often', () => {
    expect(predictSeconds(data, 8, { pixels: 3, splits: {} }).value).to.be.closeTo(24, 1e-6);
    expect(predictSeconds(data, 8, { pixels: 1, splits: { transmission: 2 } }).value).to.be.closeTo(
      8 * (1 + 30 / 40),
      1e-6,
    );
  });
});

describe('noise from few samples', () => {
  const STOPS = 1;
  const pixels = 64 * 64;
  /** A grey of which a part comes from rare bright samples, as light through glass does; independent ones. */
  function film(samples: number, seed: number) {
    const early = samples >> 2;
    const sums = { y: new Float64Array(pixels), y2: new Float64Array(pixels), early: new Float64Array(pixels), early2: new Float64Array(pixels) }; // prettier-ignore
    for (let i = 0; i < pixels; i++)
      for (let s = 0; s < samples; s++) {
        const y = 0.002 + (hashUnit((seed * pixels + i) * 64 + s) < 0.02 ? 0.5 : 0);
        sums.y[i] += y;
        sums.y2[i] += y * y;
        if (s < early) {
          sums.early[i] += y;
          sums.early2[i] += y * y;
        }
      }
    const error = (sum: Float64Array, squares: Float64Array, n: number) => Float32Array.from(sum, (v, i) => Math.sqrt(Math.max(0, squares[i] - (v * v) / n) / (n * (n - 1)))); // prettier-ignore
    const mean = (sum: Float64Array, n: number) => Float32Array.from(sum, (v) => v / n);
    const channel = (name: string, data: Float32Array) => ({ name, type: 'float' as const, data });
    const window = { x: 0, y: 0, width: 64, height: 64 };
    const picture: Picture = {
      width: 64,
      height: 64,
      dataWindow: window,
      displayWindow: window,
      metadata: {},
      channels: [
        ...['R', 'G', 'B'].map((c) => channel(c, mean(sums.y, samples))),
        channel('error.Y', error(sums.y, sums.y2, samples)),
        channel('early.mean', mean(sums.early, early)),
        channel('early.error', error(sums.early, sums.early2, early)),
        channel('samples.N', new Float32Array(pixels).fill(samples)),
      ],
    };
    const data = readNoiseData(picture, window, STOPS);
    return { data, noise: regionNoise(data, data.beauty, STOPS) };
  }

  it('falls slower than with their root; by how much is read from the first quarter of them', () => {
    const [few, many] = [film(16, 1), film(64, 2)];
    expect(many.noise / few.noise, 'not half').to.be.above(0.6);
    const told = predictNoise(few.data, { pixels: 4, splits: {} }, STOPS, counts).value;
    expect(told / many.noise).to.be.within(0.85, 1.15);
    const plain = predictNoise({ ...few.data, power: 1 }, { pixels: 4, splits: {} }, STOPS, counts).value;
    expect(plain / many.noise).to.be.below(0.85);
  });

  it('where the noise is small beside the light nothing is bent', () => {
    expect(noisePower(1, 2, 2, 16)).to.equal(1);
    expect(noisePower(1, 2.1, 2, 16), 'noisier than foretold').to.equal(1);
    expect(noisePower(1, 1.5, 2, 16)).to.be.closeTo(Math.log(1.5) / Math.log(2), 1e-12);
    expect(noisePower(0, 0, 0, 16)).to.equal(1);
    expect(noisePower(1, 1.01, 2, 9)).to.equal(0.5);
    expect(noisePower(1, 1.01, 2, 64), 'less beyond many samples').to.equal(0.875);
  });
});
