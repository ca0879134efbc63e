// Channel names as OpenEXR has them: the layer stands before the last dot.
import { expect } from 'chai';
import { findChannel, intersectRegions, listLayers, splitChannelName, type Picture } from '@dusting/core/image';

describe('layers of a picture', () => {
  const names = ['B', 'G', 'R', 'light.key.G', 'light.key.R', 'depth.Z', 'A', 'samples.N'];
  const picture = {
    channels: names.map((name) => ({ name, type: 'half', data: new Float32Array(1) })),
  } as unknown as Picture;

  it('are told by the last dot; channels come in their customary order', () => {
    expect(splitChannelName('light.key.R')).to.deep.equal({ layer: 'light.key', channel: 'R' });
    expect([...listLayers(picture)]).to.deep.equal([
      ['beauty', ['R', 'G', 'B', 'A']],
      ['light.key', ['R', 'G']],
      ['depth', ['Z']],
      ['samples', ['N']],
    ]);
    expect(findChannel(picture, 'beauty', 'R')!.name).to.equal('R');
    expect(findChannel(picture, 'light.key', 'B')).to.equal(undefined);
  });

  it('regions are cut to each other', () => {
    const frame = { x: 0, y: 0, width: 100, height: 50 };
    expect(intersectRegions({ x: 90, y: 40, width: 30, height: 30 }, frame)).to.deep.equal({
      x: 90,
      y: 40,
      width: 10,
      height: 10,
    });
    expect(intersectRegions({ x: 100, y: 0, width: 5, height: 5 }, frame)).to.equal(null);
    expect(intersectRegions({ x: -5, y: -5, width: 6, height: 6 }, frame)).to.deep.equal({
      x: 0,
      y: 0,
      width: 1,
      height: 1,
    });
  });
});
