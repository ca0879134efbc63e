// Own identities of probability: a density integrates to 1, samples follow it. Radiometry: even radiance L gives pi L.
import { expect } from 'chai';
import { samplePoint } from '@dusting/core/math';
import { buildEnvironment, environmentAt, sampleEnvironment } from '@dusting/core/shade';
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
const out = new Float64Array(3);
const direction = new Float64Array(3);
const point = new Float64Array(2);

describe('environment picture', () => {
  it('its density integrates to 1 over the sphere', () => {
    let sum = 0;
    const [rows, columns] = [600, 1200];
    for (let j = 0; j < rows; j++)
      for (let i = 0; i < columns; i++) {
        const t = (Math.PI * (j + 0.5)) / rows;
        const f = (2 * Math.PI * (i + 0.5)) / columns;
        const area = ((Math.PI / rows) * 2 * Math.PI * Math.sin(t)) / columns;
        sum += area * environmentAt(map, Math.sin(t) * Math.cos(f), Math.cos(t), Math.sin(t) * Math.sin(f), out);
      }
    expect(sum).to.be.closeTo(1, 0.005);
  });

  it('samples fall where the density says: their mean of 1 / density is the whole sphere', () => {
    let sum = 0;
    const count = 40_000;
    for (let i = 0; i < count; i++) {
      samplePoint(point, 3, i);
      sampleEnvironment(map, point[0], point[1], direction);
      expect(Math.hypot(...direction)).to.be.closeTo(1, 1e-9);
      sum += 1 / environmentAt(map, direction[0], direction[1], direction[2], out) / count;
    }
    expect(sum / (4 * Math.PI)).to.be.closeTo(1, 0.03);
  });

  it('light per density hardly varies, so that noise is low', () => {
    let [sum, squares] = [0, 0];
    for (let i = 0; i < 4096; i++) {
      samplePoint(point, 8, i);
      sampleEnvironment(map, point[0], point[1], direction);
      const density = environmentAt(map, direction[0], direction[1], direction[2], out);
      sum += out[0] / density;
      squares += (out[0] / density) ** 2;
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
    environmentAt(plain, x, y, z, out);
    expect(out[0]).to.be.closeTo(1, 1e-9);
    // by the right-hand rule about +Y, -Z goes to -X
    environmentAt(turned, z, y, -x, out);
    expect(out[0]).to.be.closeTo(1, 1e-9);
    environmentAt(turned, x, y, z, out);
    expect(out[0]).to.be.closeTo(0, 1e-9);
  });
});
