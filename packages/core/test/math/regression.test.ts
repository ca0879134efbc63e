// Against mathjs, and the table of Student's distribution (Abramowitz & Stegun 1964, 26.10; from memory).
import { expect } from 'chai';
import { inv, multiply } from 'mathjs';
import { hashUnit, inverse, studentT90 } from '@dusting/core/math';

describe('parts of a regression', () => {
  it('the inverse is that of another library', () => {
    for (const n of [1, 3, 6]) {
      const a = Array.from({ length: n }, (_, i) => Array.from({ length: n }, (_, j) => hashUnit(i * 31 + j * 7 + n) - 0.5)); // prettier-ignore
      const squares = a.map((_, i) =>
        a.map((_, j) => a.reduce((sum, row) => sum + row[i] * row[j], i === j ? 0.1 : 0)),
      );
      const other = inv(squares);
      inverse(squares).forEach((row, i) => row.forEach((v, j) => expect(v).to.be.closeTo(other[i][j], 1e-9 * Math.abs(other[i][i])))); // prettier-ignore
      const one = multiply(squares, inverse(squares));
      one.forEach((row, i) => row.forEach((v, j) => expect(v).to.be.closeTo(i === j ? 1 : 0, 1e-9)));
    }
  });
  it("Student's quantiles are those of the table", () => {
    for (const [freedom, t] of [
      [2, 1.886],
      [3, 1.638],
      [5, 1.476],
      [10, 1.372],
      [30, 1.31],
      [120, 1.289],
    ])
      expect(studentT90(freedom), String(freedom)).to.be.closeTo(t, 0.007);
  });
});
