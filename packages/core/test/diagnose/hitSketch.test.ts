// Hit distances that a render counts for each pixel: against the closed form of a disc over a floor (Nusselt's analog, the
// distance of a ray at an angle is h / cos), and the layers that follow from them against renders with the same settings.
import { expect } from 'chai';
import { dialLayer, type DialEvidence } from '@dusting/core/diagnose';
import { findChannel, isSurfaceDepth, type Picture } from '@dusting/core/image';
import { hitChannel, hitCones, HITS } from '@dusting/core/render';
import { contextOf, explained, renderShot } from '../diagnosisBench.ts';
import { GLASS, makeShot, MATT, square, type TestObject } from '../scenes.ts';
import { crates, disc, over, room, scene } from './occlusionScenes.ts';

const layerOf = (picture: Picture) => findChannel(picture, 'occlusion', 'Y')!.data;

describe('hit distances of every pixel', () => {
  it('under a disc: stopped before d are rays with sin^2 below 1 - h^2 / d^2, of each cone', () => {
    const [radius, height] = [1.5, 1];
    const objects = [{ mesh: square(20), surface: MATT }, over(disc(radius, height))];
    const { document, blobs } = makeShot({ objects, view: 0.002, settings: { width: 4, height: 4, pixelSamples: 16, occlusion: { samples: 64, distance: 0, falloff: 0, cone: 90, clearSurfaces: true } } }); // prettier-ignore
    const hits = [0.9, 1.1, 1.3, 1.6, 2, 3];
    const { picture } = renderShot(document, blobs, [{ hits }]);
    const edge = radius ** 2 / (radius ** 2 + height ** 2);
    hitCones(90).forEach((cone, c) =>
      hits.forEach((d, step) => {
        const within = Math.sin((cone * Math.PI) / 180) ** 2;
        const stopped = Math.min(within, edge, Math.max(0, 1 - height ** 2 / d ** 2)) / within;
        const { data } = findChannel(picture, HITS, hitChannel(c, step))!;
        expect(data.reduce((sum, v) => sum + v, 0) / data.length, `${cone} degrees, ${d} m`).to.be.closeTo(stopped, 0.01); // prettier-ignore
      }),
    );
  });

  it('do not change the layer that is rendered with them, and stand in no other picture', () => {
    const { document, blobs } = makeShot(scene([room, ...crates], { distance: 0.8 }));
    const [plain, counted] = [[], [{ hits: [0.1, 1, 10] }]].map((extras) => renderShot(document, blobs, extras).picture); // prettier-ignore
    expect(layerOf(counted)).to.deep.equal(layerOf(plain));
    expect(findChannel(plain, HITS, hitChannel(0, 0))).to.equal(undefined);
    expect(findChannel(counted, HITS, hitChannel(3, 2))).not.to.equal(undefined);
  });

  describe('of a room with a pane before its crates', () => {
    const pane: TestObject = { mesh: square(1.2, 0.8), surface: { ...GLASS, geometry_thin_walled: true } };
    const objects = [room, ...crates, pane];
    const kept: Uint8Array[] = [];
    let dial: DialEvidence;
    before(async () => {
      const keep = async (bytes: Uint8Array) => `file ${kept.push(bytes)}`;
      const { document, blobs } = makeShot(scene(objects, { distance: 0 }));
      const result = await explained('occlusion', contextOf(document, blobs, { keep }));
      dial = result.evidence.find((e): e is DialEvidence => e.type === 'dial')!;
    });

    it('are kept as 16 numbers of four bytes for each way of clear surfaces, and named in the evidence', () => {
      expect(dial.shares).to.deep.equal({ kept: 'file 1' });
      expect([dial.width, dial.height]).to.deep.equal([dial.region.width, dial.region.height]);
      expect(dial.clear).to.deep.equal([true, false]);
      expect(kept.map(({ length }) => length)).to.deep.equal([2 * 4 * dial.values.length * dial.width * dial.height]);
      expect(dial.values.length).to.be.at.most(16);
    });

    const cases = [
      { name: 'a distance', place: { distance: 0.8, falloff: 0, cone: 90, clear: true } },
      { name: 'a distance between those that are kept, with falloff', place: { distance: 1.3, falloff: 1.5, cone: 90, clear: true } }, // prettier-ignore
      { name: 'a narrower cone', place: { distance: 0.8, falloff: 0, cone: 45, clear: true } },
      { name: 'clear surfaces that do not count', place: { distance: 0.8, falloff: 0, cone: 90, clear: false } },
    ];
    for (const { name, place } of cases)
      it(`${name}: the layer of a render with it, within 0.015 open on average and 0.05 a pixel`, () => {
        const { clear, ...rest } = place;
        const { document, blobs } = makeShot(scene(objects, { ...rest, clearSurfaces: clear, samples: 64 }));
        const { picture } = renderShot(document, blobs);
        const depth = findChannel(picture, 'depth', 'Z')!.data;
        const [layer, shown] = [layerOf(picture), dialLayer(dial, kept[0], place)];
        const seen = [...layer.keys()].filter((i) => isSurfaceDepth(depth[i]));
        const mean = (of: (i: number) => number) => seen.reduce((sum, i) => sum + of(i), 0) / seen.length;
        expect(mean((i) => shown[i] - layer[i])).to.be.closeTo(0, 0.015);
        // with the noise of 32 rays
        expect(mean((i) => Math.abs(shown[i] - layer[i]))).to.be.below(0.05);
      });
  });
});
