// Units of the SI brochure; per cent is a hundredth.
import { expect } from 'chai';
import { parseQuantity } from '../src/contents/quantity.ts';

describe('typed quantities', () => {
  it('units of the same kind are understood', () => {
    expect(parseQuantity('35 mm', 'm')).to.be.closeTo(0.035, 1e-12);
    expect(parseQuantity('1.5m', 'm')).to.equal(1.5);
    expect(parseQuantity('2,5 cm', 'm')).to.be.closeTo(0.025, 1e-12);
    expect(parseQuantity('+1.5 EV', 'EV')).to.equal(1.5);
    expect(parseQuantity('-2 stops', 'EV')).to.equal(-2);
    expect(parseQuantity('3.14159265358979 rad', 'deg')).to.be.closeTo(180, 1e-9);
    expect(parseQuantity('50 %', '')).to.equal(0.5);
    expect(parseQuantity('4 W/(m2 sr)', 'W/(m2 sr)')).to.equal(4);
    expect(parseQuantity('1e-3', 'm')).to.equal(0.001);
  });
  it('others are not, nor is what is no number', () => {
    for (const [text, unit] of [['35 mm', 'EV'], ['ten', 'm'], ['', 'm'], ['1 2', 'm'], ['5 px', '']]) expect(parseQuantity(text, unit), text).to.equal(null); // prettier-ignore
  });
});
