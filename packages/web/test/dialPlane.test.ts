// Between two planes a dial blends evenly along its axis: by the logarithm where that is logarithmic.
import { expect } from 'chai';
import { toHalf } from '@dusting/core/formats';
import type { DialEvidence } from '@dusting/core/diagnose';
import { dialPlane } from '../src/evidence/dialPlane.ts';
import { halfPlane } from '../src/evidence/halfPlane.ts';

const halves = Buffer.from(Uint16Array.from([1, 0.5, 0.25, 0, 0, 0].map(toHalf)).buffer).toString('base64');
const dial: DialEvidence = { type: 'dial', id: 'a', title: 'a', source: 'computed', axis: { label: 'distance', unit: 'm', scale: 'log' }, values: [0.1, 1, 10], width: 2, height: 1, halves, start: 1 }; // prettier-ignore

describe('a dial', () => {
  const planes = halfPlane(dial.halves);
  const at = (value: number) => [...dialPlane(dial, planes, value)];
  it('shows the planes of its values, and nothing beyond them', () => {
    expect(at(0.1)).to.deep.equal([1, 0.5]);
    expect(at(1)).to.deep.equal([0.25, 0]);
    expect(at(0.001)).to.deep.equal([1, 0.5]);
    expect(at(500)).to.deep.equal([0, 0]);
  });
  it('blends in between', () => {
    const [a, b] = at(Math.sqrt(0.1));
    expect([a, b].map((v) => Number(v.toFixed(6)))).to.deep.equal([0.625, 0.25]);
  });
});
