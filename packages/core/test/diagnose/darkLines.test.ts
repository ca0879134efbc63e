// Lines that are drawn into pictures, so that place, length and depth are known; and a crack between two squares, rendered.
import { expect } from 'chai';
import { InputError } from '@dusting/core/formats';
import { frameOf } from '@dusting/core/render';
import { hash32 } from '@dusting/core/math';
import { darkLines } from '../../src/diagnose/displacement/darkLines.ts';
import { contextOf, explained, renderShot } from '../diagnosisBench.ts';
import { makeShot, MATT, square } from '../scenes.ts';

const [WIDTH, HEIGHT] = [80, 60];
/** L* with a slope, noise of a deviation, and what is drawn into it: by how much darker a pixel is. */
const picture = (drawn: (x: number, y: number) => number, noise = 0) =>
  Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => {
    const [x, y] = [i % WIDTH, Math.floor(i / WIDTH)];
    // the sum of twelve even numbers is next to normal
    let sum = -6;
    for (let k = 0; k < 12; k++) sum += (hash32(i * 12 + k) >>> 0) * 2 ** -32;
    return 40 + 0.3 * x + noise * sum - drawn(x, y);
  });

describe('thin dark lines', () => {
  it('upright, level and slanted ones are found with their length and depth', () => {
    for (const [name, on] of [
      ['upright', (x: number, y: number) => x === 30 && y >= 10 && y < 50],
      ['level', (x: number, y: number) => y === 30 && x >= 10 && x < 50],
      ['slanted', (x: number, y: number) => x === y + 5 && y >= 10 && y < 50],
      ['two pixels wide', (x: number, y: number) => (x === 30 || x === 31) && y >= 10 && y < 50],
    ] as const) {
      const found = darkLines(picture((x, y) => (on(x, y) ? 15 : 0)), WIDTH); // prettier-ignore
      expect(found, name).to.have.length(1);
      expect(found[0].length, name).to.be.within(38, 42);
      expect(found[0].depth, name).to.be.closeTo(15, 1.3);
      expect(on(found[0].x, found[0].y), name).to.equal(true);
    }
  });
  it('bands, edges, spots and faint lines are none; nor is noise, but a line in it is one', () => {
    for (const [name, drawn] of [
      ['a band', (x: number) => (x >= 30 && x < 38 ? 15 : 0)],
      ['an edge', (x: number) => (x >= 30 ? 15 : 0)],
      ['a spot', (x: number, y: number) => (Math.hypot(x - 30, y - 30) < 2 ? 30 : 0)],
      ['a faint line', (x: number) => (x === 30 ? 4 : 0)],
    ] as const)
      expect(darkLines(picture(drawn), WIDTH), name).to.deep.equal([]);
    for (const noise of [0.5, 2, 4])
      expect(
        darkLines(
          picture(() => 0, noise),
          WIDTH,
        ),
        `${noise} L*`,
      ).to.deep.equal([]);
    expect(
      darkLines(
        picture((x) => (x === 30 ? 25 : 0), 1.5),
        WIDTH,
      )[0].length,
    ).to.be.at.least(50);
    expect(darkLines(new Float32Array(9), 3)).to.deep.equal([]);
  });

  it('a gap between two squares is a candidate in a frame without a scene, and none where they touch', async () => {
    const said = async (gap: number) => {
      const at = (x: number) => [1, 0, 0, x, 0, 1, 0, 0, 0, 0, 1, 0];
      const objects = [-1, 1].map((side) => ({ mesh: square(2), surface: MATT, transform: at(side * (1 + gap / 2)) }));
      const { blobs, document } = makeShot({ objects, lights: [{ kind: 'sun', strength: 2, angle: 0, transform: at(0) }], environment: {}, view: 1, settings: { width: 48, height: 36, pixelSamples: 4 } }); // prettier-ignore
      const { picture: frame } = renderShot(document, blobs);
      return explained('displacement', contextOf(document, blobs, { picture: frame, region: frameOf(document.final), scene: null })); // prettier-ignore
    };
    // a pixel is 1 / 36 m
    const cracked = await said(1 / 36);
    expect(cracked.measured.darkLines).to.equal(1);
    expect(cracked.summary).to.match(/^One thin dark line stands out in this region, 3\d px .*\nThey are candidates/);
    expect(cracked.evidence.map(({ type }) => type)).to.deep.equal(['pixels']);
    expect(cracked.remedies).to.deep.equal([]);
    const whole = await said(0);
    expect(whole.summary).to.match(/^No thin dark line .*\nWhether a seam cracks.* mesh and map/);
  });
  it('a picture without a beauty layer is refused', async () => {
    const { blobs, document } = makeShot({ objects: [{ mesh: square(2), surface: MATT }], lights: [], settings: { width: 8, height: 8 } }); // prettier-ignore
    const context = contextOf(document, blobs, { scene: null });
    const bare = { ...context.picture, channels: [] };
    const failed = await explained('displacement', { ...context, picture: bare }).catch((error: Error) => error);
    expect(failed).to.be.instanceOf(InputError).with.property('message').that.contains('beauty');
  });
});
