// Light in volumes. Single scattering in a homogeneous slab has a closed form (Chandrasekhar 1960, "Radiative
// Transfer"): light that comes and goes through the depth s is scattered with sigma_s p exp(-2 sigma_t s). Where nothing
// is absorbed, a volume disappears in a uniform environment (white furnace). Beer-Lambert for what passes.
import { expect } from 'chai';
import { COMPONENTS, FILM, filmStatistics, frameOf, PathTracer, renderHere, SPLIT_LEVELS } from '@dusting/core/render';
import { phase, samplePhase, VOLUME } from '@dusting/core/shade';
import { samplePoint } from '@dusting/core/math';
import type { Surface } from '@dusting/core/scene';
import { chiSquare } from '../chiSquare.ts';
import { compileTest, GLASS, GLOW, MATT, renderTest, slab, sphere, square, type TestScene } from '../scenes.ts';

const FOG: Partial<Surface> = { ...GLASS, specular_ior: 1, transmission_depth: 1 };
const at = (x: number, y: number, z: number) => [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z];
const within = (r: { mean: number; error: number }, expected: number, slack = 2e-3) =>
  expect(r.mean).to.be.closeTo(expected, 4 * r.error + slack * expected);
/** transmission_color for an extinction over the depth of 1 m. */
const clear = (extinction: number[]) => extinction.map((e) => Math.exp(-e));

describe('phase function', () => {
  for (const g of [-0.6, 0, 0.3, 0.85])
    it(`g = ${g}: directions have its density (chi-square, 0.1 % level), their mean cosine is g`, () => {
      const [point, out] = [new Float64Array(2), new Float64Array(3)];
      const [x, y, z] = [0.48, -0.6, 0.64];
      const bins = 40;
      const seen = new Float64Array(bins);
      const n = 20000;
      let mean = 0;
      for (let i = 0; i < n; i++) {
        // independent numbers: the test is about those
        samplePoint(point, i * 977 + 5, 0);
        const cosine = samplePhase(x, y, z, g, point[0], point[1], out);
        expect(out[0] * x + out[1] * y + out[2] * z).to.be.closeTo(cosine, 1e-9);
        expect(Math.hypot(...out)).to.be.closeTo(1, 1e-9);
        mean += cosine / n;
        seen[Math.min(bins - 1, Math.floor(((cosine + 1) / 2) * bins))]++;
      }
      const expected = Array.from({ length: bins }, (_, b) => {
        let sum = 0;
        for (let k = 0; k < 64; k++) sum += phase(-1 + (2 * (b + (k + 0.5) / 64)) / bins, g);
        return (n * 2 * Math.PI * sum * 2) / bins / 64;
      });
      expect(expected.reduce((s, e) => s + e, 0)).to.be.closeTo(n, 0.002 * n);
      expect(mean).to.be.closeTo(g, 4 / Math.sqrt(n));
      chiSquare(seen, expected);
    });
});

