// Laws that hold for every reflectance model: reciprocity (Helmholtz), energy at most that received, and a sampling
// routine whose density is the one it states. White surfaces keep all energy (white furnace). Portsmouth, Kutz & Hill
// 2024 for rough diffuse; Kulla & Conty 2017 for rough metal; Born & Wolf 4.7 for the Abbe number.
import { expect } from 'chai';
import { hashUnit, samplePoint } from '@dusting/core/math';
import type { Surface } from '@dusting/core/scene';
import { DIFFUSE, dispersedIor, roughDiffuse, roughDiffuseAlbedo, SPECULAR, SurfacePoint, TRANSMISSION, type Lobe } from '@dusting/core/shade'; // prettier-ignore
import { compileTest, square } from '../scenes.ts';

const WHITE: Partial<Surface> = { base_color: [1, 1, 1] };
const makePoint = (surface: Partial<Surface>) => {
  const { compiled } = compileTest({ objects: [{ mesh: square(1), surface }], environment: { color: [1, 1, 1] } });
  return new SurfacePoint(compiled.surfaces, compiled.textures);
};
/** Turns the point to a viewer at this angle from the normal and this angle about it. */
const turn = (point: SurfacePoint, theta: number, phi: number) => {
  Object.assign(point, { gx: 0, gy: 0, gz: 1, nx: 0, ny: 0, nz: 1, tangentX: 1, tangentY: 0, tangentZ: 0 });
  const sine = Math.sin(theta);
  point.prepare(0, { dx: -sine * Math.cos(phi), dy: -sine * Math.sin(phi), dz: -Math.cos(theta) });
};
const at = new Float64Array(2);
/** Mean weight of the samples of all lobes: the share of the light that leaves again. */
const albedo = (point: SurfacePoint, count = 4096) => {
  let sum = 0;
  for (let lobe = 0; lobe < 3; lobe++) {
    if (point.chance[lobe] === 0) continue;
    for (let i = 0; i < count; i++) {
      samplePoint(at, 11 + lobe, i);
      // what is let through is gathered over a solid angle that refraction has narrowed
      const scale = lobe === TRANSMISSION && point.bounds ? point.etaSquared : 1;
      if (point.sample(lobe as Lobe, at)) sum += (point.weight[0] * scale) / count;
    }
  }
  return sum;
};
const ANGLES = [0.1, 0.7, 1.2, 1.45];

const evaluate = (point: SurfacePoint, lobe: Lobe, wx: number, wy: number, wz: number) => {
  Object.assign(point, { wx, wy, wz });
  return point.evaluate(lobe);
};

