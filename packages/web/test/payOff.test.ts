// Variance falls as 1 / n while the tail is light (any statistics handbook); efficiency as Pharr & Humphreys define it.
import { expect } from 'chai';
import type { RegionStatistics } from '../src/api.ts';
import { efficiencyRatio, payOff } from '../src/compare/payOff.ts';

const reading = (variance: number, seconds: number, samples: number, peakShare = 0.02) => ({ variance, seconds, samples, peakShare }) as RegionStatistics; // prettier-ignore
const names = { before: 'P1', after: 'T1' };

describe('what a change pays', () => {
  it('efficiency is one over variance and time', () => {
    expect(efficiencyRatio(reading(4, 10, 16), reading(1, 20, 64))).to.equal(2);
    expect(efficiencyRatio(reading(0, 10, 16), reading(1, 20, 64))).to.equal(null);
    // a frame of a quarter of the pixels, as noisy in a quarter of the time
    expect(efficiencyRatio(reading(1, 5, 16), reading(1, 20, 16), 1 / 4)).to.equal(1);
    expect(payOff(reading(1, 5, 16), reading(1, 20, 16), names, 1 / 4)).to.have.length(1);
  });
  it('the samples that the worse one would need, whichever it is', () => {
    expect(payOff(reading(4, 10, 16), reading(1, 20, 16), names).join()).to.contain('P1 would need 64 samples a pixel instead of 16'); // prettier-ignore
    expect(payOff(reading(1, 10, 16), reading(2, 20, 16), names).join()).to.contain('T1 would need 32 samples');
    expect(payOff(reading(1, 10, 16), reading(1, 20, 16), names)).to.have.length(2);
  });
  it('in equal time the more efficient one is less noisy, by the root of the efficiency', () => {
    expect(payOff(reading(4, 10, 16), reading(1, 10, 16), names)[1]).to.contain('T1 comes to 50 % less noise than P1');
    expect(payOff(reading(1, 10, 16), reading(1, 40, 16), names)[1]).to.contain('P1 comes to 50 % less noise than T1');
    expect(payOff(reading(1, 10, 16), reading(1, 10, 16), names)).to.have.length(1);
    expect(payOff(reading(4, 10, 16, 0.6), reading(1, 10, 16), names).join()).not.to.contain('In equal time');
  });
  it('says that it cannot be predicted where single samples make the variance', () => {
    expect(payOff(reading(4, 10, 16, 0.6), reading(1, 20, 16), names)[1]).to.contain('60 % of its variance');
  });
});
