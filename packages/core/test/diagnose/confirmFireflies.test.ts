// A second look at a pixel whose renders are known: so many of them bright, at evenly spread places.
import { expect } from 'chai';
import { confirmFireflies, RARE, type Firefly } from '@dusting/core/diagnose';
import type { PathTracer } from '@dusting/core/render';

const SAMPLES = 16;
const RENDERS = 64;
const context = { pause: async () => {}, signal: new AbortController().signal };

const firefly = (luminance: number, around: number): Firefly => ({ x: 3, y: 5, luminance, around, limit: 0.2, carriers: 1, sample: null, samples: SAMPLES }); // prettier-ignore

/** Every pixel of it has the luminance `usual`, but for `count` of 64 renders. */
function tracerOf(usual: number, count: number, bright: number): PathTracer {
  const renderPixel: PathTracer['renderPixel'] = (_x, _y, start, samples, data) => {
    const render = start / samples;
    const isBright = Math.floor(((render + 1) * count) / RENDERS) > Math.floor((render * count) / RENDERS);
    data.fill((isBright ? bright : usual) * samples, 0, 3);
  };
  return { renderPixel } as PathTracer;
}

const isConfirmed = async (own: number, common: number, tracer: PathTracer, around = 0.1) =>
  (await confirmFireflies(tracer, [firefly(own, around)], common, context)).length === 1;

describe('a second look at fireflies', () => {
  it('what no other render shows is one, however common it may be', async () => {
    for (const common of [1, RARE])
      expect(await isConfirmed(1, common, tracerOf(0.1, 0, 0)), `${common}`).to.equal(true);
  });

  it('what is bright in every render is a highlight; so is one that half of them miss', async () => {
    for (const count of [64, 32]) expect(await isConfirmed(1, 1, tracerOf(0.1, count, 1)), `${count}`).to.equal(false);
  });

  it('of a hidden one, one render in twelve may be as far off: of 64, five and not six', async () => {
    // others like it add little to the mean: they are as far off, and no brighter
    const bright = 0.28;
    for (const [count, wanted] of [
      [0, true],
      [5, true],
      [6, false],
      [20, false],
    ] as const)
      // prettier-ignore
      expect(await isConfirmed(3, RARE, tracerOf(0.1, count, bright)), `${count} of 64`).to.equal(wanted);
    expect(await isConfirmed(3, 1, tracerOf(0.1, 6, bright)), 'that stands out by itself').to.equal(true);
  });

  it('less than twice as bright, or less than 8 L* lighter, is none', async () => {
    expect(await isConfirmed(0.95, 1, tracerOf(0.5, 0, 0), 0.5)).to.equal(false);
    expect(await isConfirmed(1.05, 1, tracerOf(0.5, 0, 0), 0.5)).to.equal(true);
    // L* of 0.002 is 1.8, of 0.008 it is 7.2, of 0.012 10.6 (CIE 15)
    expect(await isConfirmed(0.008, 1, tracerOf(0.002, 0, 0), 0.002)).to.equal(false);
    expect(await isConfirmed(0.012, 1, tracerOf(0.002, 0, 0), 0.002)).to.equal(true);
  });
});
