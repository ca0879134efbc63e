// Noise as it is reported against that of many seeds: the sample variance of the pixels' means over independent renders.
import { expect } from 'chai';
import { visibleNoise } from '@dusting/core/image';
import { COMPONENTS, emptyFilm, evennessLaw, FILM, filmStatistics, frameOf, isChecked, measuredSum, measureNoise, renderHere, STRATEGIES, type Film, type Strategies } from '@dusting/core/render'; // prettier-ignore
import { hashUnit } from '@dusting/core/math';
import { compileTest, GLASS, MATT, slab, sphere, square, type TestScene } from '../scenes.ts';

const at = (x: number, y: number, z: number) => [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z];
const SIZE = { width: 32, height: 24 };
/** Soft shadows, a bright lamp in view, indirect light between floor and slab: evenness pays in each another share. */
const lit: TestScene = {
  objects: [
    { mesh: square(12), surface: { ...MATT, base_color: [0.6, 0.6, 0.6] } },
    { mesh: slab(1.2, 0, 0.5), surface: { ...MATT, base_color: [0.7, 0.4, 0.3] }, transform: at(0.6, 0.2, 0) },
  ],
  lights: [{ kind: 'sphere', radius: 0.4, strength: 8, transform: at(-0.8, 0.5, 1.4) }],
  view: 3,
  settings: { ...SIZE, pixelSamples: 16, depth: { diffuse: 3, total: 4 } },
};
/** Light that a ball of glass gathers: few samples carry the noise. */
const gathered: TestScene = {
  objects: [
    { mesh: square(8), surface: { ...MATT, base_color: [0.6, 0.6, 0.6] } },
    { mesh: sphere(0.5, 32), surface: GLASS, transform: at(0, 0, 0.8) },
  ],
  lights: [{ kind: 'sphere', radius: 0.15, strength: 60, seenByCamera: false, transform: at(0.6, 0.4, 3) }],
  view: 2.4,
  settings: { ...SIZE, pixelSamples: 16 },
};

const rendered = new Map<TestScene, Film[]>();

/** One film a seed, of which the first are rendered once. */
function filmsOf(scene: TestScene, seeds: number, strategies: Strategies): Film[] {
  const { compiled, settings } = compileTest(scene);
  const films = (strategies === STRATEGIES && rendered.get(scene)) || [];
  for (let seed = films.length + 1; seed <= seeds; seed++) films.push(renderHere(compiled, { ...settings, seed }, frameOf(settings), strategies)); // prettier-ignore
  if (strategies === STRATEGIES) rendered.set(scene, films);
  return films.slice(0, seeds);
}

/** Of many seeds: sums of the true and the reported variance, and what each render said in L*. */
function againstSeeds(scene: TestScene, seeds: number, measured = 0, strategies = STRATEGIES) {
  const settings = SIZE;
  const pixels = settings.width * settings.height;
  const mean = new Float64Array(pixels);
  const squares = new Float64Array(pixels);
  const [reported, classical] = [new Float64Array(pixels), new Float64Array(pixels)];
  const said: { noise: number; noiseRange: { low: number; high: number } }[] = [];
  for (const film of filmsOf(scene, seeds, strategies)) {
    const noise = measureNoise(film, measured);
    said.push(filmStatistics(film, 1));
    for (let i = 0; i < pixels; i++) {
      const y = measuredSum(film.data, i * FILM.stride, measured) / film.data[i * FILM.stride + FILM.samples];
      mean[i] += y / seeds;
      squares[i] += y * y;
      reported[i] += noise.variance[i] / seeds;
      classical[i] += noise.classical[i] / seeds;
    }
  }
  const found = squares.map((s, i) => Math.max(0, s - mean[i] ** 2 * seeds) / (seeds - 1));
  const total = (values: Float64Array) => values.reduce((sum, v) => sum + v, 0);
  const ratios = [...found.keys()].filter((i) => found[i] > 1e-3 * (total(found) / pixels)).map((i) => Math.sqrt(reported[i] / found[i])).sort((a, b) => a - b); // prettier-ignore
  return {
    summed: Math.sqrt(total(reported) / total(found)),
    classical: Math.sqrt(total(classical) / total(found)),
    median: ratios[ratios.length >> 1],
    said,
    noise: visibleNoise(mean, found, settings.width, { x: 0, y: 0, ...SIZE }, { stops: 1 }),
  };
}

