// Hecht, Optics; Born & Wolf, Principles of Optics; Walter et al. 2007; Heitz 2018.
import { expect } from 'chai';
import { samplePoint } from '@dusting/core/math';
import {
  fresnelDielectric,
  ggxDensity,
  ggxMasking,
  paneReflectance,
  sampleVisibleNormal,
  SPECULAR,
  SurfacePoint,
  TRANSMISSION,
} from '@dusting/core/shade';
import { compileTest, GLASS, square } from '../scenes.ts';

const degrees = (d: number) => (d * Math.PI) / 180;

const MIDDLE = Float64Array.of(0.5, 0.5);

describe('Fresnel', () => {
  it('n = 1.5: 4.0 % at normal incidence, from both sides', () => {
    expect(fresnelDielectric(1, 1.5)).to.be.closeTo(0.04, 1e-12);
    expect(fresnelDielectric(1, 1 / 1.5)).to.be.closeTo(0.04, 1e-12);
  });
  it("Brewster's angle of 56.31 degrees reflects no parallel light: half of the perpendicular share is left", () => {
    const n = 1.5;
    const perpendicular = ((n * n - 1) / (n * n + 1)) ** 2;
    expect(fresnelDielectric(Math.cos(Math.atan(n)), n)).to.be.closeTo(perpendicular / 2, 1e-12);
    expect((Math.atan(n) * 180) / Math.PI).to.be.closeTo(56.31, 0.005);
  });
  it('total reflection inside begins at 41.81 degrees', () => {
    expect(fresnelDielectric(Math.cos(degrees(41.82)), 1 / 1.5)).to.equal(1);
    expect(fresnelDielectric(Math.cos(degrees(41.8)), 1 / 1.5)).to.be.below(1);
  });
  it('one pane with all its internal reflections: T = (1 - R) / (1 + R) (Stokes 1862)', () => {
    expect(1 - paneReflectance(0.04)).to.be.closeTo(0.96 / 1.04, 1e-12);
  });
});

describe('GGX', () => {
  const integrate = (f: (cosine: number) => number) => {
    let sum = 0;
    const steps = 200_000;
    for (let i = 0; i < steps; i++) sum += (2 * Math.PI * f((i + 0.5) / steps)) / steps;
    return sum;
  };
  for (const alpha of [0.1, 0.5, 1])
    it(`alpha ${alpha}: the projected area of the facets is that of the surface`, () => {
      expect(integrate((c) => c * ggxDensity(Math.sqrt(1 - c * c), 0, c, alpha, alpha))).to.be.closeTo(1, 1e-3);
    });

  it('sampled normals have the mean of the visible ones (chi-square over 8 rings, 7 degrees of freedom, 0.1 % level)', () => {
    const alpha = 0.4;
    const [x, z] = [Math.sin(1), Math.cos(1)];
    const [point, normal] = [new Float64Array(2), new Float64Array(3)];
    const rings = new Float64Array(8);
    const expected = new Float64Array(8);
    const count = 20_000;
    for (let i = 0; i < count; i++) {
      samplePoint(point, 9, i);
      sampleVisibleNormal(normal, [x, 0, z], [alpha, alpha], point);
      rings[Math.min(7, Math.floor(normal[2] * 8))]++;
    }
    for (let i = 0; i < 1600; i++)
      for (let j = 0; j < 400; j++) {
        const c = (i + 0.5) / 1600;
        const f = (2 * Math.PI * (j + 0.5)) / 400;
        const along = Math.max(0, x * Math.sqrt(1 - c * c) * Math.cos(f) + z * c);
        const density =
          (ggxMasking(x, 0, z, alpha, alpha) * along * ggxDensity(Math.sqrt(1 - c * c), 0, c, alpha, alpha)) / z;
        expected[Math.min(7, Math.floor(c * 8))] += (density * 2 * Math.PI * count) / 1600 / 400;
      }
    const chi = rings.reduce((sum, n, i) => sum + (expected[i] > 5 ? (n - expected[i]) ** 2 / expected[i] : 0), 0);
    expect(chi).to.be.below(24.3);
  });
});

describe('a surface point', () => {
  const pointAt = (surface: object, angle: number, inside = false) => {
    const { compiled } = compileTest({ objects: [{ mesh: square(1), surface }], environment: { color: [1, 1, 1] } });
    const point = new SurfacePoint(compiled.surfaces, compiled.textures);
    Object.assign(point, { gx: 0, gy: 0, gz: 1, nx: 0, ny: 0, nz: 1 });
    point.prepare(0, { dx: Math.sin(angle), dy: 0, dz: inside ? Math.cos(angle) : -Math.cos(angle) });
    return point;
  };

  it("refracts by Snell's law, both ways", () => {
    for (const [angle, beyond] of [
      [10, 6.648],
      [30, 19.471],
      [45, 28.126],
      [60, 35.264],
      [80, 41.036],
    ]) {
      const into = pointAt({ ...GLASS, specular_ior: 1.5 }, degrees(angle));
      expect(into.sample(TRANSMISSION, MIDDLE)).to.equal(true);
      expect((Math.asin(into.wx) * 180) / Math.PI, `${angle} degrees`).to.be.closeTo(beyond, 0.001);
      const out = pointAt({ ...GLASS, specular_ior: 1.5 }, degrees(beyond), true);
      expect(out.sample(TRANSMISSION, MIDDLE)).to.equal(true);
      expect((Math.asin(out.wx) * 180) / Math.PI).to.be.closeTo(angle, 0.02);
    }
  });

  for (const [name, lobe] of [
    ['reflected', SPECULAR],
    ['refracted', TRANSMISSION],
  ] as const)
    it(`rough glass: the ${name} directions that are sampled have the density and value that evaluate gives`, () => {
      const point = pointAt({ ...GLASS, specular_roughness: 0.6 }, 0.7);
      const at = new Float64Array(2);
      for (let i = 0; i < 200; i++) {
        samplePoint(at, 4, i);
        if (!point.sample(lobe, at)) continue;
        const [weight, density] = [point.weight[0], point.density];
        expect(point.evaluate(lobe)).to.equal(true);
        expect(point.density).to.be.closeTo(density, 1e-6 * density);
        expect(point.weight[0] / point.density).to.be.closeTo(weight, 1e-6);
      }
    });

  it('a specular weight of 0 leaves a purely diffuse surface', () => {
    const point = pointAt({ specular_weight: 0 }, 0.4);
    expect([...point.chance]).to.deep.equal([1, 0, 0]);
  });
});
