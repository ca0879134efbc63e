// Renders whose parts take a known part longer than is told: the factors are found again as in any ridge regression; a range
// that four in five lie in holds four in five.
import { expect } from 'chai';
import { costModel, type TimedRender } from '@dusting/core/predict';
import { hashUnit } from '@dusting/core/math';

/** Box & Muller 1958. */
const normal = (seed: number) => Math.sqrt(-2 * Math.log(1 - hashUnit(2 * seed))) * Math.cos(2 * Math.PI * hashUnit(2 * seed + 1)); // prettier-ignore
const partsOf = (seed: number) => [1, 2, 3].map((k) => 0.2 + 4 * hashUnit(seed * 7 + k));
const timeOf = (parts: number[], factors: number[]) => parts.reduce((sum, part, k) => sum + part * factors[k], 0);

describe('cost model of renders', () => {
  it('one render tells others at its own pace', () => {
    const { factors, seconds } = costModel([{ parts: [1, 3, 0], seconds: 12 }]);
    factors.forEach((factor) => expect(factor).to.be.closeTo(3, 1e-9));
    const { value, low, high } = seconds([2, 3, 1]);
    expect(value).to.be.closeTo(18, 1e-9);
    expect(low).to.be.within(0.5 * value, 0.95 * value);
    expect(high).to.be.within(1.05 * value, 1.5 * value);
  });

  it('several renders tell the parts apart, and the range closes', () => {
    const truth = [2, 3, 2.4];
    const renders = Array.from({ length: 12 }, (_, i): TimedRender => {
      const parts = partsOf(i);
      return { parts, seconds: timeOf(parts, truth) * (1 + 0.02 * normal(i + 500)) };
    });
    const width = (count: number) => {
      const { high, low, value } = costModel(renders.slice(0, count)).seconds([3, 0.2, 0.2]);
      return (high - low) / value;
    };
    expect(width(12)).to.be.below(0.6 * width(1));
    const { seconds } = costModel(renders);
    for (const parts of [
      [3, 0.2, 0.2],
      [0.2, 3, 0.2],
    ])
      expect(seconds(parts).value / timeOf(parts, truth)).to.be.closeTo(1, 0.05);
    expect(costModel(renders.slice(0, 1)).seconds([0.2, 3, 0.2]).value / timeOf([0.2, 3, 0.2], truth)).to.be.below(0.95); // prettier-ignore
  });

  it('four in five of what is told fall into the range', () => {
    let inside = 0;
    const TRIALS = 600;
    for (let trial = 0; trial < TRIALS; trial++) {
      const truth = [0, 1, 2].map((k) => 2 * (1 + 0.3 * normal(trial * 100 + k)));
      const render = (i: number): TimedRender => {
        const parts = partsOf(trial * 50 + i);
        return { parts, seconds: timeOf(parts, truth) * (1 + 0.08 * normal(trial * 100 + 10 + i)) };
      };
      const { low, high } = costModel([0, 1, 2, 3].map(render)).seconds(partsOf(trial * 50 + 9));
      const { seconds } = render(9);
      if (seconds >= low && seconds <= high) inside++;
    }
    expect(inside / TRIALS).to.be.within(0.72, 0.9);
  });

  it('renders that say nothing are left out', () => {
    expect(costModel([{ parts: [0, 0], seconds: 5 }]).seconds([0, 0]).value).to.equal(0);
    const { factors } = costModel([
      { parts: [1, 1], seconds: 0 },
      { parts: [1, 1], seconds: 4 },
    ]);
    factors.forEach((factor) => expect(factor).to.be.closeTo(2, 1e-9));
  });
});