describe('reflectance', () => {
  const models: [string, Partial<Surface>][] = [
    ['rough diffuse', { specular_weight: 0, base_diffuse_roughness: 0.8 }],
    ['glossy', { specular_roughness: 0.3 }],
    ['brushed metal', { base_metalness: 1, specular_roughness: 0.5, specular_roughness_anisotropy: 0.8, specular_anisotropy_rotation: 30 }], // prettier-ignore
    ['coated', { coat_weight: 1, coat_roughness: 0.3, coat_color: [0.8, 0.9, 1], specular_roughness: 0.4 }],
  ];
  for (const [name, surface] of models)
    it(`${name}: reciprocal, and never gives more than it receives (random colours, roughnesses and directions)`, () => {
      for (let i = 0; i < 6; i++) {
        const r = (k: number) => hashUnit(i * 50 + k);
        const point = makePoint({ base_color: [r(1), r(2), 1], ...surface });
        const [a, b] = [[0.2 + r(3), 6 * r(4)], [0.2 + r(5), 6 * r(6)]]; // prettier-ignore
        const towards = ([theta, phi]: number[]) => [Math.sin(theta) * Math.cos(phi), Math.sin(theta) * Math.sin(phi), Math.cos(theta)]; // prettier-ignore
        const value = (from: number[], to: number[]) => {
          turn(point, from[0], from[1]);
          const [x, y, z] = towards(to);
          let sum = 0;
          for (const lobe of [DIFFUSE, SPECULAR] as const)
            if (evaluate(point, lobe, x, y, z)) sum += point.weight[1] / z;
          return sum;
        };
        const there = value(a, b);
        expect(value(b, a)).to.be.closeTo(there, 1e-6 + 1e-6 * there);
        turn(point, a[0], a[1]);
        expect(albedo(point, 1024)).to.be.below(1.02);
      }
    });

  const sampled: [string, Partial<Surface>, Lobe][] = [
    ['rough diffuse', { specular_weight: 0, base_diffuse_roughness: 1 }, DIFFUSE],
    ['rough metal with its second lobe', { base_metalness: 1, specular_roughness: 0.9 }, SPECULAR],
    ['brushed metal', { base_metalness: 1, specular_roughness: 0.6, specular_roughness_anisotropy: 0.7 }, SPECULAR],
    ['coat over gloss', { coat_weight: 1, coat_roughness: 0.5, specular_roughness: 0.3 }, SPECULAR],
    [
      'thin frosted glass',
      { transmission_weight: 1, geometry_thin_walled: true, specular_roughness: 0.5 },
      TRANSMISSION,
    ],
    ['a thin pane, as rough as can be', { transmission_weight: 1, geometry_thin_walled: true, specular_roughness: 1 }, TRANSMISSION], // prettier-ignore
    ['frosted glass', { transmission_weight: 1, specular_roughness: 0.5 }, TRANSMISSION],
    ['the outside of frosted glass', { transmission_weight: 1, specular_ior: 2.4, specular_roughness: 0.9 }, SPECULAR],
  ];
  for (const [name, surface, lobe] of sampled)
    it(`${name}: sampled directions have the density that is stated (chi-square, 0.1 % level)`, () => {
      const point = makePoint({ ...WHITE, ...surface });
      turn(point, 0.8, 0.4);
      const [rows, columns, count] = [8, 12, 40_000];
      const side = lobe === TRANSMISSION ? -1 : 1;
      const expected = new Float64Array(rows * columns);
      const found = new Float64Array(rows * columns);
      const fine = 40;
      for (let i = 0; i < rows * fine; i++)
        for (let j = 0; j < columns * fine; j++) {
          const z = (i + 0.5) / (rows * fine);
          const phi = (2 * Math.PI * (j + 0.5)) / (columns * fine);
          const s = Math.sqrt(1 - z * z);
          if (!evaluate(point, lobe, s * Math.cos(phi), s * Math.sin(phi), side * z)) continue;
          const cell = Math.floor(i / fine) * columns + Math.floor(j / fine);
          expected[cell] += (point.density * 2 * Math.PI * count) / (rows * fine * columns * fine);
        }
      let whole = 0;
      for (let i = 0; i < count; i++) {
        if (!point.sample(lobe, Float64Array.of(hashUnit(2 * i + 1), hashUnit(2 * i + 2)))) continue;
        whole++;
        const phi = (Math.atan2(point.wy, point.wx) + 2 * Math.PI) % (2 * Math.PI);
        const row = Math.min(rows - 1, Math.floor(Math.abs(point.wz) * rows));
        found[row * columns + Math.min(columns - 1, Math.floor((phi / (2 * Math.PI)) * columns))]++;
      }
      expect(whole).to.be.above(0.5 * count);
      let [chi, cells] = [0, 0];
      expected.forEach((e, i) => {
        if (e < 8) return;
        cells++;
        chi += (found[i] - e) ** 2 / e;
      });
      // mean n, variance 2 n; 3.3 of its standard deviations
      expect(chi).to.be.below(cells + 3.3 * Math.sqrt(2 * cells) + 5);
    });

  const furnace: [string, Partial<Surface>, number][] = [
    ['rough diffuse', { specular_weight: 0, base_diffuse_roughness: 1 }, 1e-3],
    ['rough metal', { base_metalness: 1, specular_roughness: 1 }, 0.01],
    ['half rough metal', { base_metalness: 1, specular_roughness: 0.6 }, 0.01],
    ['rough gloss over white', { specular_roughness: 0.9 }, 0.012],
    ['frosted glass', { transmission_weight: 1, specular_roughness: 0.7 }, 0.02],
    ['coat over white', { coat_weight: 1, coat_roughness: 0.2, specular_weight: 0 }, 0.02],
  ];
  for (const [name, surface, slack] of furnace)
    it(`${name}, white: light from every direction leaves again whole`, () => {
      const point = makePoint({ ...WHITE, ...surface });
      // a layered diffuse surface keeps the whole over all directions, not for each of them
      let [mean, weights] = [0, 0];
      for (let i = 0; i < 24; i++) {
        const theta = Math.acos(Math.sqrt((i + 0.5) / 24));
        turn(point, theta, 0.3);
        const a = albedo(point, 1024);
        mean += a;
        weights++;
      }
      expect(mean / weights).to.be.closeTo(1, slack);
      if (surface.base_metalness)
        for (const theta of ANGLES) {
          turn(point, theta, 0);
          expect(albedo(point)).to.be.closeTo(1, 0.03);
        }
    });

  const transmitting: [string, Partial<Surface>, boolean][] = [
    ['a frosted pane', { geometry_thin_walled: true }, false],
    ['frosted glass from outside', {}, false],
    ['frosted glass from inside', {}, true],
  ];
  for (const [name, surface, inside] of transmitting)
    for (const transmission_weight of [0.25, 0.5, 1])
      it(`${name}, ${transmission_weight * 100} % transmitting: a white furnace within 1 % over roughness, index and angle`, () => {
        let worst = { off: 0, what: '' };
        for (const specular_ior of [1.1, 1.33, 1.5, 2, 2.5])
          for (const specular_roughness of [0, 0.1, 0.2, 0.3, 0.45, 0.6, 0.7, 0.85, 1]) {
            const point = makePoint({ ...WHITE, ...surface, transmission_weight, specular_ior, specular_roughness });
            for (const degrees of [0, 20, 40, 50, 63, 72, 80]) {
              const theta = (degrees * Math.PI) / 180;
              turn(point, inside ? Math.PI - theta : theta, 0.3);
              const off = Math.abs(albedo(point, 2048) - 1);
              if (off > worst.off) worst = { off, what: `n ${specular_ior}, roughness ${specular_roughness}, ${degrees} degrees` }; // prettier-ignore
            }
          }
        expect(worst.off, worst.what).to.be.below(0.01);
      });

  it('transmission is reciprocal: radiance over the square of the index is the same both ways (Veach 1997, 5.2)', () => {
    for (let i = 0; i < 40; i++) {
      const r = (k: number) => hashUnit(i * 20 + k);
      const thin = i % 2 === 0;
      const specular_ior = 1.1 + 1.4 * r(0);
      const point = makePoint({ transmission_weight: 0.7, specular_ior, specular_roughness: 0.2 + 0.8 * r(1), geometry_thin_walled: thin }); // prettier-ignore
      const [a, b] = [[1.3 * r(2), 6 * r(3)], [1.3 * r(4), 6 * r(5)]]; // prettier-ignore
      const up = ([theta, phi]: number[]) => [Math.sin(theta) * Math.cos(phi), Math.sin(theta) * Math.sin(phi), Math.cos(theta)]; // prettier-ignore
      const value = (to: number[]) => {
        const [x, y, z] = to;
        return evaluate(point, TRANSMISSION, x, y, z) ? point.weight[1] / Math.abs(z) : 0;
      };
      turn(point, a[0], a[1]);
      const there = value(up(b).map((v) => -v));
      turn(point, Math.PI - b[0], b[1] + Math.PI);
      const back = value(up(a));
      const squared = thin ? 1 : specular_ior ** 2;
      expect(there).to.be.closeTo(back / squared, 1e-9 + 1e-6 * there);
    }
  });

  it('rough diffuse of roughness 0 is Lambert, and its tabulated albedo is the integral of its single scattering', () => {
    expect(roughDiffuse(0.3, 0.4, 0.5, 0.9, 0)).to.equal(0.3);
    for (const cosine of [0.2, 0.6, 0.95]) {
      // a nearly black surface scatters only once
      const rho = 1e-6;
      const s = Math.sqrt(1 - cosine * cosine);
      let sum = 0;
      const n = 300;
      for (let i = 0; i < n; i++)
        for (let j = 0; j < n; j++) {
          const z = Math.sqrt((i + 0.5) / n);
          const phi = (2 * Math.PI * (j + 0.5)) / n;
          const between = s * Math.sqrt(1 - z * z) * Math.cos(phi) + cosine * z;
          sum += roughDiffuse(rho, cosine, z, between, 0.7) / rho / n / n;
        }
      expect(sum).to.be.closeTo(roughDiffuseAlbedo(cosine, 0.7), 2e-3);
    }
  });

  it('dispersion: the indices of the Abbe number, between red and blue', () => {
    const [red, green, blue] = dispersedIor(1.5168, 64.17, 1); // borosilicate crown: F - C = 0.00805 (Hecht, table 6.2)
    expect(blue - red).to.be.within(0.006, 0.012);
    expect(green).to.be.closeTo(1.5168, 0.002);
    expect(dispersedIor(1.5, 50, 0)).to.deep.equal([1.5, 1.5, 1.5]);
  });

  it('a normal map tilts the reflection, by twice its angle', () => {
    const point = makePoint({ base_metalness: 1, specular_roughness: 0, ...WHITE });
    Object.assign(point, { gx: 0, gy: 0, gz: 1, nx: Math.sin(0.2), ny: 0, nz: Math.cos(0.2) });
    point.prepare(0, { dx: 0, dy: 0, dz: -1 });
    expect(point.sample(SPECULAR, Float64Array.of(0.5, 0.5))).to.equal(true);
    expect(Math.asin(point.wx)).to.be.closeTo(0.4, 1e-9);
  });
});
