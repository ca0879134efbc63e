// Solid angles with a closed form: a sphere 2 pi (1 - cos), a square over its middle 4 asin(...) (van Oosterom &
// Strackee 1983 gives the same for its triangles).
import { expect } from 'chai';
import { samplePoint } from '@dusting/core/math';
import {
  buildEmitters,
  emitterDensity,
  fillLight,
  LIGHT_STRIDE,
  LightSample,
  meetLight,
  sampleEmitter,
  sampleLight,
} from '@dusting/core/shade';
import type { Light } from '@dusting/core/scene';
import { plainBuffer } from '@dusting/core/trace';

const tableOf = (light: Partial<Light>) => {
  const table = new Float64Array(LIGHT_STRIDE);
  fillLight(table, 0, {
    name: 'x',
    kind: 'point',
    color: [1, 1, 1],
    strength: 1,
    transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 2],
    ...light,
  });
  return table;
};
const out = new LightSample();
const point = new Float64Array(2);
const squareAngle = 4 * Math.asin(0.25 / (0.25 + 4)); // half side 0.5 at distance 2

describe('light sampling', () => {
  const shapes: [string, Partial<Light>, number][] = [
    ['rectangle', { kind: 'rectangle', width: 1, height: 1 }, squareAngle],
    ['sphere', { kind: 'sphere', radius: 0.7 }, 2 * Math.PI * (1 - Math.sqrt(1 - (0.7 / 2) ** 2))],
    ['sun', { kind: 'sun', angle: 10 }, 2 * Math.PI * (1 - Math.cos((5 * Math.PI) / 180))],
  ];
  for (const [name, light, angle] of shapes)
    it(`a ${name}: the mean of 1 / density is its solid angle, and a ray that meets it agrees on the density`, () => {
      const table = tableOf(light);
      let sum = 0;
      for (let i = 0; i < 4096; i++) {
        samplePoint(point, 5, i);
        expect(sampleLight(table, 0, 0, 0, 0, point[0], point[1], out)).to.equal(true);
        sum += 1 / out.density / 4096;
        const inward = 1e-9; // off the very edge
        const density = meetLight(table, 0, 0, 0, 0, out.dx, out.dy, out.dz + inward, Infinity);
        if (density > 0) expect(density).to.be.closeTo(out.density, 1e-6 * out.density);
        expect(meetLight(table, 0, 0, 0, 0, -out.dx, -out.dy, -out.dz, Infinity)).to.equal(0);
      }
      expect(sum).to.be.closeTo(angle, 0.002 * angle);
    });

  it('a rectangle shines to one side, and something nearer hides it', () => {
    const table = tableOf({ kind: 'rectangle', width: 1, height: 1 });
    expect(sampleLight(table, 0, 0, 0, 4, 0.5, 0.5, out)).to.equal(false);
    expect(meetLight(table, 0, 0, 0, 0, 0, 0, 1, 1.9)).to.equal(0);
    expect(meetLight(table, 0, 0, 0, 0, 0, 0, 1, 2.1)).to.be.above(0);
  });

  it('from inside a sphere it is not sampled', () => {
    expect(sampleLight(tableOf({ kind: 'sphere', radius: 3 }), 0, 0, 0, 0, 0.5, 0.5, out)).to.equal(false);
  });

  it('emissive triangles: the mean of 1 / density is the solid angle of them all, brighter ones are met more often', () => {
    const corners = [[-0.5, -0.5, 2], [0.5, -0.5, 2], [0.5, 0.5, 2], [-0.5, 0.5, 2]]; // prettier-ignore
    const triangle = (a: number, b: number, c: number, radiance: number) => ({
      corners: [...corners[a], ...corners[b], ...corners[c]],
      object: 0,
      triangle: 0,
      radiance: [radiance, radiance, radiance],
    });
    const table = buildEmitters([triangle(0, 1, 2, 1), triangle(0, 2, 3, 3)], plainBuffer);
    let [sum, second] = [0, 0];
    for (let i = 0; i < 4096; i++) {
      samplePoint(point, 6, i);
      const [u, v] = point;
      samplePoint(point, 7, i);
      const chosen = sampleEmitter(table, 0, 0, 0, point[0], u, v, out);
      second += chosen / 4096;
      sum += 1 / out.density / 4096;
      expect(emitterDensity(table, chosen, out.dx, out.dy, out.dz, out.distance)).to.equal(out.density);
    }
    expect(second).to.be.closeTo(0.75, 0.01);
    expect(sum).to.be.closeTo(squareAngle, 0.01 * squareAngle);
  });
});
