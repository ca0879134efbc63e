// Own guarantees: fields stand one after the other, and a row that is written is read back by its names.
import { expect } from 'chai';
import { layOutRow, writeRow } from '@dusting/core/math';
import { SURFACE } from '@dusting/core/shade';

describe('a row of named fields', () => {
  it('stands without gaps, and is written at its place alone', () => {
    const layout = layOutRow({ weight: 1, color: 3, map: 1 });
    expect(layout).to.deep.equal({ weight: 0, color: 1, map: 4, stride: 5 });
    const table = new Float64Array(15).fill(9);
    writeRow(table, layout.stride, layout, { weight: 0.5, map: -1, color: [1, 2, 3] });
    expect([...table]).to.deep.equal([9, 9, 9, 9, 9, 0.5, 1, 2, 3, -1, 9, 9, 9, 9, 9]);
  });

  it('of a surface: every number belongs to one field', () => {
    const places = Object.entries(SURFACE).filter(([field]) => field !== 'stride').map(([, place]) => place); // prettier-ignore
    expect(new Set(places).size).to.equal(places.length);
    expect(Math.max(...places)).to.be.below(SURFACE.stride);
  });
});
