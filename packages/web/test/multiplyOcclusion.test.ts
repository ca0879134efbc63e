// The occlusion layer in a picture as the page holds it; the figures by hand.
import { expect } from 'chai';
import { fromHalf, toHalf } from '@dusting/core/formats';
import { OCCLUSION_COMPOSITE_DEFAULTS } from '@dusting/core/image';
import { multiplyOcclusion } from '../src/picture/multiplyOcclusion.ts';

const layer = (channels: string[], ...values: number[]) => ({ width: values.length / channels.length, height: 1, channels, halves: Uint16Array.from(values, toHalf) }); // prettier-ignore
const valuesOf = ({ halves }: { halves: Uint16Array }) =>
  Array.from(halves, (half) => Number(fromHalf(half).toFixed(3)));

describe('occlusion in the picture', () => {
  const rgb = () => layer(['R', 'G', 'B'], 0.5, 0.25, 1, 0.5, 0.25, 1, 0.5, 0.25, 1);
  const open = layer(['Y'], 0.5, 0, 0);
  const composite = OCCLUSION_COMPOSITE_DEFAULTS;

  it('leaves the background alone, where the layer says nothing', () => {
    const picture = rgb();
    // a surface, then a background at infinity and one at 0
    const taken = multiplyOcclusion(picture, { open, depth: layer(['Z'], 3, Infinity, 0), composite });
    expect(valuesOf(picture)).to.deep.equal([0.25, 0.125, 0.5, 0.5, 0.25, 1, 0.5, 0.25, 1]);
    const alone = layer(['R', 'G', 'B'], 0.5, 0.25, 1);
    expect(taken).to.deep.equal(multiplyOcclusion(alone, { open: layer(['Y'], 0.5), depth: null, composite }));
  });

  it('goes over the whole picture where there is no depth, and turns what is closed to its color', () => {
    const picture = rgb();
    multiplyOcclusion(picture, { open, depth: null, composite: { ...composite, color: [0.2, 0, 1] } });
    expect(valuesOf(picture)).to.deep.equal([0.3, 0.125, 1, 0.1, 0, 1, 0.1, 0, 1]);
  });
});
