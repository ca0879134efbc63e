// Repair of frames whose fireflies were put there: which pixels change, to what, and that no other bit does.
import { expect } from 'chai';
import { REPAIRED, repairFrame } from '@dusting/core/diagnose';
import type { Picture } from '@dusting/core/image';
import { hashUnit } from '@dusting/core/math';

const [width, height] = [40, 30];
const window = { x: 10, y: 20, width, height };
const BROKEN = [205, 411, 640, 777];
const NOT_A_NUMBER = 900;

/** An even slope with grain; broken pixels are far too bright in the beauty and in its one part. */
function frame(broken: number[], seed = 0): Picture {
  const truth = Float32Array.from({ length: width * height }, (_, i) => 0.2 + (0.3 * (i % width)) / width + 0.01 * hashUnit(i + seed)); // prettier-ignore
  const light = truth.slice();
  for (const i of broken) light[i] = 50;
  const plane = (name: string, data: Float32Array) => ({ name, type: 'float' as const, data });
  const channels = [...'RGB'].flatMap((c) => [plane(c, light.slice()), plane(`transmission.${c}`, light.slice())]);
  return { width, height, dataWindow: window, displayWindow: { x: 0, y: 0, width: 80, height: 60 }, metadata: {}, channels: [...channels, plane('depth.Z', truth.map((v) => 10 * v))] }; // prettier-ignore
}
const data = ({ channels }: Picture, name: string) => channels.find((c) => c.name === name)!.data;

describe('repair of a frame', () => {
  const source = frame(BROKEN);
  data(source, 'G')[NOT_A_NUMBER] = NaN;
  const clean = frame([]);
  const { count, fromFrames, picture } = repairFrame(source);

  it('replaces fireflies and pixels that are not a number, in every layer of light, by what is about them', () => {
    expect([count, fromFrames]).to.deep.equal([5, 0]);
    for (const name of ['R', 'transmission.B'])
      for (const i of [...BROKEN, NOT_A_NUMBER])
        expect(data(picture, name)[i]).to.be.closeTo(data(clean, name)[i], 0.03);
    expect(data(picture, 'G')[NOT_A_NUMBER]).to.be.closeTo(data(clean, 'G')[NOT_A_NUMBER], 0.03);
    const mask = data(picture, REPAIRED);
    expect([...mask.keys()].filter((i) => mask[i] === 1)).to.deep.equal([...BROKEN, NOT_A_NUMBER]);
  });

  it('every other pixel and every other layer keeps its bits, and the source is left alone', () => {
    for (const { data: before, name } of frame(BROKEN).channels)
      before.forEach((v, i) => {
        if (name === 'depth.Z' || ![...BROKEN, NOT_A_NUMBER].includes(i)) expect(Object.is(data(picture, name)[i], v)).to.equal(true); // prettier-ignore
      });
    expect(data(source, 'R')[BROKEN[0]]).to.equal(50);
    expect(picture.dataWindow).to.deep.equal(window);
  });

  it('frames before and after are taken where they are clean and nothing moved', () => {
    const [before, after] = [frame([BROKEN[0]], 5000), frame([], 9000)];
    // another thing stood there before
    for (const name of ['R', 'G', 'B']) data(before, name)[BROKEN[3]] = 0.05;
    const repaired = repairFrame(source, [before, after]);
    const at = (i: number) => data(repaired.picture, 'R')[i];
    expect(at(BROKEN[0])).to.equal(data(after, 'R')[BROKEN[0]]);
    expect(at(BROKEN[1])).to.be.closeTo((data(before, 'R')[BROKEN[1]] + data(after, 'R')[BROKEN[1]]) / 2, 1e-7);
    expect(at(BROKEN[3])).to.equal(data(after, 'R')[BROKEN[3]]);
    expect(repaired.fromFrames).to.equal(5);
  });

  it('frames of another size, and pictures without a beauty layer, are refused', () => {
    expect(() => repairFrame(source, [{ ...clean, width: 39 }])).to.throw('39 x 30 pixels, and this one 40 x 30');
    expect(() => repairFrame(source, [{ ...clean, dataWindow: { ...window, x: 0 } }])).to.throw(
      'another part of the frame',
    );
    expect(() => repairFrame({ ...source, channels: [] })).to.throw('no beauty layer');
  });
});
