// CIEDE2000: pairs of the test data of Sharma, Wu & Dalal 2005, table 1 (from memory), and an independent library. The
// structural similarity of two even pictures and of a picture with its negative has a closed form (Wang et al. 2004).
import { expect } from 'chai';
import { converter, differenceCiede2000 } from 'culori';
import { deltaE2000, toLab } from '@dusting/core/color';
import { differencesOf, structuralSimilarity, type Picture } from '@dusting/core/image';
import { hashUnit } from '@dusting/core/math';

const region = (width: number, height: number, x = 0, y = 0) => ({ x, y, width, height });
const picture = (width: number, height: number, value: (i: number, k: number) => number, x = 0, y = 0): Picture => ({
  width,
  height,
  dataWindow: region(width, height, x, y),
  displayWindow: region(64, 64),
  channels: ['R', 'G', 'B'].map((name, k) => ({ name, type: 'float', data: Float32Array.from({ length: width * height }, (_, i) => value(i, k)) })), // prettier-ignore
  metadata: {},
});

const mean = (map: Float32Array) => map.reduce((sum, v) => sum + v, 0) / map.length;

describe('differences of pictures', () => {
  it('CIEDE2000: published pairs', () => {
    const pairs: [number[], number[], number][] = [
      [[50, 2.6772, -79.7751], [50, 0, -82.7485], 2.0425],
      [[50, 3.1571, -77.2803], [50, 0, -82.7485], 2.8615],
      [[50, -1.3802, -84.2814], [50, 0, -82.7485], 1],
      [[50, 0, 0], [50, -1, 2], 2.3669],
      [[50, 2.5, 0], [73, 25, -18], 27.1492],
      [[60.2574, -34.0099, 36.2677], [60.4626, -34.1751, 39.4387], 1.2644],
      [[2.0776, 0.0795, -1.135], [0.9033, -0.0636, -0.5514], 0.9082],
    ]; // prettier-ignore
    for (const [one, two, expected] of pairs) expect(deltaE2000(one, two)).to.be.closeTo(expected, 1e-4);
  });
  it('colours and differences are those of an independent library', () => {
    const lab = converter('lab65');
    const difference = differenceCiede2000();
    const out = [0, 0, 0];
    for (let i = 0; i < 50; i++) {
      const [one, two] = [0, 3].map((at) => [0, 1, 2].map((k) => hashUnit(i * 6 + at + k)));
      const colors = [one, two].map(([r, g, b]) => ({ mode: 'lrgb', r, g, b }));
      const theirs = lab(colors[0]) as unknown as { l: number; a: number; b: number };
      toLab(one[0], one[1], one[2], out);
      [theirs.l, theirs.a, theirs.b].forEach((v, k) => expect(out[k]).to.be.closeTo(v, 0.03));
      const [a, b] = [one, two].map((c) => {
        const to = [0, 0, 0];
        toLab(c[0], c[1], c[2], to);
        return to;
      });
      const [c, d] = colors.map((color) => lab(color) as unknown as { l: number; a: number; b: number });
      expect(deltaE2000(a, b)).to.be.closeTo(difference({ ...c, mode: 'lab65' }, { ...d, mode: 'lab65' }), 0.03);
    }
  });
  it('structural similarity: alike, even, and turned into its negative', () => {
    const noise = Float64Array.from({ length: 900 }, (_, i) => hashUnit(i));
    expect(mean(structuralSimilarity(noise, noise, 30, 30))).to.be.closeTo(1, 1e-12);
    const even = (v: number) => new Float64Array(900).fill(v);
    expect(mean(structuralSimilarity(even(0.3), even(0.5), 30, 30))).to.be.closeTo(
      (2 * 0.15 + 1e-4) / (0.34 + 1e-4),
      1e-6, // maps are single precision
    );
    // the same spread about 1/2, with a covariance of the opposite sign
    expect(mean(structuralSimilarity(noise, noise.map((v) => 1 - v), 30, 30))).to.be.below(-0.5); // prettier-ignore
  });
  it('errors of a constant shift, over the part that both cover', () => {
    const before = picture(20, 10, () => 0.5);
    const after = picture(30, 20, () => 0.6, 5, 2);
    const found = differencesOf(before, after, region(64, 64), 0)!;
    expect(found.rmse).to.be.closeTo(0.1, 1e-6);
    expect(found.relative).to.be.closeTo(0.01 / (0.25 + 0.01), 1e-6);
    expect(found.similarity).to.be.within(0.9, 0.9999);
    expect(found.deltaE).to.be.above(3);
    expect(differencesOf(before, before, region(5, 5), 1)).to.deep.equal({ rmse: 0, relative: 0, similarity: 1, deltaE: 0 }); // prettier-ignore
    expect(differencesOf(before, after, region(3, 3), 0), 'nothing in common there').to.equal(null);
    expect(differencesOf(before, after, region(64, 64), 0, 'transmission')).to.equal(null);
  });
});
