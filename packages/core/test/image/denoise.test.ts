// The look without noise on pictures whose truth is known. Noise is drawn, so that its size is exact.
import { expect } from 'chai';
import { denoise, DENOISE_DEFAULTS, denoiseSteps, type NoisyPicture } from '@dusting/core/image';
import { hashPair, hashUnit, kernelRuns } from '@dusting/core/math';

const [width, height] = [64, 48];
const pixels = width * height;
const plane = (value: (x: number, y: number) => number) => Float32Array.from({ length: pixels }, (_, i) => value(i % width, Math.floor(i / width))); // prettier-ignore
/** Box-Muller (1958). */
const gauss = (i: number) => Math.sqrt(-2 * Math.log(1 - hashUnit(hashPair(i, 1)))) * Math.cos(2 * Math.PI * hashUnit(hashPair(i, 2))); // prettier-ignore
const rms = (a: Float32Array, b: Float32Array) => Math.sqrt(a.reduce((sum, v, i) => sum + (v - b[i]) ** 2, 0) / a.length); // prettier-ignore
/** Grey of `truth` with an even noise. */
function noisy(truth: Float32Array, error: number, more: Partial<NoisyPicture> = {}): NoisyPicture {
  const grey = truth.map((v, i) => v + error * gauss(i));
  return { width, height, rgb: [grey, grey.slice(), grey.slice()], error: plane(() => error), ...more };
}

