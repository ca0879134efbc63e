// Cochran, Sampling Techniques, 1977, 10.3: variance of a two-stage mean = between / n + within / (n m).
import { expect } from 'chai';
import { predictNoise, predictSeconds, readNoiseData, regionNoise } from '@dusting/core/diagnose';
import type { Picture } from '@dusting/core/image';
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
      channel('splitError.transmission', Math.sqrt(within)),
      channel('time.ms', 2),
      channel('rays.camera', 10),
      channel('rays.transmission', 30),
      channel('branchRays.transmission', 30),
    ],
  };
}
const counts = { diffuseSamples: 1, specularSamples: 1, transmissionSamples: 2, volumeSamples: 1 };

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
