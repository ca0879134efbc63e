// Harris 1978 and Mitchell & Netravali 1988 for the filters; Schmidt & Budge 2002 and Beer-Lambert for the media; glTF 2.0 for the camera's frame.
import { expect } from 'chai';
import { CAMERA, fillCamera } from '../../src/render/camera.ts';
import { MediumStack } from '../../src/render/mediumStack.ts';
import { survivalChance } from '../../src/render/roulette.ts';
import { makePixelFilter, placeSample } from '../../src/render/pixelFilter.ts';
import { CAMERA_DEFAULTS, FINAL_DEFAULTS, type RenderSettings } from '@dusting/core/scene';
import { SURFACE } from '@dusting/core/shade';
import { checkRenderSize } from '@dusting/core/render';
import { InputError } from '@dusting/core/formats';
import { IDENTITY } from '../scenes.ts';

function numbersOf(...of: Parameters<typeof fillCamera> extends [unknown, ...infer R] ? R : never): number[] {
  const out = new Float64Array(CAMERA.stride);
  fillCamera(out, ...of);
  return Array.from(out);
}

describe('pixel filter', () => {
  const placed = new Float64Array(3);
  type Kind = RenderSettings['filter']['kind'];
  /** Moments of the weighted samples, which are those of the filter itself. */
  const moments = (kind: Kind, width: number) => {
    const filter = makePixelFilter({ kind, width });
    let [sum, mean, variance, most] = [0, 0, 0, 0];
    const count = 20_000;
    for (let i = 0; i < count; i++) {
      // the weight of one axis: the other stands in the middle
      placeSample(filter, Float64Array.of((i + 0.5) / count, 0.5), placed);
      const x = placed[0];
      const weight = placed[2] / (filter.signed ? filter.gain : 1);
      sum += weight / count;
      mean += (weight * x) / count;
      variance += (weight * x * x) / count;
      most = Math.max(most, Math.abs(x));
    }
    return { sum, mean, variance, most };
  };
  const expected: [Kind, number, number][] = [
    ['box', 1, 1 / 12],
    ['triangle', 2, 1 / 6],
    // of a normal distribution cut at three standard deviations (Johnson & Kotz, truncated at +-3: 0.9733)
    ['gaussian', 6, 0.9733],
    // B = C = 1/3 keeps quadratic polynomials but for B: variance B / 3 over the width of 4
    ['mitchell', 4, 1 / 9],
  ];
  for (const [kind, width, variance] of expected)
    it(`${kind}: weights sum to 1, no shift, and the variance of its formula`, () => {
      const m = moments(kind, width);
      expect(m.sum).to.be.closeTo(1, 1e-3);
      expect(m.mean).to.be.closeTo(0, 1e-3);
      expect(m.variance).to.be.closeTo(variance, 2e-3 * Math.max(1, variance));
      expect(m.most).to.be.at.most(width / 2);
    });
  it('Blackman-Harris: the variance that its coefficients give', () => {
    // of a0 - a1 cos + a2 cos 2 - a3 cos 3 over one period: 1/12 + (-a1 (-1) + a2 / 4 ... ) / (2 pi^2 a0)
    const [a0, a1, a2, a3] = [0.35875, 0.48829, 0.14128, 0.01168];
    const variance = 1 / 12 + (-a1 + a2 / 4 - a3 / 9) / (2 * Math.PI ** 2 * a0);
    const m = moments('blackman-harris', 3);
    expect(m.mean).to.be.closeTo(0, 1e-3);
    expect(m.variance / 9).to.be.closeTo(variance, 2e-4);
    expect(m.most).to.be.at.most(1.5);
  });
  it('windowed sinc: negative between the first and the second pixel, and a constant picture keeps its value', () => {
    const filter = makePixelFilter({ kind: 'sinc', width: 6 });
    expect(filter.shape(1.5 / 6)).to.be.below(0);
    expect(filter.shape(0.5 / 6)).to.be.above(0.5);
    expect(filter.gain).to.be.above(1.1);
    expect(moments('sinc', 6).sum).to.be.closeTo(1, 1e-3);
  });
});

