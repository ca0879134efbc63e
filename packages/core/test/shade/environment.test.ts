// Own identities of probability: a density integrates to 1, samples follow it. Radiometry: even radiance L gives pi L.
import { expect } from 'chai';
import { hashUnit, samplePoint } from '@dusting/core/math';
import { buildEnvironment, environmentAt, LightSample, readSampled, sampleEnvironment } from '@dusting/core/shade';
import { chiSquare } from '../chiSquare.ts';
import { plainBuffer } from '@dusting/core/trace';

const width = 24;
const height = 12;
const texels = new Float32Array(width * height * 4);
for (let i = 0; i < width * height; i++) {
  // a dim sky with a wide bright patch
  const [x, y] = [(i % width) - 15, Math.floor(i / width) - 4];
  texels.fill(0.2 + 6 * Math.exp(-(x * x + y * y) / 12), i * 4, i * 4 + 3);
}
const map = buildEnvironment({ width, height, texels }, [1, 1, 1], 30, plainBuffer);
const out = new LightSample();
const point = new Float64Array(2);
/** Radiance and density in a direction. */
const look = (environment: typeof map, dx: number, dy: number, dz: number) => {
  environmentAt(environment, { dx, dy, dz }, out);
  return { radiance: out.radiance[0], density: out.density };
};
const choose = (u: number, v: number) => {
  [out.u, out.v] = [u, v];
  sampleEnvironment(map, out);
};

describe('environment picture', () => {
  it('its density integrates to 1 over the sphere', () => {
    let sum = 0;
    const [rows, columns] = [600, 1200];
    for (let j = 0; j < rows; j++)
      for (let i = 0; i < columns; i++) {
        const t = (Math.PI * (j + 0.5)) / rows;
        const f = (2 * Math.PI * (i + 0.5)) / columns;
        const area = ((Math.PI / rows) * 2 * Math.PI * Math.sin(t)) / columns;
        sum += area * look(map, Math.sin(t) * Math.cos(f), Math.cos(t), Math.sin(t) * Math.sin(f)).density;
      }
    expect(sum).to.be.closeTo(1, 0.005);
  });

  it('samples fall where the density says (chi-square over 12 x 24 parts of the sphere, 0.1 % level)', () => {
    const count = 40_000;
    const [rows, columns, fine] = [12, 24, 12];
    const seen = new Float64Array(rows * columns);
    for (let i = 0; i < count; i++) {
      choose(hashUnit(i * 2 + 1), hashUnit(i * 2 + 2));
      expect(Math.hypot(out.dx, out.dy, out.dz)).to.be.closeTo(1, 1e-9);
      const row = Math.min(rows - 1, Math.floor((Math.acos(out.dy) / Math.PI) * rows));
      const column = Math.min(columns - 1, Math.floor((Math.atan2(out.dz, out.dx) / (2 * Math.PI) + 0.5) * columns));
      seen[row * columns + column]++;
    }
    const expected = new Float64Array(rows * columns);
    for (let j = 0; j < rows * fine; j++)
      for (let i = 0; i < columns * fine; i++) {
        const t = (Math.PI * (j + 0.5)) / rows / fine;
        const f = 2 * Math.PI * ((i + 0.5) / columns / fine - 0.5);
        const area = (Math.PI / rows / fine) * ((2 * Math.PI) / columns / fine) * Math.sin(t);
        const part = Math.floor(j / fine) * columns + Math.floor(i / fine);
        expected[part] += count * area * look(map, Math.sin(t) * Math.cos(f), Math.cos(t), Math.sin(t) * Math.sin(f)).density; // prettier-ignore
      }
    chiSquare(seen, expected);
  });

  it('light per density hardly varies, so that noise is low', () => {
    let [sum, squares] = [0, 0];
    for (let i = 0; i < 4096; i++) {
      samplePoint(point, 8, i);
      choose(point[0], point[1]);
      const { radiance, density } = look(map, out.dx, out.dy, out.dz);
      sum += radiance / density;
      squares += (radiance / density) ** 2;
    }
    const relative = Math.sqrt(squares / 4096 / (sum / 4096) ** 2 - 1);
    expect(relative).to.be.below(0.05);
  });

  it('a sun of a single texel is found whole, wherever it stands: what a look-up spreads of it has its chance', () => {
    const [columns, rows] = [64, 32];
    for (const row of [0, 1, 8, 15, 31])
      for (const column of [0, 20, 63]) {
        const one = new Float32Array(columns * rows * 4);
        one.fill(1000, (row * columns + column) * 4, (row * columns + column) * 4 + 3);
        const sun = buildEnvironment({ width: columns, height: rows, texels: one }, [1, 1, 1], 0, plainBuffer);
        let [sum, apart] = [0, 0];
        for (let i = 0; i < 4096; i++) {
          samplePoint(point, 8, i);
          [out.u, out.v] = [point[0], point[1]];
          sampleEnvironment(sun, out);
          readSampled(sun, out);
          const { density } = out;
          const found = look(sun, out.dx, out.dy, out.dz);
          apart = Math.max(apart, Math.abs(found.density / density - 1));
          sum += found.radiance / density / 4096;
        }
        expect(apart).to.be.below(1e-3);
        // the tent of a bilinear look-up, over the solid angle that it covers
        let wanted = 0;
        for (let k = 0; k < 2000; k++) {
          const y = row + 0.5 + (k + 0.5) / 1000 - 1;
          if (y < 0 || y > rows) continue;
          const height = Math.min(rows - 0.5, Math.max(0.5, y)) - row - 0.5;
          wanted += (1000 * (1 - Math.abs(height)) * Math.sin((Math.PI * y) / rows) * (Math.PI / rows) * ((2 * Math.PI) / columns)) / 1000; // prettier-ignore
        }
        expect(sum / wanted, `row ${row}`).to.be.closeTo(1, 0.01);
      }
  });

  it('a ceiling brings bright texels down to a luminance, before color and strength, and keeps their hue', () => {
    const two = new Float32Array([4, 2, 1, 1, 0.4, 0.2, 0.1, 1]);
    const map = buildEnvironment({ width: 2, height: 1, texels: two }, [3, 3, 3], 0, plainBuffer, 0.5);
    const y = 0.2126 * 4 + 0.7152 * 2 + 0.0722;
    for (let k = 0; k < 3; k++) {
      expect(map.texels[k]).to.be.closeTo((3 * 0.5 * two[k]) / y, 1e-6);
      expect(map.texels[4 + k]).to.be.closeTo(3 * two[4 + k], 1e-6);
    }
  });

  it('turns about the vertical axis by its rotation', () => {
    const one = new Float32Array(8 * 4 * 4);
    one.fill(1, (1 * 8 + 4) * 4, (1 * 8 + 4) * 4 + 3); // just right of the middle, above the horizon: towards -Z
    const plain = buildEnvironment({ width: 8, height: 4, texels: one }, [1, 1, 1], 0, plainBuffer);
    const turned = buildEnvironment({ width: 8, height: 4, texels: one }, [1, 1, 1], 90, plainBuffer);
    const [t, f] = [(Math.PI * 1.5) / 4, Math.PI / 8];
    const [x, y, z] = [Math.sin(t) * Math.sin(f), Math.cos(t), -Math.sin(t) * Math.cos(f)];
    expect(look(plain, x, y, z).radiance).to.be.closeTo(1, 1e-9);
    // by the right-hand rule about +Y, -Z goes to -X
    expect(look(turned, z, y, -x).radiance).to.be.closeTo(1, 1e-9);
    expect(look(turned, x, y, z).radiance).to.be.closeTo(0, 1e-9);
  });
});