describe('noise as it is', () => {
  for (const [name, measured] of [
    ['beauty', 0],
    ['directDiffuse', 1 + COMPONENTS.indexOf('directDiffuse')],
    ['indirectDiffuse', 1 + COMPONENTS.indexOf('indirectDiffuse')],
  ] as const)
    it(`of ${name}: the standard error is that of 40 seeds, in sum and in the median pixel`, () => {
      const { classical, median, summed } = againstSeeds(lit, 40, measured);
      // the sum over seeds is itself known to a few percent: noisy edges carry it
      expect(summed).to.be.within(0.9, 1.12);
      expect(median).to.be.within(0.8, 1.25);
      expect(classical, 's^2 / n does not know of even points').to.be.above(name === 'indirectDiffuse' ? 1.02 : 1.4);
    });

  it('of independent points is s^2 / n', () => {
    const { classical, summed } = againstSeeds(lit, 30, 0, { ...STRATEGIES, evenPoints: false });
    expect(classical).to.be.within(0.93, 1.07);
    expect(summed / classical).to.be.within(0.9, 1.1);
  });

  for (const [name, scene] of Object.entries({ lit, gathered }))
    it(`the range of ${name} light holds the noise of 30 seeds in most renders`, () => {
      const { noise, said } = againstSeeds(scene, 30);
      const held = said.filter(({ noiseRange: { low, high } }) => low <= noise && noise <= high).length;
      // four in five are meant; the noise of 30 seeds is itself known to a tenth in the noisiest tile
      expect(held / 30).to.be.at.least(0.7);
      for (const { noise: reported, noiseRange } of said) expect(noiseRange.low).to.be.at.most(noiseRange.high).and.below(reported * 1.3); // prettier-ignore
    });

  describe('of films whose means lie further apart than their samples say', () => {
    const draw = (key: number) => Math.sqrt(12) * (hashUnit(key) - 0.5);
    /** Of so many pixels. @param deviation of one sample @param over true variance over s^2 / n */
    interface Made {
      pixels: number;
      checked: number;
      samples: number;
      deviation(i: number): number;
      over(i: number): number;
    }
    const film = ({ checked, deviation, over, pixels, samples }: Made) => {
      const made = emptyFilm({ x: 0, y: 0, width: 64, height: pixels / 64 });
      for (let i = 0; i < pixels; i++) {
        const first = i * FILM.stride;
        const all = Array.from({ length: samples }, (_, k) => 1 + deviation(i) * draw(20 * i + k));
        const sum = all.reduce((a, b) => a + b, 0);
        for (let k = 0; k < 3; k++) made.data[first + k] = sum;
        made.data[first + FILM.beauty + 6] = all.reduce((a, b) => a + b * b, 0);
        made.data[first + FILM.samples] = samples;
        made.data[first + FILM.half] = all.slice(0, samples / 2).reduce((a, b) => a + b, 0);
        made.data[first + FILM.halfSamples] = samples / 2;
        if (i >= checked) continue;
        made.data[first + FILM.checkSamples] = samples;
        // Var(first - second) is twice the true variance of one
        const apart = Math.sqrt((2 * over(i) * deviation(i) ** 2) / samples);
        made.data[first + FILM.check] = sum + samples * apart * draw(1e6 + i);
      }
      return made;
    };
    const sum = (values: Float32Array) => values.reduce((a, b) => a + b, 0);

    it('few pixels that were rendered twice say little, many have their way', () => {
      const four = (checked: number) => measureNoise(film({ pixels: 4096, checked, samples: 8, deviation: () => 0.1, over: () => 4 }), 0); // prettier-ignore
      const { check, classical, variance } = four(4096);
      expect(check.pixels).to.equal(4096);
      expect(sum(variance) / sum(classical)).to.be.within(3.4, 4.6);
      expect(four(0).check).to.deep.include({ pixels: 0, factor: 1, spread: null });
      expect(four(6).check.factor).to.be.below(1.5);
      expect(four(4096).check.doubt, 'many leave less to doubt').to.be.below(four(6).check.doubt / 2);
    });

    it('with few samples, quiet and noisy places have factors of their own', () => {
      const quiet = (i: number) => i < 8192;
      const uneven = film({ pixels: 16384, checked: 16384, samples: 4, deviation: (i) => (quiet(i) ? 0.02 : 0.2), over: (i) => (quiet(i) ? 0.5 : 1.5) }); // prettier-ignore
      const { classical, variance } = measureNoise(uneven, 0);
      const over = (from: number, to: number) => sum(variance.subarray(from, to)) / sum(classical.subarray(from, to));
      // 8000 squares know a variance to 2 %, s^2 of four samples to 1 %
      expect(over(0, 8192)).to.be.within(0.44, 0.6);
      expect(over(8192, 16384)).to.be.within(1.3, 1.65);
    });
  });

  it('light that rare samples bring is as noisy as it is: s^2 / n is unbiased, and pixels rendered twice leave it so', () => {
    // one sample in 256 is bright: some blocks have none of them and some have ten
    const [chance, bright] = [1 / 256, 50];
    const samples = 16;
    const mean = bright * chance + 0.5 * (1 - chance);
    const truth = (bright ** 2 * chance + (1 - chance) / 3 - mean ** 2) / samples;
    let key = 1;
    const sample = () => (hashUnit(key++) < chance ? bright : hashUnit(key++));
    const reported = [1, 2, 3, 4].map(() => {
      const film = emptyFilm({ x: 0, y: 0, width: 128, height: 128 });
      for (let at = 0; at < film.data.length; at += FILM.stride) {
        for (let k = 0; k < samples; k++) {
          const y = sample();
          for (let c = 0; c < 3; c++) film.data[at + FILM.beauty + c] += y;
          film.data[at + FILM.beauty + 6] += y * y;
          if (2 * k < samples) film.data[at + FILM.half] += y;
          film.data[at + FILM.check] += sample();
        }
        film.data[at + FILM.samples] = film.data[at + FILM.checkSamples] = samples;
        film.data[at + FILM.halfSamples] = samples / 2;
      }
      const { variance } = measureNoise(film, 0);
      return variance.reduce((sum, v) => sum + v, 0) / variance.length / truth;
    });
    // 16 000 pixels with a 16th of a bright sample each know it to 3 %, four films to 1.6 %
    expect(reported.reduce((sum, r) => sum + r, 0) / 4).to.be.within(0.95, 1.06);
  });

  it('one pixel of each square is rendered twice, the same ones in any region, others with another seed', () => {
    const listed = (settings: { width: number; height: number; seed: number }) =>
      Array.from({ length: settings.width * settings.height }, (_, i) => i).filter((i) => isChecked(i % settings.width, Math.floor(i / settings.width), settings)); // prettier-ignore
    const small = listed({ width: 64, height: 64, seed: 1 });
    expect(small.length).to.equal((64 * 64) / 16);
    expect(new Set(small.map((i) => Math.floor(Math.floor(i / 64) / 4) * 16 + Math.floor((i % 64) / 4))).size).to.equal(small.length); // prettier-ignore
    expect(listed({ width: 64, height: 64, seed: 2 })).to.not.deep.equal(small);
    expect(listed({ width: 1024, height: 512, seed: 1 }).length).to.equal((1024 * 512) / 64);
  });

  it('the second points leave the picture alone, and one sample asks for none', () => {
    const { compiled, settings } = compileTest({ ...lit, settings: { ...lit.settings, pixelSamples: 1 } });
    const { data } = renderHere(compiled, settings, frameOf(settings));
    for (let i = 0; i < data.length; i += FILM.stride) expect(data[i + FILM.checkSamples]).to.equal(0);
    expect(
      measureNoise({ region: frameOf(settings), data, stride: FILM.stride }, 0).variance.every((v) => v === 0),
    ).to.equal(true);
  });

  it('the law beyond what was rendered: 1 where halves are independent, steeper where they balance each other', () => {
    expect(evennessLaw(2, 2)).to.equal(1);
    // scrambled nets of smooth light: a quarter of the variance for twice the samples (Owen 1997: 2^-3 at best)
    expect(evennessLaw(1, 3)).to.equal(2);
    expect(evennessLaw(1, 1e6)).to.equal(3);
    expect(evennessLaw(0, 1)).to.equal(1);
  });
});