describe('roulette', () => {
  const chance = (t: number, etaScale: number, events: number) => survivalChance(new Float64Array([t, t / 2, 0]), etaScale, events); // prettier-ignore
  it('ends only what is worth less than an eighth, half from the fourth event on, and leaves survivors worth that', () => {
    for (const [events, least] of [
      [1, 1 / 8],
      [3, 1 / 8],
      [4, 1 / 2],
      [9, 1 / 2],
    ])
      // prettier-ignore
      for (const t of [1e-6, 0.01, 0.2, 0.6, 1, 4])
        expect(t / chance(t, 1, events)).to.be.closeTo(Math.max(t, least), 1e-12);
  });
  it('does not mind what refraction does to radiance, which comes back (Veach 1997, 5.2)', () =>
    expect(chance(0.05 / 1.5 ** 2, 1.5 ** 2, 1)).to.be.closeTo(chance(0.05, 1, 1), 1e-12));
});

describe('media', () => {
  // three surfaces, and objects of the same numbers
  const values = new Float64Array(4 * SURFACE.stride);
  const set = (surface: number, extinction: number[], ior: number, priority: number) => {
    values.set(extinction, surface * SURFACE.stride + SURFACE.extinction);
    values.fill(ior, surface * SURFACE.stride + SURFACE.ior, surface * SURFACE.stride + SURFACE.ior + 3);
    values[surface * SURFACE.stride + SURFACE.priority] = priority;
  };
  set(1, [1, 2, 0], 1.5, 0);
  set(2, [5, 5, 5], 1.4, 0);
  set(3, [0, 0, 0], 1.33, 5);
  const stack = () => new MediumStack((object) => object, values);
  const left = (medium: MediumStack, distance: number) => {
    const t = new Float64Array([1, 1, 1]);
    medium.absorb(distance, t);
    return [...t];
  };
  it('absorb by the one that entered last, and only inside', () => {
    const medium = stack();
    expect(left(medium, 3)).to.deep.equal([1, 1, 1]);
    medium.enter(1);
    expect(left(medium, 0.5)).to.deep.equal([Math.exp(-0.5), Math.exp(-1), 1]);
    medium.enter(2);
    expect(left(medium, 0.1)[2]).to.be.closeTo(Math.exp(-0.5), 1e-12);
    medium.leave(1);
    expect(left(medium, 0.1)[0]).to.be.closeTo(Math.exp(-0.5), 1e-12);
    medium.leave(2);
    expect(left(medium, 3)).to.deep.equal([1, 1, 1]);
  });
  it('overlap: which interface counts, and its indices (Schmidt & Budge 2002, table of true and false intersections)', () => {
    const medium = stack();
    expect([medium.hides(1, false), medium.relativeIor(1, false, 0)]).to.deep.equal([false, 1.5]);
    medium.enter(1);
    // of equal priority the one that entered last counts: leaving the first is no interface
    expect([medium.hides(2, false), medium.relativeIor(2, false, 0)]).to.deep.equal([false, 1.4 / 1.5]);
    medium.enter(2);
    expect(medium.hides(1, true)).to.equal(true);
    medium.leave(1);
    expect([medium.hides(2, true), medium.relativeIor(2, true, 0)]).to.deep.equal([false, 1 / 1.4]);
    // a greater priority displaces what enters it
    medium.enter(3);
    expect(medium.hides(1, false)).to.equal(true);
    expect(medium.relativeIor(3, true, 0)).to.equal(1.4 / 1.33);
  });
  it('turned faces are left first and not entered afterwards', () => {
    const medium = stack();
    expect(medium.relativeIor(1, true, 0)).to.equal(1 / 1.5);
    medium.leave(1);
    medium.enter(1);
    expect(left(medium, 3)).to.deep.equal([1, 1, 1]);
    expect(medium.relativeIor(2, false, 0)).to.equal(1.4);
  });
  it('deeper nesting than there is room for is borne', () => {
    const medium = stack();
    for (let i = 0; i < 60; i++) medium.enter(1);
    for (let i = 0; i < 60; i++) medium.leave(1);
    expect(left(medium, 1)).to.deep.equal([1, 1, 1]);
  });
});

describe('camera and size', () => {
  const camera = { ...CAMERA_DEFAULTS, name: 'c', transform: IDENTITY, height: 3 };
  it('an angle of 90 degrees sees as far up as forward; the width follows the picture', () => {
    const numbers = numbersOf(
      { ...camera, kind: 'perspective', verticalAngle: 90 },
      { ...FINAL_DEFAULTS, width: 200, height: 100 },
    );
    expect(numbers.slice(9, 12)).to.deep.equal([0, 0, -1].map((v) => v + 0));
    expect(numbers[13]).to.be.closeTo(1, 1e-12);
    expect(numbers[12]).to.be.closeTo(2, 1e-12);
  });
  it('an orthographic one sees its height in metres', () => {
    const numbers = numbersOf(
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
