// Zhang & Wandell 1997 (from memory): the eye's filter. CIE 15: L*.
import { expect } from 'chai';
import { hashUnit } from '@dusting/core/math';
import { EYE_NOISE_GAIN, pixelNoise, visibleNoise } from '@dusting/core/image';

describe('visible noise', () => {
  it('follows the slope of L* for small errors', () => {
    // dL*/dY = 116/3 Y^(-2/3)
    expect(pixelNoise(0.1, 1e-4, 0)).to.be.closeTo((116 / 3) * 0.1 ** (-2 / 3) * 1e-4, 1e-5);
    expect(pixelNoise(5, 0.1, 1), 'far above display white').to.equal(0);
  });
  it('the gain is what the filter does to white noise', () => {
    // filtering a field of independent numbers with the same Gaussian, numerically
    const spread = 0.0283 * 60;
    let sum = 0;
    let squares = 0;
    for (let y = -12; y <= 12; y++)
      for (let x = -12; x <= 12; x++) {
        const w = Math.exp(-(x * x + y * y) / spread ** 2);
        sum += w;
        squares += w * w;
      }
    expect(Math.sqrt(squares) / sum).to.be.closeTo(EYE_NOISE_GAIN, 0.002);
  });
  it('reports the upper quantile of the tiles, of the region alone', () => {
    const luminance = new Float64Array(64 * 64).fill(0.2);
    const variance = Float64Array.from({ length: 64 * 64 }, (_, i) =>
      i % 64 < 32 ? 1e-6 : 1e-4 * (1 + 0.01 * hashUnit(i)),
    );
    const left = visibleNoise(luminance, variance, 64, { x: 0, y: 0, width: 32, height: 64 });
    const right = visibleNoise(luminance, variance, 64, { x: 32, y: 0, width: 32, height: 64 });
    expect(right / left).to.be.closeTo(10, 0.2);
    expect(visibleNoise(luminance, variance, 64, { x: 0, y: 0, width: 64, height: 64 })).to.be.closeTo(
      right,
      0.02 * right,
    );
  });
});
