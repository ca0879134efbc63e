// The circle of confusion of a thin lens: with its radius R, focus F and a point at distance D, the point is spread over a
// disc of radius R |D - F| / D in the plane of focus (Potmesil & Chakravarty 1981). Second moments: a disc of radius r has
// r^2 / 4 on each axis, a regular n-gon of circumradius r has r^2 (2 + cos(2 pi / n)) / 12 (from memory).
import { expect } from 'chai';
import { compileScene, FILM, frameOf, renderHere } from '@dusting/core/render';
import { importShot } from '@dusting/core/scene';
import { hashUnit, samplePolygon } from '@dusting/core/math';
import { Document, NodeIO } from '@gltf-transform/core';
import { GLOW, makeShot, square } from '../scenes.ts';

const FOCUS = 4;
const RADIUS = 0.05;
const SIZE = 96;

/** Side of the glowing square in the plane of focus, metres: large enough to be met often. */
const SIDE = 0.02;

/** Spread of a glowing square at a distance, on both axes, in the plane of focus: m2. */
function spread(distance: number, lens: object) {
  const { document, blobs } = makeShot({
    objects: [
      {
        mesh: square((SIDE * distance) / FOCUS),
        surface: GLOW,
        transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, -distance],
      },
      { mesh: square(0.0001), surface: GLOW, transform: [1, 0, 0, 50, 0, 1, 0, 0, 0, 0, 1, 9] },
    ],
    camera: { transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0], verticalAngle: 5 },
    settings: { width: SIZE, height: SIZE, pixelSamples: 96 },
  });
  Object.assign(document.cameras.camera, lens);
  const scene = compileScene(document, document.final, (id) => blobs.get(id)!);
  const { data } = renderHere(scene, document.final, frameOf(document.final));
  const pixel = (2 * Math.tan((2.5 * Math.PI) / 180) * FOCUS) / SIZE;
  let [sum, xx, yy] = [0, 0, 0];
  for (let i = 0; i < SIZE * SIZE; i++) {
    const v = data[i * FILM.stride + 1];
    const [x, y] = [(i % SIZE) + 0.5 - SIZE / 2, Math.floor(i / SIZE) + 0.5 - SIZE / 2].map((p) => p * pixel);
    sum += v;
    xx += v * x * x;
    yy += v * y * y;
  }
  // the pixels themselves spread a point by their width^2 / 12
  return { sum, xx: xx / sum - pixel ** 2 / 12, yy: yy / sum - pixel ** 2 / 12, pixel };
}

describe('depth of field', () => {
  const lens = { apertureRadius: RADIUS, focusDistance: FOCUS };
  for (const distance of [2, 3, 6, 12])
    it(`a small square at ${distance} m is spread over its circle of confusion, focus at ${FOCUS} m`, () => {
      const { xx, yy } = spread(distance, lens);
      const radius = (RADIUS * Math.abs(distance - FOCUS)) / distance;
      const own = SIDE ** 2 / 12;
      for (const moment of [xx, yy]) expect(Math.sqrt(4 * (moment - own)) / radius).to.be.closeTo(1, 0.04); // prettier-ignore
    });

  it('in the plane of focus it stays as it is with no lens, and as bright', () => {
    const [sharp, none] = [spread(FOCUS, lens), spread(FOCUS, {})];
    for (const { xx } of [sharp, none]) expect(Math.sqrt(12 * xx)).to.be.closeTo(SIDE, 0.05 * SIDE);
    expect(sharp.sum / none.sum).to.be.closeTo(1, 0.05);
  });

  for (const corners of [0, 3, 5, 6, 9])
    it(`points of ${corners === 0 ? 'a round lens' : `a lens of ${corners} blades`} are spread evenly over it`, () => {
      const out = new Float64Array(2);
      const count = 40_000;
      let [x, y, xx, yy, xy] = [0, 0, 0, 0, 0];
      for (let i = 0; i < count; i++) {
        samplePolygon(out, hashUnit(2 * i), hashUnit(2 * i + 1), corners);
        expect(Math.hypot(out[0], out[1])).to.be.at.most(1 + 1e-12);
        x += out[0] / count;
        y += out[1] / count;
        xx += out[0] ** 2 / count;
        yy += out[1] ** 2 / count;
        xy += (out[0] * out[1]) / count;
      }
      const expected = corners === 0 ? 1 / 4 : (2 + Math.cos((2 * Math.PI) / corners)) / 12;
      // four standard errors of a mean of values within 1
      const slack = 4 * Math.sqrt(expected / count);
      for (const off of [x, y, xy, xx - expected, yy - expected]) expect(Math.abs(off)).to.be.below(slack);
    });

  it('comes in with the extras of a glTF camera, and a value that is no number is refused', async () => {
    const write = async (extras: Record<string, unknown>) => {
      const document = new Document();
      const buffer = document.createBuffer();
      const positions = document.createAccessor().setType('VEC3').setArray(square(1).positions).setBuffer(buffer);
      const mesh = document.createMesh('board').addPrimitive(document.createPrimitive().setAttribute('POSITION', positions).setMaterial(document.createMaterial().setEmissiveFactor([1, 1, 1]))); // prettier-ignore
      const camera = document.createCamera('camera').setType('perspective').setYFov(0.5).setExtras(extras);
      const scene = document.createScene();
      scene.addChild(document.createNode('board').setMesh(mesh)).addChild(document.createNode('eye').setCamera(camera));
      return importShot([{ name: 'lens.glb', bytes: await new NodeIO().writeBinary(document) }], 'lens');
    };
    const { document } = await write({ apertureRadius: 0.01, focusDistance: 2.5, apertureBlades: 6 });
    expect(Object.values(document.cameras)[0]).to.include({ apertureRadius: 0.01, focusDistance: 2.5, apertureBlades: 6 }); // prettier-ignore
    let refused: unknown;
    await write({ focusDistance: 'far' }).catch((error: Error) => (refused = error.message));
    expect(refused).to.match(/focusDistance must be a number/);
  });
});
