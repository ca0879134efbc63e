// IEEE 754 halves on the wire; zooming keeps the point under the pointer, by geometry.
import { expect } from 'chai';
import { createPinia, setActivePinia } from 'pinia';
import { fromHalf, toHalf } from '@dusting/core/formats';
import { nudgeRegion } from '../src/wall/nudgeRegion.ts';
import { rangeOf } from '../src/picture/rangeOf.ts';
import { toRgba } from '../src/picture/toRgba.ts';
import { useLook } from '../src/stores/look.ts';
import { lightnessUnits, proofName, seconds, value } from '../src/words.ts';

describe('looking', () => {
  it('gamma lies over the transform: 0.18 is 0.46136 in sRGB (IEC 61966-2-1), and its root at gamma 2', () => {
    setActivePinia(createPinia());
    const look = useLook();
    expect(look.sent([0.18, 0.18, 0.18])[0]).to.be.closeTo(0.46136, 1e-5);
    look.setGamma(2);
    expect(look.sent([0.18, 0, 1]).map((v) => v.toFixed(4))).to.deep.equal([Math.sqrt(0.46136).toFixed(4), '0.0000', '1.0000']); // prettier-ignore
    expect(look.plain.gamma).to.equal(2);
    look.setGamma(2.2499);
    expect(look.gamma).to.equal(2.2);
    look.setGamma(NaN);
    expect(look.gamma).to.equal(1);
    look.setGamma(-3);
    expect(look.gamma).to.equal(0.2);
    look.setGamma(1);
  });

  it('a region moves and grows by steps, within the frame', () => {
    const frame = { width: 100, height: 50 };
    const region = { x: 90, y: 10, width: 8, height: 8 };
    expect(nudgeRegion(region, [-8, 0], false, frame)).to.deep.equal({ ...region, x: 82 });
    expect(nudgeRegion(region, [8, 0], false, frame), 'to the border').to.deep.equal({ ...region, x: 92 });
    expect(nudgeRegion(region, [0, -16], false, frame)).to.deep.equal({ ...region, y: 0 });
    expect(nudgeRegion(region, [8, 8], true, frame)).to.deep.equal({ ...region, width: 10, height: 16 });
    expect(nudgeRegion(region, [-8, -8], true, frame), 'one pixel is left').to.deep.equal({ ...region, width: 1, height: 1 }); // prettier-ignore
  });

  it('pictures of one to four channels become RGBA', () => {
    const make = (channels: string[], values: number[]) => ({
      width: values.length / channels.length,
      height: 1,
      channels,
      halves: Uint16Array.from(values.map(toHalf)),
    });
    const read = (p: Uint16Array) => [...p].map(fromHalf);
    expect(read(toRgba(make(['Z'], [5, 7])))).to.deep.equal([5, 0, 0, 1, 7, 0, 0, 1]);
    expect(read(toRgba(make(['R', 'G', 'B'], [1, 2, 3])))).to.deep.equal([1, 2, 3, 1]);
    const four = make(['R', 'G', 'B', 'Y'], [1, 2, 3, 4]);
    expect(toRgba(four)).to.equal(four.halves);
  });

  it('fit shows the whole frame, and half as large side by side; zoom keeps its point', () => {
    setActivePinia(createPinia());
    const look = useLook();
    look.canvas = { width: 816, height: 616 };
    look.fit({ x: 0, y: 0, width: 400, height: 300 });
    expect(look.scale).to.equal(2);
    expect(look.centre).to.deep.equal({ x: 200, y: 150 });
    const under = (x: number, y: number) => ({ x: x / look.scale + look.centre.x, y: y / look.scale + look.centre.y });
    const before = under(120, -60);
    look.zoom(3.7, 120, -60);
    expect(under(120, -60).x).to.be.closeTo(before.x, 1e-9);
    expect(under(120, -60).y).to.be.closeTo(before.y, 1e-9);
    look.zoom(1e9);
    expect(look.scale).to.equal(128);
    look.mode = 'side';
    look.fit({ x: 0, y: 0, width: 400, height: 300 });
    expect(look.scale).to.be.closeTo((408 - 16) / 400, 1e-9);
    look.exposure = -0.5;
    look.shadowCheck = 2;
    expect(look.stops).to.equal(1.5);
  });

  it('the range of a data layer holds all of it, or all but what stands out', () => {
    const layer = (values: number[]) => ({ width: values.length, height: 1, channels: ['ms'], halves: Uint16Array.from(values, toHalf) }); // prettier-ignore
    const times = [...Array.from({ length: 999 }, (_, i) => 1 + i / 999), 64];
    expect(rangeOf(layer(times))).to.deep.equal([1, 64]);
    expect(rangeOf(layer(times), 0.995)[1]).to.be.within(1.9, 2.01);
    expect(rangeOf(layer([Infinity, NaN])), 'never empty').to.deep.equal([0, 1]);
    expect(rangeOf(layer([3, 3, 3]), 0.5)).to.deep.equal([3, 4]);
  });

  it('numbers are short and carry their unit', () => {
    expect([seconds(3.14), seconds(59.6), seconds(150)]).to.deep.equal(['3.1 s', '60 s', '2.5 min']);
    expect([lightnessUnits(0.042), lightnessUnits(2.96)]).to.deep.equal(['0.04 L*', '3.0 L*']);
    expect([value(0), value(0.0421), value(12.345), value(4e-5), value(123456)]).to.deep.equal([
      '0',
      '0.042',
      '12.35',
      '4.0e-5',
      '1.2e+5',
    ]);
    expect([proofName({ kind: 'proof', number: 2 }), proofName({ kind: 'trial', number: 1 })]).to.deep.equal([
      'P2',
      'T1',
    ]);
  });
});
