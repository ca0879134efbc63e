// Own identities of probability: a density integrates to 1, samples follow it. Radiometry: even radiance L gives pi L.
import { expect } from 'chai';
import { hashUnit, samplePoint } from '@dusting/core/math';
import { buildEnvironment, environmentAt, LightSample, sampleEnvironment } from '@dusting/core/shade';
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
    // bilinear look-ups leave the difference to the even texels
    expect(relative).to.be.below(0.35);
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
