// Own guarantee: a link opens the view that it was copied from, and a mistyped one opens what it can.
import { expect } from 'chai';
import { ADDRESS_DEFAULTS, fromQuery, toQuery, type Address } from '../src/bench/address.ts';

describe('address of a view', () => {
  const view: Address = {
    proof: 'T2',
    beside: 'P1',
    mode: 'wipe',
    besideLayer: 'depth',
    difference: 'deltaE',
    gain: 16,
    angle: 35,
    layer: 'error.transmission',
    channel: 'Y',
    transform: 'raw',
    exposure: -1.5,
    gamma: 2.2,
    shadowCheck: 2,
    region: { x: 10, y: 20, width: 30, height: 40 },
    place: { x: 12.5, y: 80.25, scale: 4 },
  };
  it('goes into a query and comes back; defaults are left out', () => {
    expect(fromQuery(toQuery(view))).to.deep.equal(view);
    expect(toQuery({ ...ADDRESS_DEFAULTS, proof: 'P3' })).to.deep.equal({ proof: 'P3' });
    expect(fromQuery({})).to.deep.equal(ADDRESS_DEFAULTS);
  });
  it('what cannot be understood stands at its default, numbers within their range', () => {
    const odd = { proof: 'P3; drop', mode: 'spin', exposure: 'NaN', shadowCheck: '9', region: '1,2,3', place: '0,0,-1', channel: ['R', 'G'], layer: ['a'], gain: '3', difference: 'sum', angle: 'x' }; // prettier-ignore
    expect(fromQuery(odd)).to.deep.equal({ ...ADDRESS_DEFAULTS, shadowCheck: 2 });
    expect(fromQuery({ exposure: '1e9', place: '1,2,1000', gamma: '99' })).to.deep.include({ exposure: 30, gamma: 5, place: { x: 1, y: 2, scale: 128 } }); // prettier-ignore
  });
});
