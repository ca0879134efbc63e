// What stands beside what in a comparison, by hand.
import { expect } from 'chai';
import type { Comparison, Proof } from '../src/api.ts';
import { comparisonRows } from '../src/compare/comparisonRows.ts';

const region = { x: 0, y: 0, width: 10, height: 2 };
const statistics = (k: number) => ({ noise: 2 / k, seconds: 3 * k, variance: 1, samples: 4, peakShare: 0, brightest: { luminance: 5, x: 0, y: 0 }, cutOff: { total: 0.25, diffuse: 0.5 } }); // prettier-ignore
const proof = (k: number, change: object = {}) =>
  ({ region, seconds: 10 * k, memory: { film: 1e6 * k, textures: 3e6 * k }, statistics: { pixelSeconds: 12 * k, rays: { camera: 20 * k, shadow: 60 * k } }, ...change }) as unknown as Proof; // prettier-ignore
const comparison = (change: object = {}) =>
  ({ region, before: { region, mean: [1, 1, 1], statistics: statistics(1) }, after: { region, mean: [2, 2, 2], statistics: statistics(2) }, changes: [], differences: null, ...change }) as unknown as Comparison; // prettier-ignore

describe('rows of a comparison', () => {
  it('of the region and of the whole, with their ratios', () => {
    const rows = comparisonRows(comparison(), proof(1), proof(2));
    expect(rows.map((r) => [r.label, r.before, r.after, r.ratio])).to.deep.equal([
      ['Noise', '2.0 L*', '1.0 L*', '× 0.50'],
      ['Thread time here', '3.0 s', '6.0 s', '× 2.00'],
      ['Mean luminance', '1.00', '2.00', '× 2.00'],
      ['Light cut off', '0.750', '0.750', '× 1.00'],
      ['Brightest sample', '5.00', '5.00', '× 1.00'],
      // 3 of 12 s of all threads went to the region
      ['Time of the region', '2.5 s', '5.0 s', '× 2.00'],
      ['Frame time', '10 s', '20 s', '× 2.00'],
      ['Memory of the scene', '4.0 MB', '8.0 MB', '× 2.00'],
      ['Rays a pixel', '4', '8', '× 2.00'],
    ]);
  });

  it('a region is not held against a frame: times are of the region, memory is without the film', () => {
    const rows = comparisonRows(comparison(), proof(1), proof(2, { region: { ...region, width: 5 } }));
    const last = rows.slice(-2).map((r) => [r.label, r.before, r.after]);
    expect(last).to.deep.equal([
      ['Time of the region', '2.5 s', '5.0 s'],
      ['Memory of the scene, without film', '3.0 MB', '6.0 MB'],
    ]);
  });

  it('frames of others have their light, and about their noise', () => {
    const bare = { region, mean: [0, 0, 0], statistics: null, estimated: { value: 1.5, low: 1, high: 2 } };
    const frame = proof(1, { seconds: null, memory: null, statistics: null });
    const rows = comparisonRows(comparison({ before: bare, after: { ...bare, mean: [1, 1, 1] } }), frame, frame);
    expect(rows.map((r) => [r.label, r.before, r.ratio])).to.deep.equal([
      ['Noise, about', '1.5 L*', '× 1.00'],
      ['Mean luminance', '0', ''],
    ]);
  });
});
