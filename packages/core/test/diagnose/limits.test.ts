// Depth limits and clamps by hand: an account of a few paths whose light and rays can be added up in the head.
import { expect } from 'chai';
import { NO_CLAMP } from '@dusting/core/scene';
import { DIFFUSE, TRANSMISSION } from '@dusting/core/shade';
import { clampableLight, clampedLight, clampThatKeeps, sum } from '../../src/diagnose/limits/clampLimits.ts';
import { limitsThatKeep, lostBeyond, OPEN, within, type Depths } from '../../src/diagnose/limits/depthLimits.ts';
import { ratioOf } from '../../src/diagnose/groupRatio.ts';
import { tileMap } from '../../src/diagnose/tileMap.ts';

/** Light in sixteen groups of pixels, the same in each. */
const even = (v: number) => new Array<number>(16).fill(v / 16);
type Depth = Parameters<typeof within>[0][number];
const path = (events: Depth['events'], light: number, rays: number): Depth => ({ events, light: even(light), rays });
/** Half of the light at once, a quarter after two bounces, a quarter through eight panes. */
const rows = [path([1, 0, 0, 0], 8, 100), path([2, 0, 0, 0], 4, 50), path([0, 0, 8, 0], 4, 80)];
const low: Depths = { diffuse: 1, specular: 1, transmission: 2, volume: 1, total: 4 };

describe('limits by hand', () => {
  it('keep the light and the rays of the paths within them', () => {
    const { light, rays } = within(rows, low);
    expect([sum(light), rays]).to.deep.equal([8, 100]);
    expect(sum(within(rows, OPEN).light)).to.equal(16);
    expect(sum(within(rows, { ...low, transmission: 8 }).light), 'the total depth holds the path').to.equal(8);
  });

  it('lose beyond each value what lies beyond it', () => {
    expect(lostBeyond(rows, 'diffuse').map((v) => v * 16)).to.deep.equal([12, 4, 0]);
    const glass = lostBeyond(rows, 'transmission');
    expect([glass[0], glass[7], glass[8]]).to.deep.equal([0.25, 0.25, 0]);
  });

  it('are raised together where two hold one path, and none further than needed', () => {
    expect(limitsThatKeep(rows, low, 1)).to.deep.equal({ diffuse: 2, specular: 1, transmission: 8, volume: 1, total: 8 }); // prettier-ignore
    expect(limitsThatKeep(rows, low, 0.75), 'the cheaper quarter alone').to.deep.equal({ ...low, diffuse: 2 });
    expect(limitsThatKeep(rows, low, 0.5)).to.deep.equal(low);
  });

  it('a clamp takes what is above it from every sample that reaches it', () => {
    // two samples of 4 and one of 16, in shares of a sample
    const clamps = [
      { first: DIFFUSE, indirect: true, from: 4, light: even(8), share: even(2) },
      { first: TRANSMISSION, indirect: true, from: 16, light: even(16), share: even(1) },
      { first: DIFFUSE, indirect: false, from: 1, light: even(1), share: even(1) },
    ];
    const lost = (clamp: object) => sum(clampedLight(clamps, { ...NO_CLAMP, ...clamp }));
    expect(lost({ indirect: 8 })).to.be.closeTo(8, 1e-12);
    expect(lost({ indirect: 2 })).to.be.closeTo(4 + 14, 1e-12);
    expect(lost({}), 'off').to.equal(0);
    expect(lost({ direct: 0.5 })).to.be.closeTo(0.5, 1e-12);
    // by the first event of the path; of two that a sample falls under, the lower one counts
    expect(lost({ transmission: 2 })).to.be.closeTo(14, 1e-12);
    expect(lost({ diffuse: 0.5 })).to.be.closeTo(7 + 0.5, 1e-12);
    expect(lost({ indirect: 8, transmission: 4 })).to.be.closeTo(12, 1e-12);
    expect(lost({ specular: 0.1, volume: 0.1 })).to.equal(0);
    expect(clampThatKeeps(clamps, 'diffuse', 0.01)).to.equal(4);
    expect(clampableLight(clamps)).to.be.closeTo(25, 1e-12);
    expect(clampThatKeeps(clamps, 'indirect', 0.01)).to.equal(16);
    expect(clampThatKeeps(clamps, 'indirect', 0.5)).to.equal(4);
  });

  it('the range of a ratio follows from how far the groups are apart', () => {
    const same = ratioOf(even(4), even(16));
    expect([same.value, same.low, same.high]).to.deep.equal([0.25, 0.25, 0.25]);
    const apart = even(4).map((v, g) => (g % 2 ? 2 * v : 0));
    const { value, low: from, high } = ratioOf(apart, even(16));
    expect(value).to.equal(0.25);
    // the jackknife of a mean of n equal weights is its standard error, 0.25 / sqrt(15) here
    expect(high - value).to.be.closeTo((1.28 * 0.25) / Math.sqrt(15), 1e-3);
    expect(from).to.be.closeTo(2 * value - high, 1e-12);
  });

  it('a map has a tile for every pixel, smaller ones at the far edges', () => {
    const seen: number[][] = [];
    const map = tileMap({ x: 5, y: 6, width: 10, height: 9 }, { id: 'm', title: '', source: '', unit: 'share' }, (pixels) => {
      seen.push(pixels);
      return { value: pixels.length, leading: -1 };
    }); // prettier-ignore
    expect([map.columns, map.rows]).to.deep.equal([2, 2]);
    expect(map.values).to.deep.equal([64, 16, 8, 2]);
    expect(seen.flat().toSorted((a, b) => a - b)).to.deep.equal(Array.from({ length: 90 }, (_, i) => i));
  });
});
