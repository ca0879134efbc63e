// Fireflies of a region from those in parts of it: fields of points with known answers.
import { expect } from 'chai';
import { countInParts } from '../../src/diagnose/fireflies/countEstimate.ts';
import { rehearsalParts } from '../../src/diagnose/fireflies/rehearsalParts.ts';
import { intersectRegions, type Region } from '@dusting/core/image';
import { hashUnit } from '@dusting/core/math';

const makeRandom = (seed: number) => {
  let count = 0;
  return () => hashUnit(seed * 1e6 + count++);
};
type Place = { x: number; y: number };
const region = { x: 7, y: 5, width: 410, height: 230 };
const within = (places: Place[], part: Region) => places.filter(({ x, y }) => intersectRegions({ x, y, width: 1, height: 1 }, part)).length; // prettier-ignore

/** Evenly strewn, and a heap of so many besides. */
function field(even: number, heap: number, random: () => number): Place[] {
  const inFrame = (share: number, from: number, size: number) => from + Math.floor(share * size);
  return Array.from({ length: even + heap }, (_, i) =>
    i < even
      ? { x: inFrame(random(), region.x, region.width), y: inFrame(random(), region.y, region.height) }
      : { x: inFrame(random(), 100, 30), y: inFrame(random(), 60, 30) },
  );
}

describe('parts that cures are tried on', () => {
  it('are the region itself where it is small', () => {
    expect(rehearsalParts([], [], region, 410 * 230)).to.deep.equal([{ region, weight: 1 }]);
  });

  it('do not overlap, lie in bands of the region, and together stand for all of it', () => {
    const random = makeRandom(3);
    const parts = rehearsalParts(field(400, 200, random), [{ x: 400, y: 230 }], region, 8000);
    const area = parts.reduce((sum, { region: r, weight }) => sum + weight * r.width * r.height, 0);
    expect(area).to.be.closeTo(region.width * region.height, 1e-6);
    expect(parts.reduce((sum, { region: r }) => sum + r.width * r.height, 0)).to.be.within(6000, 9000);
    parts.forEach(({ region: a }, i) => {
      expect((a.y - region.y) % 32).to.equal(0);
      expect(intersectRegions(a, region)).to.deep.equal(a);
      for (const { region: b } of parts.slice(i + 1)) expect(intersectRegions(a, b)).to.equal(null);
    });
    // the tile with the highlight, and the heap, are there for themselves
    expect(parts.some(({ region: r, weight }) => weight === 1 && within([{ x: 400, y: 230 }], r) === 1)).to.equal(true);
    expect(parts.some(({ region: r, weight }) => weight === 1 && within([{ x: 115, y: 75 }], r) === 1)).to.equal(true);
  });

  for (const [name, even, heap] of [
    ['as many, as dense', 600, 200],
    ['the heap is cured', 600, 0],
    ['only the heap is left', 0, 200],
  ] as const)
    // prettier-ignore
    it(`tell what is left with a doubt that holds for about four in five: ${name}`, () => {
      let [held, sum] = [0, 0];
      const rounds = 200;
      for (let seed = 1; seed <= rounds; seed++) {
        const random = makeRandom(seed);
        const parts = rehearsalParts(field(600, 200, random), [], region, 8000);
        const after = field(even, heap, random);
        const left = countInParts(parts.map((part) => ({ count: within(after, part.region), weight: part.weight })));
        if (after.length >= left.low && after.length <= left.high) held++;
        sum += left.value / after.length / rounds;
      }
      expect(sum).to.be.within(0.96, 1.04);
      expect(held / rounds).to.be.within(0.72, 1);
    });
});