describe('volumes', () => {
  it('fog without a skin takes its share of the light behind it, and bends nothing', () => {
    const fog = { ...FOG, transmission_color: clear([0.7, 0.7, 0.7]) };
    const behind = { mesh: square(40), surface: GLOW };
    within(renderTest({ objects: [behind, { mesh: slab(20, 1, 3), surface: fog }] }), Math.exp(-1.4), 1e-5);
    // the shadow ray of a lamp passes it too, from without and from within
    const floor = { mesh: square(40), surface: { ...MATT, base_color: [0.6, 0.6, 0.6] } };
    const lamp = { kind: 'point' as const, strength: 5, transform: at(0, 0, 2) };
    const lit = (low: number, high: number) =>
      renderTest({ objects: [floor, { mesh: slab(20, low, high), surface: fog, flags: { seenByCamera: false } }], lights: [lamp], view: 1e-4 }).mean; // prettier-ignore
    const plain = (0.6 / Math.PI) * (5 / 4);
    expect(lit(1, 1.5)).to.be.closeTo(plain * Math.exp(-0.35), 1e-3 * plain);
    expect(lit(1, 3), 'the lamp inside').to.be.closeTo(plain * Math.exp(-0.7), 1e-3 * plain);
  });

  for (const g of [0, 0.5])
    it(`single scattering of a slab under a sun from behind the camera, g = ${g}: the closed form, in each colour`, () => {
      const extinction = [0.3, 1, 2.5];
      const scattering = [0.2, 0.7, 2];
      const fog = { ...FOG, transmission_color: clear(extinction), transmission_scatter: scattering.map((s) => Math.min(1, s)), transmission_scatter_anisotropy: g }; // prettier-ignore
      const scale = scattering.map((s) => Math.min(1, s));
      const { compiled, settings } = compileTest({
        objects: [{ mesh: slab(4000, 0, 2), surface: fog }],
        lights: [{ kind: 'sun', angle: 0, strength: 3 }],
        settings: { depth: { volume: 1 }, pixelSamples: 256, volumeSamples: 2 },
      });
      const film = renderHere(compiled, settings, frameOf(settings));
      const volume = FILM.component + COMPONENTS.indexOf('volume') * FILM.componentStride;
      for (let k = 0; k < 3; k++) {
        let [sum, squares, n] = [0, 0, 0];
        for (let p = 0; p < film.data.length; p += FILM.stride) {
          const v = film.data[p + volume + k] / film.data[p + FILM.samples];
          [sum, squares, n] = [sum + v, squares + v * v, n + 1];
        }
        const error = Math.sqrt((squares - (sum * sum) / n) / n / (n - 1));
        const expected = (3 * scale[k] * phase(-1, g) * (1 - Math.exp(-4 * extinction[k]))) / (2 * extinction[k]);
        expect(sum / n).to.be.closeTo(expected, 4 * error + 1e-4 * expected);
      }
    });

  const furnace = (surface: Partial<Surface>): TestScene => ({
    objects: [{ mesh: sphere(1, 48), surface }],
    environment: { color: [1, 1, 1] },
    view: 1,
    settings: { pixelSamples: 64, depth: { volume: 1000, total: 1024 } },
  });
  it('fog and milky glass that absorb nothing disappear in a furnace, whatever their colours do', () => {
    const scatter = [0.9, 0.5, 0.2];
    const fog = { ...FOG, transmission_color: clear(scatter), transmission_scatter: scatter, transmission_scatter_anisotropy: 0.4 }; // prettier-ignore
    within(renderTest(furnace(fog)), 1, 1e-3);
    within(renderTest(furnace({ ...fog, specular_ior: 1.4, transmission_depth: 0.5 })), 1, 0.004);
  });

  it('fog that stands on a floor does not hide it', () => {
    const floor = { mesh: square(40), surface: { ...MATT, base_color: [0.5, 0.5, 0.5] } };
    const fog = { ...FOG, transmission_color: clear([0.3, 0.3, 0.3]) };
    const lamp = { kind: 'point' as const, strength: 5, transform: at(0, 0, 2) };
    const seen = renderTest({ objects: [floor, { mesh: slab(8, 0, 1), surface: fog }], lights: [lamp], view: 1e-3 });
    expect(seen.mean).to.be.closeTo((0.5 / Math.PI) * (5 / 4) * Math.exp(-0.6), 2e-3);
  });

  it('a lamp inside of fog is seen through the fog before it, and lights it', () => {
    const fog = { ...FOG, transmission_color: clear([1, 1, 1]), transmission_scatter: [0.2, 0.2, 0.2] };
    const lamp = { kind: 'sphere' as const, radius: 0.5, strength: 1, transform: at(0, 0, 0) };
    const scene = { objects: [{ mesh: sphere(3, 48), surface: fog }], lights: [lamp], view: 0.02, settings: { pixelSamples: 1024, depth: { volume: 1 } } }; // prettier-ignore
    const { film } = renderTest(scene);
    const mean = (component: (typeof COMPONENTS)[number]) => {
      const slot = FILM.component + COMPONENTS.indexOf(component) * FILM.componentStride + 1;
      let sum = 0;
      for (let p = 0; p < film.data.length; p += FILM.stride) sum += film.data[p + slot] / film.data[p + FILM.samples];
      return (sum * FILM.stride) / film.data.length;
    };
    expect(mean('emission')).to.be.closeTo(Math.exp(-2.5), 0.003);
    // once scattered, by quadrature over the ray and over the cone that the lamp fills
    let expected = 0;
    const steps = 200;
    for (let i = 0; i < steps; i++) {
      const s = (2.5 * (i + 0.5)) / steps;
      const away = 3 - s;
      const widest = Math.sqrt(1 - (0.5 / away) ** 2);
      for (let j = 0; j < steps; j++) {
        const cosine = 1 - ((1 - widest) * (j + 0.5)) / steps;
        const distance = away * cosine - Math.sqrt(0.25 - away * away * (1 - cosine * cosine));
        expected += (((0.2 * Math.exp(-s - distance) * (1 - widest)) / 2) * 2.5) / steps / steps;
      }
    }
    expect(mean('volume')).to.be.closeTo(expected, 0.03 * expected);
  });

  it('what a volume depth cuts off is measured, and its splits are kept apart', () => {
    const scene = furnace({ ...FOG, transmission_scatter: [1, 1, 1] });
    const cut = renderTest({ ...scene, settings: { pixelSamples: 256, volumeSamples: 2, depth: { volume: 2 } } });
    const { cutOff } = filmStatistics(cut.film, 1);
    expect(cutOff.volume).to.be.above(0.02);
    expect(cut.mean + cutOff.volume).to.be.closeTo(1, 0.02);
    expect(cut.film.data[FILM.splits + VOLUME * SPLIT_LEVELS.length]).to.be.above(0);
  });

  it('a replayed path tells where it was scattered and what light it took up there', () => {
    const fog = { ...FOG, transmission_scatter: [1, 1, 1] };
    const lights = [{ kind: 'point' as const, strength: 5, transform: at(0, 0, 2) }];
    const { compiled, settings } = compileTest({ objects: [{ mesh: slab(20, 0, 4), surface: fog }], lights });
    const tracer = new PathTracer(compiled, settings);
    const film = renderHere(compiled, settings, { x: 3, y: 3, width: 1, height: 1 });
    let sum = 0;
    for (let sample = 0; sample < settings.pixelSamples; sample++) {
      const vertices = tracer.replay(3, 3, sample);
      const [first] = vertices;
      expect(first).to.include({ branch: 'volume', inside: true, object: 'o0', event: 0 });
      expect(first.position[2]).to.be.within(0, 4);
      for (const { lights: found, probe } of vertices)
        for (const { light, radiance, cutBy } of found) {
          expect(light).to.equal('l0');
          if (!probe && cutBy === null) sum += radiance[1];
        }
    }
    expect(sum).to.be.closeTo(film.data[1], 1e-5 * film.data[1]); // the film holds single precision
  });
});
