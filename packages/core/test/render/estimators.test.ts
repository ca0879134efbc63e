// What the statistics of sampling demand. Variances are of many small renders with different seeds.
// Standard error: any statistics handbook. Multiple importance sampling: Veach 1997, 9.2. Occlusion is a binomial share:
// variance p (1 - p) / n. A filter that places samples leaves them as independent as before (Ernst et al. 2006).
import { expect } from 'chai';
import { compileScene, FILM, filmStatistics, frameOf, renderHere, STRATEGIES, type Strategies } from '@dusting/core/render'; // prettier-ignore
import type { RenderSettings } from '@dusting/core/scene';
import { GLOW, makeShot, MATT, sphere, square, type TestScene } from '../scenes.ts';

const at = (x: number, y: number, z: number) => [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z];

/** Means of one number of the film over the picture, for each of many seeds. */
function runs(scene: TestScene, count: number, change: Partial<RenderSettings> = {}, strategies: Partial<Strategies> = {}, slot: number = FILM.beauty + 1) {
  const { document, blobs } = makeShot(scene);
  const compiled = compileScene(document, document.final, (id) => blobs.get(id)!);
  const values = Array.from({ length: count }, (_, i) => {
    const settings = { ...document.final, ...change, seed: i + 1 };
    const { data } = renderHere(compiled, settings, frameOf(settings), { ...STRATEGIES, ...strategies });
    let sum = 0;
    for (let p = 0; p < data.length; p += FILM.stride) sum += data[p + slot] / data[p + FILM.samples];
    return (sum * FILM.stride) / data.length;
  });
  const mean = values.reduce((s, v) => s + v, 0) / count;
  const variance = values.reduce((s, v) => s + (v - mean) ** 2, 0) / (count - 1);
  return { mean, variance };
} // prettier-ignore

// a floor below a bright ball, of which a point sees a part
const scene: TestScene = {
  objects: [
    { mesh: square(8), surface: { base_color: [0.6, 0.6, 0.6], specular_roughness: 0.35 } },
    { mesh: sphere(0.4, 24), surface: MATT, transform: at(0.3, 0.2, 0.6) },
  ],
  lights: [{ kind: 'sphere', radius: 0.5, strength: 4, transform: at(0.8, 0.5, 2), seenByCamera: false }],
  view: 2,
  settings: { width: 2, height: 2, pixelSamples: 16, depth: { diffuse: 1, specular: 1, transmission: 1, total: 1 } },
};

describe('estimators', () => {
  it('the error falls as 1 / sqrt(n) with independent points, and not slower with ours', () => {
    const ratio = (evenPoints: boolean) => {
      const few = runs(scene, 400, { pixelSamples: 8 }, { evenPoints });
      return few.variance / runs(scene, 400, { pixelSamples: 64 }, { evenPoints }).variance;
    };
    // a ratio of variances from 400 values each has a relative standard deviation of sqrt(2 * 2 / 399) = 10 %
    expect(ratio(false)).to.be.within(8 * 0.7, 8 * 1.3);
    expect(ratio(true)).to.be.above(8 * 0.8);
  });

  it('the weighed estimate is not worse than the better strategy by more than the bound', () => {
    const independent = { evenPoints: false };
    const of = (lights: Strategies['lights']) => runs(scene, 400, {}, { ...independent, lights });
    const [both, asked, met] = [of('both'), of('asked'), of('met')];
    // Veach's bound for the balance heuristic, which the power heuristic keeps here: var <= best var + (1/1 - 1/2) mean^2 / n
    const samples = 16 * 4;
    const bound = (0.5 * both.mean ** 2) / samples;
    expect(both.variance).to.be.below(1.3 * (Math.min(asked.variance, met.variance) + bound));
    expect(both.variance).to.be.below(Math.max(asked.variance, met.variance));
  });

  it('a wide filter leaves the noise as it is on an even surface', () => {
    const even: TestScene = {
      ...scene,
      objects: [{ mesh: square(40), surface: MATT }],
      lights: [{ ...scene.lights![0], transform: at(0, 0, 30), radius: 5 }],
      settings: { ...scene.settings, width: 8, height: 8, pixelSamples: 64, diffuseSamples: 1 },
      view: 0.01,
    };
    const { document, blobs } = makeShot(even);
    const noise = (filter: RenderSettings['filter']) => {
      const settings = { ...document.final, filter };
      const compiled = compileScene(document, settings, (id) => blobs.get(id)!);
      const film = renderHere(compiled, settings, frameOf(settings), { ...STRATEGIES, lights: 'met' });
      return filmStatistics(film, 1).noise;
    };
    const box = noise({ kind: 'box', width: 1 });
    expect(box).to.be.above(0.1);
    for (const kind of ['triangle', 'gaussian', 'blackman-harris'] as const)
      expect(noise({ kind, width: 3 })).to.be.closeTo(box, 0.15 * box);
  });

  it('occlusion of one ray a sample has the variance of a binomial share', () => {
    const wall = { mesh: square(4000), surface: MATT, transform: [0, 0, 1, 1e-3, 0, 1, 0, 0, -1, 0, 0, 0] };
    const occlusion = { samples: 1, distance: 0, falloff: 0, cone: 90, clearSurfaces: true };
    const open = runs(
      { ...scene, objects: [scene.objects[0], wall], view: 1e-4 },
      600,
      { pixelSamples: 4, occlusion },
      { evenPoints: false },
      FILM.occlusion,
    );
    const n = 4 * 4; // rays of a picture
    expect(open.mean).to.be.closeTo(0.5, 4 * Math.sqrt(0.25 / n / 600));
    expect(open.variance).to.be.closeTo((0.5 * 0.5) / n, 0.25 * (0.25 / n));
  });

  it('emissive polygons give the irradiance of Lambert (1760): half the sum of edge angles by their planes', () => {
    const corners = [0, 1, 2, 3, 4].map((i) => {
      const a = (2 * Math.PI * i) / 5;
      return [0.9 * Math.cos(a) + 0.4, 0.7 * Math.sin(a), 1.2 + 0.3 * Math.cos(a)];
    });
    let factor = 0;
    corners.forEach((a, i) => {
      const b = corners[(i + 1) % 5];
      const cross = [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
      const angle = Math.acos((a[0] * b[0] + a[1] * b[1] + a[2] * b[2]) / Math.hypot(...a) / Math.hypot(...b));
      factor += (angle * cross[2]) / Math.hypot(...cross) / (2 * Math.PI);
    });
    const polygon = { positions: new Float32Array(corners.flat()), normals: null, uvs: null, indices: new Uint32Array([0, 1, 2, 0, 2, 3, 0, 3, 4]) }; // prettier-ignore
    const lit = runs(
      {
        objects: [
          { mesh: square(40), surface: { ...MATT, base_color: [0.5, 0.5, 0.5] } },
          { mesh: polygon, surface: { ...GLOW, emission_luminance: 3 }, flags: { seenByCamera: false } },
        ],
        view: 1e-5,
        settings: { ...scene.settings, pixelSamples: 64 },
      },
      20,
    );
    expect(lit.mean).to.be.closeTo(0.5 * 3 * Math.abs(factor), 4 * Math.sqrt(lit.variance / 20) + 1e-4);
  });
});
