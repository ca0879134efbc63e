// Whatever the size and place of a scene: a white ball disappears in a white furnace, and nothing that is not a number
// reaches the film. Adaptive sampling: fewer samples at the same mean, within the statistics of many small renders.
import { expect } from 'chai';
import { InputError } from '@dusting/core/formats';
import { proofFindings } from '@dusting/core/diagnose';
import { FILM, filmStatistics, frameOf, PathTracer, renderHere } from '@dusting/core/render';
import { SURFACE } from '@dusting/core/shade';
import { BlockRules, lightnessSlope } from '../../src/render/adaptive.ts';
import { lightness } from '@dusting/core/color';
import { compileTest, makeShot, GLASS, GLOW, MATT, renderTest, sphere, square, type TestScene } from '../scenes.ts';

const WHITE = { color: [1, 1, 1] };

describe('scenes of any size and place', () => {
  const sizes: [string, number, number][] = [
    ['a tenth of a millimetre', 1e-4, 0],
    ['a thousand kilometres', 1e6, 0],
    ['ten kilometres from the origin', 1, 1e4],
  ];
  for (const [name, scale, away] of sizes)
    it(`${name}: white and glass balls disappear in a furnace`, () => {
      for (const surface of [
        { ...MATT, base_color: [1, 1, 1] },
        { ...GLASS, specular_roughness: 0 },
      ]) {
        const transform = [scale, 0, 0, away, 0, scale, 0, 0, 0, 0, scale, 0];
        const camera = { transform: [1, 0, 0, away, 0, 1, 0, 0, 0, 0, 1, 4 * scale], verticalAngle: 25 };
        const { error, mean, statistics } = renderTest({ objects: [{ mesh: sphere(1, 48), surface, transform }], camera, environment: WHITE, settings: { pixelSamples: 8 } }); // prettier-ignore
        expect(mean).to.be.closeTo(1, 4 * error + 1e-4);
        expect(statistics.badSamples).to.equal(0);
      }
    });

  it('broken numbers: a mesh with corners and normals that are not numbers renders, without any in the film', () => {
    const broken = sphere(1, 24);
    for (let i = 0; i < 90; i += 7) broken.normals![i] = NaN;
    broken.positions[300] = NaN;
    broken.positions[301] = Infinity;
    const scene = { objects: [{ mesh: broken, surface: {} }], view: 3, environment: WHITE };
    const { film } = renderTest(scene);
    expect(film.data.every(Number.isFinite)).to.equal(true);
  });

  it('flat triangles, coinciding surfaces and a light in the plane of what it lights are borne', () => {
    const flat = { ...square(2), indices: new Uint32Array([0, 0, 0, 0, 1, 1, 0, 1, 2, 0, 2, 3]) };
    const objects = [flat, flat, square(2)].map((mesh) => ({ mesh, surface: { ...GLASS, emission_luminance: 0.1 } }));
    const { film } = renderTest({
      objects,
      lights: [{ kind: 'rectangle', width: 1, height: 1 }, { kind: 'point' }],
      view: 2,
    });
    expect(film.data.every(Number.isFinite)).to.equal(true);
  });
});

describe('many and no triangles', () => {
  it('200,000 triangles on one place are built and met, in bounded memory', () => {
    const one = square(2);
    const count = 200_000;
    const indices = Uint32Array.from({ length: count * 3 }, (_, i) => [0, 1, 2, 0, 2, 3][i % 6]);
    const { compiled, settings } = compileTest({
      objects: [{ mesh: { ...one, indices }, surface: GLOW }],
      settings: { width: 2, height: 2, pixelSamples: 2 },
    });
    // 160 bytes for four triangles, 128 for each four nodes above them, what the mesh itself takes, and a page or two
    expect(compiled.rays.buffer.byteLength).to.be.below(count * 70 + 1e6);
    const { data } = renderHere(compiled, settings, frameOf(settings));
    expect(data[0] / data[FILM.samples]).to.be.closeTo(1, 1e-6);
  });
  it('transforms that flatten are refused with their place, whatever they belong to', () => {
    const flat = [1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0];
    const objects = [{ mesh: square(2), surface: GLOW }];
    expect(() => makeShot({ objects: [{ ...objects[0], transform: flat }] })).to.throw(InputError, 'objects.o0.transform flattens it'); // prettier-ignore
    expect(() => makeShot({ objects: [{ ...objects[0], flags: { laterTransforms: [flat] } }] })).to.throw(InputError, 'objects.o0'); // prettier-ignore
    expect(() => makeShot({ objects, lights: [{ kind: 'rectangle', transform: flat }] })).to.throw(InputError, 'lights.l0.transform'); // prettier-ignore
    expect(() => makeShot({ objects, camera: { transform: flat, verticalAngle: 20 } })).to.throw(InputError, 'cameras.camera.transform'); // prettier-ignore
  });
  it('a sample that is not a number is counted, named with its pixel, and not in the film', () => {
    const { compiled, settings } = compileTest({ objects: [{ mesh: square(2), surface: GLOW }], view: 4 });
    const broken = { ...compiled, surfaces: { ...compiled.surfaces, values: compiled.surfaces.values.slice() } };
    broken.surfaces.values[SURFACE.emission + 1] = NaN;
    const film = renderHere(broken, settings, frameOf(settings));
    expect(film.data.every(Number.isFinite)).to.equal(true);
    const statistics = filmStatistics(film, 1);
    expect(statistics.badSamples).to.be.above(0);
    const [{ x, y, sample }] = statistics.badAt;
    expect(proofFindings(statistics, settings)[0].text).to.contain(`first at pixel (${x}, ${y}) sample ${sample}`);
    // replayed, the same sample shows the light that is none
    const [vertex] = new PathTracer(broken, settings).replay(x, y, sample);
    expect(vertex.lights.some(({ radiance }) => Number.isNaN(radiance[1]))).to.equal(true);
  });
});

