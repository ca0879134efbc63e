// Times that are made of known rates give them back (ordinary least squares); Huber 1964 for tiles that do not belong.
import { expect } from 'chai';
import { hashUnit } from '@dusting/core/math';
import { costRates } from '@dusting/core/plan';

const TILES = 200;
const rays = [0, 1, 2].map((k) => Float64Array.from({ length: TILES }, (_, t) => 100 + 900 * hashUnit(t * 3 + k)));
const RATES = [2e-6, 5e-6, 0.5e-6];
const seconds = Float64Array.from({ length: TILES }, (_, t) => rays.reduce((sum, r, k) => sum + RATES[k] * r[t], 0));

describe('cost of a ray of each kind', () => {
  it('is found again, within what the pull to the mean takes', () => {
    costRates(seconds, rays).forEach((rate, k) => expect(rate / RATES[k]).to.be.closeTo(1, 0.12));
  });
  it('does not follow a tenth of the tiles that the machine held up', () => {
    const held = seconds.map((s, t) => (t % 10 === 3 ? 8 * s : s));
    const [a, b, c] = costRates(held, rays);
    // all of the time is told, so the level is that of the whole; what the kinds cost beside each other stays
    expect(b / a).to.be.closeTo(RATES[1] / RATES[0], 0.15 * (RATES[1] / RATES[0]));
    expect(c / a).to.be.closeTo(RATES[2] / RATES[0], 0.5 * (RATES[2] / RATES[0]));
    const whole = held.reduce((sum, s) => sum + s, 0);
    const told = rays.reduce((sum, r, k) => sum + r.reduce((n, v) => n + v, 0) * [a, b, c][k], 0);
    expect(told).to.be.closeTo(whole, 1e-9 * whole);
  });
  it('of kinds that always come together is the same', () => {
    const [a, b] = costRates(seconds, [rays[0], rays[0].map((n) => n)]);
    expect(a / b).to.be.closeTo(1, 0.02);
    expect(costRates(new Float64Array(4), [new Float64Array(4)])).to.deep.equal([0]);
  });
});
