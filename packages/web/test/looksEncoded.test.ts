// IEC 61966-2-1 for the encoding; the rule itself is common practice, no source.
import { expect } from 'chai';
import { linearToSrgb } from '@dusting/core/color';
import { toHalf } from '@dusting/core/formats';
import { hashUnit } from '@dusting/core/math';
import { looksEncoded } from '../src/picture/looksEncoded.ts';

const picture = (value: (i: number) => number, count = 3000) => ({
  width: count / 3,
  height: 1,
  channels: ['R', 'G', 'B'],
  halves: Uint16Array.from({ length: count }, (_, i) => toHalf(value(i))),
});
const eightBits = (v: number) => Math.round(255 * linearToSrgb(v)) / 255;

describe('a picture that was encoded before', () => {
  it('stands on the steps of 8 bits', () => {
    expect(looksEncoded(picture((i) => eightBits(hashUnit(i))))).to.equal(true);
  });
  it('light does not, nor what is brighter than white, nor data', () => {
    expect(looksEncoded(picture((i) => hashUnit(i)))).to.equal(false);
    expect(looksEncoded(picture((i) => (i === 8 ? 3 : eightBits(hashUnit(i)))))).to.equal(false);
    expect(looksEncoded({ ...picture((i) => eightBits(hashUnit(i))), channels: ['Z'] })).to.equal(false);
  });
  it('black and white alone do not tell', () => {
    expect(looksEncoded(picture((i) => (i % 2 ? 0 : 1)))).to.equal(false);
  });
});
