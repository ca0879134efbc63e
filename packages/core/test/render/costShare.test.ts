// Own rule, by hand: of ten pixels one takes 55 of 100 ms.
import { expect } from 'chai';
import { makeIdMattes, packIdMattes } from '../mattes.ts';
import type { Picture } from '@dusting/core/image';
import { costShare } from '@dusting/core/render';

const frame = { x: 0, y: 0, width: 10, height: 1 };
const mattes = packIdMattes(
  makeIdMattes('surfaces', ['comb', 'glass'], [
    { number: Int32Array.of(0, 0, 0, 0, 0, 0, 0, 0, 0, 1), coverage: new Float32Array(10).fill(0.75) },
    { number: Int32Array.of(-1, -1, -1, -1, -1, -1, -1, -1, -1, 0), coverage: new Float32Array(10).fill(0.25) },
  ]),
); // prettier-ignore
const picture = (costs: number[]): Picture => ({ width: 10, height: 1, dataWindow: frame, displayWindow: frame, channels: [{ name: 'time.ms', type: 'float', data: Float32Array.from(costs) }, ...mattes.channels], metadata: mattes.metadata }); // prettier-ignore

describe('what pixels cost', () => {
  it('few dear pixels are told with their share of the whole and what they show', () => {
    const { total, pixels, taken, surfaces } = costShare(picture([5, 5, 5, 5, 5, 5, 5, 5, 5, 55]), 'time')!;
    expect([total, pixels]).to.deep.equal([100, 0.1]);
    expect(taken).to.be.closeTo(0.55, 1e-6);
    expect(surfaces.map((s) => s.name)).to.deep.equal(['glass', 'comb']);
    expect(surfaces[0].share).to.be.closeTo(0.75, 1e-6);
  });
  it('even ones are none, and a picture without the layer has no answer', () => {
    expect(costShare(picture(Array(10).fill(4)), 'time')).to.deep.include({ pixels: 0, taken: 0, surfaces: [] });
    expect(costShare(picture(Array(10).fill(0)), 'time')!.taken).to.equal(0);
    expect(costShare(picture([1]), 'samples')).to.equal(null);
  });
});
