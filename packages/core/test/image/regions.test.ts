// Parts of pictures, their numbers, and as files for other programs.
import { expect } from 'chai';
import { decode } from 'fast-png';
import { mean, std } from 'mathjs';
import { layerToHdr, layerToPng16, readTexture, PLAIN_SPACE } from '@dusting/core/formats';
import { cropPicture, listLayers, regionTable, type Picture } from '@dusting/core/image';
import { hashUnit } from '@dusting/core/math';

const WIDTH = 12;
const HEIGHT = 9;
const plane = (seed: number) => Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => hashUnit(i * 5 + seed));
const picture: Picture = {
  width: WIDTH,
  height: HEIGHT,
  dataWindow: { x: 10, y: 20, width: WIDTH, height: HEIGHT },
  displayWindow: { x: 0, y: 0, width: 64, height: 64 },
  channels: ['R', 'G', 'B', 'error.R', 'depth.Z', 'normal.X', 'normal.Y', 'normal.Z'].map((name, i) => ({
    name,
    type: 'float',
    data: plane(i),
  })),
  metadata: {},
};

describe('parts of pictures', () => {
  it('a region keeps its pixels in their place in the frame, with the layers asked for', () => {
    const part = cropPicture(picture, { x: 8, y: 24, width: 6, height: 3 }, ['beauty', 'depth'])!;
    expect(part.dataWindow).to.deep.equal({ x: 10, y: 24, width: 4, height: 3 });
    expect([...listLayers(part).keys()]).to.deep.equal(['beauty', 'depth']);
    expect(part.channels[1].data[2 * 4 + 3]).to.equal(picture.channels[1].data[6 * WIDTH + 3]);
    expect(cropPicture(picture, { x: 0, y: 0, width: 10, height: 20 })).to.equal(null);
  });

  it('the numbers of a region agree with a library; what is not finite is counted and left out', () => {
    const region = { x: 10, y: 20, width: 12, height: 2 };
    const values = [...picture.channels[0].data.slice(0, 24)];
    const broken = { ...picture, channels: picture.channels.map((c) => ({ ...c, data: c.data.slice() })) };
    broken.channels[0].data[5] = NaN;
    values.splice(5, 1);
    const rows = regionTable(broken, region);
    expect(rows.map((r) => `${r.layer}.${r.channel}`)).to.deep.equal(['beauty.R', 'beauty.G', 'beauty.B', 'depth.Z', 'normal.X', 'normal.Y', 'normal.Z']); // prettier-ignore
    const [red, green] = rows;
    expect(red.mean).to.be.closeTo(mean(values), 1e-12);
    expect(red.spread).to.be.closeTo(std(...values), 1e-12);
    expect([red.least, red.most, red.notFinite]).to.deep.equal([Math.min(...values), Math.max(...values), 1]);
    const errors = [...picture.channels[3].data.slice(0, 24)];
    expect(red.error).to.be.closeTo(Math.sqrt(mean(errors.map((e) => e * e))), 1e-12);
    expect(green.error).to.equal(null);
  });

  it('a layer as PNG of 16 bits has the exposure and the display transform burnt in', () => {
    const grey = { ...picture, channels: ['R', 'G', 'B'].map((name) => ({ name, type: 'float' as const, data: new Float32Array(WIDTH * HEIGHT).fill(0.09) })) }; // prettier-ignore
    const png = decode(layerToPng16(grey, 'beauty', { stops: 1, transform: 'srgb', gamma: 1 }));
    expect([png.width, png.height, png.depth]).to.deep.equal([WIDTH, HEIGHT, 16]);
    // 0.18 is displayed as 0.46136: IEC 61966-2-1
    expect(png.data[40] / 65535).to.be.closeTo(0.46136, 2e-5);
    const raw = decode(layerToPng16(picture, 'depth', { stops: 0, transform: 'raw', gamma: 1 }));
    expect(raw.data[3 * 7] / 65535, 'one channel is grey').to.be.closeTo(picture.channels[4].data[7], 1e-5);
    expect(() => layerToPng16(picture, 'albedo', { stops: 0, transform: 'raw', gamma: 1 })).to.throw('no layer albedo');
  });

  it('a layer as HDR is linear; directions stand in red, green and blue', () => {
    const { texels } = readTexture(layerToHdr(picture, 'normal'), 'normal.hdr', PLAIN_SPACE);
    expect(texels[4 * 20 + 2]).to.be.closeTo(picture.channels[7].data[20], 1 / 128);
  });
});