describe('look without noise', () => {
  it('is the same step by step, and tells how much of it is done', () => {
    const picture = noisy(
      plane(() => 0.5),
      0.05,
    );
    const shares: number[] = [];
    const steps = denoiseSteps(picture);
    let step = steps.next();
    for (; !step.done; step = steps.next()) shares.push(step.value);
    expect(shares).to.deep.equal([0, 0.2, 0.4, 0.6, 0.8, 1]);
    expect(step.value).to.deep.equal(denoise(picture));
  });

  it('of even light: a tenth of the noise is left, and the mean stays within three standard errors', () => {
    const truth = plane(() => 0.4);
    const [, found] = denoise(noisy(truth, 0.05));
    expect(rms(found, truth)).to.be.below(0.1 * 0.05);
    const mean = found.reduce((a, b) => a + b) / pixels;
    expect(mean).to.be.closeTo(0.4, (3 * 0.05) / Math.sqrt(pixels));
  });

  it('keeps an edge of the light that stands out of the noise, and one of the geometry that does not', () => {
    const step = plane((x) => (x < 32 ? 0.2 : 0.8));
    const [edge] = denoise(noisy(step, 0.03));
    expect(rms(edge, step)).to.be.below(0.3 * 0.03);
    const faint = plane((x) => (x < 32 ? 0.4 : 0.43));
    const turned = [plane((x) => (x < 32 ? 1 : 0)), plane((x) => (x < 32 ? 0 : 1)), plane(() => 0)] as const;
    const across = (of: Float32Array) => [30, 33].map((x) => Array.from({ length: height }, (_, y) => of[y * width + x]).reduce((a, b) => a + b) / height); // prettier-ignore
    const [left, right] = across(denoise(noisy(faint, 0.05, { normal: turned }))[0]);
    expect(right - left).to.be.closeTo(0.03, 0.01);
    const far = plane((x) => (x < 32 ? 2 : 5));
    const [near, away] = across(denoise(noisy(faint, 0.05, { depth: far }))[0]);
    expect(away - near).to.be.closeTo(0.03, 0.01);
    const [one, other] = across(denoise(noisy(faint, 0.05))[0]);
    expect(other - one).to.be.below(0.015);
  });

  it('keeps a texture that the albedo knows, finer than the noise', () => {
    const albedo = plane((x, y) => 0.4 + 0.2 * ((x + y) % 2));
    const truth = albedo.map((a) => 0.5 * a);
    const guided = denoise(noisy(truth, 0.04, { albedo: [albedo, albedo, albedo] }))[0];
    expect(rms(guided, truth)).to.be.below(0.15 * 0.04);
    expect(rms(denoise(noisy(truth, 0.04))[0], truth)).to.be.above(0.5 * 0.04);
  });

  it('a dark albedo that comes and goes in one channel tints nothing', () => {
    const red = plane(() => 0.3);
    const blue = plane((x, y) => 0.0495 + 0.001 * ((x + Math.floor(y / 3)) % 2));
    const truth = [red, red, blue].map((albedo) => albedo.map((a) => 0.2 * a));
    const error = 0.004;
    const rgb = truth.map((t, k) => t.map((v, i) => v + error * gauss(3 * i + k))) as unknown as NoisyPicture['rgb'];
    const found = denoise({ width, height, rgb, error: plane(() => error), albedo: [red, red, blue] });
    for (const k of [0, 2]) expect(rms(found[k], truth[k])).to.be.below(0.2 * error);
  });

  it('a pixel that no sample has lit by chance is filled; what is black all about stays black', () => {
    const truth = plane((x) => (x < 32 ? 0.4 : 0));
    const picture = noisy(truth, 0.05);
    const missed = [5 * width + 8, 20 * width + 12, 40 * width + 20];
    for (let i = 0; i < pixels; i++)
      if (missed.includes(i) || i % width >= 32)
        picture.error[i] = picture.rgb[0][i] = picture.rgb[1][i] = picture.rgb[2][i] = 0;
    const [found] = denoise(picture);
    for (const i of missed) expect(found[i]).to.be.closeTo(0.4, 0.04);
    for (let i = 0; i < pixels; i++) if (i % width > 33) expect(found[i]).to.equal(0);
  });

  it('what is known stays to the bit, and a firefly neither stays nor spreads', () => {
    const truth = plane(() => 0.4);
    const picture = noisy(truth, 0.02);
    const lamp = 10 * width + 10;
    const firefly = 30 * width + 40;
    for (const p of picture.rgb) [p[lamp], p[firefly]] = [12, 40];
    picture.error[lamp] = 0;
    const spread = picture.error.slice();
    spread[firefly] = 40;
    const [found] = denoise({ ...picture, spread });
    expect(found[lamp]).to.equal(12);
    expect(found[firefly]).to.be.closeTo(0.4, 0.1);
    for (const i of [lamp - 1, lamp + width, firefly - 1, firefly + width, firefly + 2 * width]) expect(found[i]).to.be.closeTo(0.4, 0.02); // prettier-ignore
  });

  it('is the same by the kernel and in the plain form, to the rounding of single precision', () => {
    // as wide as four pixels do not fill, with an emitter, depths and normals
    const [wide, high] = [61, 23];
    const of = (value: (x: number, y: number) => number) => Float32Array.from({ length: wide * high }, (_, i) => value(i % wide, Math.floor(i / wide))); // prettier-ignore
    const grain = [1, 2, 3].map((k) => of((x, y) => Math.max(0, 0.3 + 0.1 * Math.sin(x / 5) + 0.05 * gauss(k * 4096 + y * wide + x)))); // prettier-ignore
    const error = of((x, y) => (Math.hypot(x - 30, y - 10) < 4 ? 0 : 0.05));
    const picture: NoisyPicture = { width: wide, height: high, rgb: grain as unknown as NoisyPicture['rgb'], error, spread: error, depth: of((x) => (x < 40 ? 2 + x / 50 : 5)), normal: [of((x) => (x < 20 ? 1 : 0)), of((x) => (x < 20 ? 0 : 1)), of(() => 0)] }; // prettier-ignore
    const [kernel, plain] = [true, false].map((useKernel) => denoise(picture, DENOISE_DEFAULTS, useKernel));
    let apart = 0;
    kernel.forEach((channel, k) => channel.forEach((v, i) => (apart = Math.max(apart, Math.abs(v - plain[k][i])))));
    expect(kernelRuns()).to.equal(true);
    expect(apart).to.be.within(1e-9, 1e-5);
  });
});
