// Harris 1978 for the window; Beer-Lambert for the media; glTF 2.0 for the camera's frame.
import { expect } from 'chai';
import { cameraNumbers } from '../../src/render/camera.ts';
import { MediumStack } from '../../src/render/mediumStack.ts';
import { filterOffset, filterOffsets } from '../../src/render/pixelFilter.ts';
import { FINAL_DEFAULTS } from '@dusting/core/scene';
import { SURFACE_STRIDE } from '@dusting/core/shade';
import { checkRenderSize } from '@dusting/core/render';
import { InputError } from '@dusting/core/formats';
import { IDENTITY } from '../scenes.ts';

describe('pixel filter', () => {
  const moments = (kind: 'box' | 'blackman-harris', width: number) => {
    const offsets = filterOffsets({ kind, width });
    let [mean, variance, most] = [0, 0, 0];
    for (let i = 0; i < 10_000; i++) {
      const x = filterOffset(offsets, (i + 0.5) / 10_000);
      mean += x / 10_000;
      variance += (x * x) / 10_000;
      most = Math.max(most, Math.abs(x));
    }
    return { mean, variance, most };
  };
  it('a box of width 1 spreads evenly over the pixel', () => {
    const { mean, variance, most } = moments('box', 1);
    expect(mean).to.be.closeTo(0, 1e-6);
    expect(variance).to.be.closeTo(1 / 12, 1e-5);
    expect(most).to.be.at.most(0.5);
  });
  it('Blackman-Harris: the variance that its coefficients give', () => {
    // of a0 - a1 cos + a2 cos 2 - a3 cos 3 over one period: 1/12 + (-a1 (-1) + a2 / 4 ... ) / (2 pi^2 a0)
    const [a0, a1, a2, a3] = [0.35875, 0.48829, 0.14128, 0.01168];
    const expected = 1 / 12 + (-a1 + a2 / 4 - a3 / 9) / (2 * Math.PI ** 2 * a0);
    const { mean, variance, most } = moments('blackman-harris', 3);
    expect(mean).to.be.closeTo(0, 1e-3);
    expect(variance / 9).to.be.closeTo(expected, 2e-4);
    expect(most).to.be.at.most(1.5);
  });
});

describe('media', () => {
  const values = new Float64Array(3 * SURFACE_STRIDE);
  values.set([1, 2, 0], SURFACE_STRIDE + 11); // surface 1
  values.set([5, 5, 5], 2 * SURFACE_STRIDE + 11); // surface 2
  const left = (medium: MediumStack, distance: number) => {
    const t = new Float64Array([1, 1, 1]);
    medium.absorb(values, distance, t);
    return [...t];
  };
  it('absorb by the innermost one, and only inside', () => {
    const medium = new MediumStack();
    expect(left(medium, 3)).to.deep.equal([1, 1, 1]);
    medium.enter(1);
    expect(left(medium, 0.5)).to.deep.equal([Math.exp(-0.5), Math.exp(-1), 1]);
    medium.enter(2);
    expect(left(medium, 0.1)[2]).to.be.closeTo(Math.exp(-0.5), 1e-12);
    medium.leave(1);
    expect(left(medium, 0.1)[0]).to.be.closeTo(Math.exp(-0.5), 1e-12);
    medium.leave(1); // leaving what was never entered, as reversed faces do, changes nothing
    medium.leave(2);
    expect(left(medium, 3)).to.deep.equal([1, 1, 1]);
  });
  it('deeper nesting than there is room for is borne', () => {
    const medium = new MediumStack();
    for (let i = 0; i < 40; i++) medium.enter(1);
    for (let i = 0; i < 40; i++) medium.leave(1);
    expect(left(medium, 1)).to.deep.equal([1, 1, 1]);
  });
});

describe('camera and size', () => {
  const camera = { name: 'c', transform: IDENTITY, height: 3 };
  it('an angle of 90 degrees sees as far up as forward; the width follows the picture', () => {
    const numbers = cameraNumbers(
      { ...camera, kind: 'perspective', verticalAngle: 90 },
      { ...FINAL_DEFAULTS, width: 200, height: 100 },
    );
    expect(numbers.slice(9, 12)).to.deep.equal([0, 0, -1].map((v) => v + 0));
    expect(numbers[13]).to.be.closeTo(1, 1e-12);
    expect(numbers[12]).to.be.closeTo(2, 1e-12);
  });
  it('an orthographic one sees its height in metres', () => {
    const numbers = cameraNumbers(
      { ...camera, kind: 'orthographic', verticalAngle: 1 },
      { ...FINAL_DEFAULTS, width: 100, height: 100 },
    );
    expect([numbers[12], numbers[13], numbers[14]]).to.deep.equal([1.5, 1.5, 1]);
  });
  it('a frame that would not fit into memory is refused before anything is rendered', () => {
    expect(() => checkRenderSize({ x: 0, y: 0, width: 16384, height: 8192 })).to.throw(InputError, 'too large');
    checkRenderSize({ x: 0, y: 0, width: 4096, height: 4096 });
  });
});
