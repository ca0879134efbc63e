// Own rule: the outline runs between the pixels, and is as long as the rim of what it surrounds.
import { expect } from 'chai';
import { outline } from '../src/picture/outline.ts';

const lengthOf = (lines: Float32Array) => {
  let sum = 0;
  for (let i = 0; i < lines.length; i += 4) sum += Math.hypot(lines[i + 2] - lines[i], lines[i + 3] - lines[i + 1]);
  return sum;
};

describe('the outline of a selection', () => {
  it('of a rectangle has four lines, at the rim of the picture too', () => {
    const whole = outline(3, 2, () => true, { x: 10, y: 20, width: 3, height: 2 });
    expect(whole.length / 4).to.equal(4);
    expect(lengthOf(whole)).to.equal(10);
    expect([Math.min(...whole), Math.max(...whole)]).to.deep.equal([10, 22]);
  });
  it('of a pixel of a small picture is as large as its place in the frame', () => {
    const lines = outline(2, 2, (i) => i === 3, { x: 0, y: 0, width: 8, height: 4 });
    expect(lengthOf(lines)).to.equal(2 * (4 + 2));
    expect(Array.from(lines)).to.include.members([4, 2, 8]);
  });
  it('goes round holes and parts', () => {
    const ring = outline(3, 3, (i) => i !== 4, { x: 0, y: 0, width: 3, height: 3 });
    expect(lengthOf(ring)).to.equal(12 + 4);
    expect(outline(3, 3, () => false, { x: 0, y: 0, width: 3, height: 3 })).to.have.length(0);
  });
});
