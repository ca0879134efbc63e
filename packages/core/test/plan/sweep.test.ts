// Satopaa et al. 2011: the knee of 1 / x over its range; here against the closed form of the chord's farthest point.
import { expect } from 'chai';
import { InputError } from '@dusting/core/formats';
import { kneeOf, MOST_TRIALS, sequenceCost, sweepPatches, usualValues } from '@dusting/core/plan';

describe('sweeps', () => {
  it('take every combination, the last setting running fastest', () => {
    const rows = sweepPatches([{ path: 'pixelSamples', values: [4, 8] }, { path: 'depth/total', values: [1, 2, 3] }], 'final'); // prettier-ignore
    expect(rows.map((row) => row.map((o) => ('value' in o ? o.value : null)))).to.deep.equal([[4, 1], [4, 2], [4, 3], [8, 1], [8, 2], [8, 3]]); // prettier-ignore
    expect(rows[0].map((o) => o.path)).to.deep.equal(['/final/pixelSamples', '/final/depth/total']);
  });

  it('of nothing, of too much, and of one setting twice are refused', () => {
    const axis = (path: string, count: number) => ({ path, values: Array.from({ length: count }, (_, i) => i + 1) });
    for (const axes of [
      [],
      [axis('seed', 1)],
      [axis('seed', 7), axis('pixelSamples', 6)],
      [axis('seed', 2), axis('seed', 2)],
    ])
      expect(() => sweepPatches(axes, 'final')).to.throw(InputError);
    expect(sweepPatches([axis('seed', MOST_TRIALS)], 'final')).to.have.length(MOST_TRIALS);
  });

  it('propose values about the present one', () => {
    expect(usualValues(16, true)).to.deep.equal([4, 8, 16, 32, 64]);
    expect(usualValues(1, true)).to.deep.equal([1, 2, 4]);
    expect(usualValues(0, false)).to.deep.equal([0, 1, 2, 4, 8]);
    expect(usualValues(2, false)).to.deep.equal([0.5, 1, 2, 4, 8]);
  });

  it('have their knee where 1 / x is farthest below its chord, at the root of its ends; a line has none', () => {
    const at = (x: number) => ({ cost: x, gain: 1 / x });
    const xs = [1, 2, 3, 4, 6, 9, 16];
    expect(xs[kneeOf(xs.map(at))]).to.equal(4); // sqrt(1 x 16)
    expect(kneeOf([16, 1, 4].map(at)), 'in any order').to.equal(2);
    expect(kneeOf([1, 2, 3].map((x) => ({ cost: x, gain: -x })))).to.equal(-1);
    expect(kneeOf([at(1), at(2)])).to.equal(-1);
    expect(kneeOf([1, 2, 3].map((x) => ({ cost: x, gain: x }))), 'what rises').to.equal(-1);
  });

  it('a sequence: whole frames go to machines', () => {
    const cost = sequenceCost({ value: 360, low: 180, high: 720 }, { frames: 10, machines: 4 });
    expect(cost.machineHours).to.deep.equal({ value: 1, low: 0.5, high: 2 });
    expect(cost.hours.value).to.be.closeTo(0.3, 1e-12); // three rounds
  });
});