describe('adaptive sampling', () => {
  // one half of the picture is an even glow, the other a floor below a small, bright light
  const scene: TestScene = {
    objects: [
      { mesh: square(2), surface: { ...MATT, base_color: [0.5, 0.5, 0.5] }, transform: [1, 0, 0, -1, 0, 1, 0, 0, 0, 0, 1, 0] },
      { mesh: square(2, 0.01), surface: { ...GLOW, emission_luminance: 0.3 }, transform: [1, 0, 0, 1, 0, 1, 0, 0, 0, 0, 1, 0] },
    ], // prettier-ignore
    environment: { color: [0.02, 0.02, 0.02] },
    lights: [{ kind: 'sphere', radius: 0.02, strength: 40, transform: [1, 0, 0, -1, 0, 1, 0, 0, 0, 0, 1, 0.3] }],
    view: 1.9,
  };
  const { compiled, settings } = compileTest(scene);
  const render = (limit: number, seed: number) => {
    const whole = { ...settings, width: 32, height: 32, pixelSamples: 64, diffuseSamples: 1, seed, adaptive: { limit, least: 16 } }; // prettier-ignore
    return renderHere(compiled, whole, frameOf(whole));
  };
  const mean = (data: Float64Array | Float32Array) => {
    let [sum, samples] = [0, 0];
    for (let i = 0; i < data.length; i += FILM.stride) {
      sum += data[i + 1] / data[i + FILM.samples] / 1024;
      samples += data[i + FILM.samples] / 1024;
    }
    return { sum, samples };
  };

  it('saves samples where the picture is quiet, and shifts the mean by no more than chance', () => {
    const seeds = Array.from({ length: 8 }, (_, i) => i + 1);
    const full = seeds.map((seed) => mean(render(0, seed).data));
    const adapted = seeds.map((seed) => mean(render(0.2, seed).data));
    expect(full[0].samples).to.equal(64);
    expect(adapted[0].samples).to.be.below(56);
    const differences = adapted.map((a, i) => a.sum - full[i].sum);
    const average = differences.reduce((s, d) => s + d, 0) / seeds.length;
    const spread = Math.sqrt(
      differences.reduce((s, d) => s + (d - average) ** 2, 0) / seeds.length / (seeds.length - 1),
    );
    expect(Math.abs(average)).to.be.below(4 * spread + 2e-4 * full[0].sum);
    const { data } = render(0.2, 1);
    const samplesAt = (x: number, y: number) => data[(y * 32 + x) * FILM.stride + FILM.samples];
    expect(samplesAt(28, 16), 'the even half').to.equal(24);
    expect(samplesAt(5, 16), 'the lit half').to.be.above(24);
  });

  it('the rule is the standard error in lightness: the slope of CIE L* at both ends of its formula', () => {
    for (const y of [0.001, 0.05, 0.18, 0.9])
      expect(lightnessSlope(y)).to.be.closeTo((lightness(y * 1.0001) - lightness(y * 0.9999)) / (y * 0.0002), 0.01 * lightnessSlope(y)); // prettier-ignore
    // of two pixels, each settles by what the other one saw
    const film = {
      region: { x: 0, y: 0, width: 2, height: 1 },
      data: new Float64Array(2 * FILM.stride),
      stride: FILM.stride,
    };
    // 8 samples of mean 0.18 and variance 0.01: error of L* after 8 of 24 more
    film.data.set([8 * 0.18, 8 * 0.18, 8 * 0.18, 0, 0, 0, 8 * 0.18 ** 2 + 7 * 0.01]);
    film.data[FILM.samples] = film.data[FILM.stride + FILM.samples] = 8;
    const error = lightnessSlope(0.18) * Math.sqrt(0.01 / 32);
    for (const share of [1.001, 0.999]) {
      const rules = new BlockRules(film, 24, error * share);
      rules.look();
      expect([rules.isSettled(0, 0), rules.isSettled(1, 0)]).to.deep.equal([true, share > 1]);
    }
  });
});
