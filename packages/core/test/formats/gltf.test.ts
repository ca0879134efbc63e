// Khronos glTF 2.0 specification: primitive modes (3.7.2.1), node hierarchy (3.5), mirrored nodes (3.7.4).
import { Document, Primitive, WebIO } from '@gltf-transform/core';
import { expect } from 'chai';
import { InputError, readGltf } from '@dusting/core/formats';
import { transformPoint } from '@dusting/core/math';
import { GLASS, IDENTITY, renderTest, slab } from '../scenes.ts';

const CORNERS = [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0];
interface Options {
  mode?: number;
  indices?: number[];
  positions?: number[];
  change?: (document: Document, primitive: Primitive) => void;
}
async function glb({
  mode = 4,
  indices = [0, 1, 2, 0, 2, 3],
  positions = CORNERS,
  change,
}: Options = {}): Promise<Uint8Array> {
  const document = new Document();
  const buffer = document.createBuffer();
  const accessor = (type: 'SCALAR' | 'VEC3', values: Float32Array<ArrayBuffer> | Uint16Array<ArrayBuffer>) =>
    document.createAccessor().setType(type).setArray(values).setBuffer(buffer);
  const primitive = document
    .createPrimitive()
    .setMode(mode as 4)
    .setAttribute('POSITION', accessor('VEC3', new Float32Array(positions)))
    .setIndices(accessor('SCALAR', new Uint16Array(indices)));
  const child = document
    .createNode('child')
    .setMesh(document.createMesh('pane').addPrimitive(primitive))
    .setTranslation([1, 0, 0]);
  const parent = document.createNode('parent').setScale([2, 2, 2]).setTranslation([0, 5, 0]).addChild(child);
  document.createScene().addChild(parent);
  change?.(document, primitive);
  return new WebIO().writeBinary(document);
}
const refused = async (bytes: Uint8Array, words: RegExp) => {
  const error = await readGltf(bytes, 'a.glb').then(
    () => null,
    (e: unknown) => e,
  );
  expect(error).to.be.instanceOf(InputError);
  expect((error as InputError).sentence).to.match(words);
};

describe('glTF', () => {
  it('lists, strips and fans give the same square, all faces to the front', async () => {
    for (const [mode, indices] of [
      [4, [0, 1, 2, 0, 2, 3]],
      [5, [0, 1, 3, 2]],
      [6, [0, 1, 2, 3]],
    ] as const) {
      const { objects } = await readGltf(await glb({ mode, indices: [...indices] }), 'a.glb');
      const { positions, indices: read } = objects[0].mesh.data;
      let area = 0;
      for (let t = 0; t < read.length; t += 3) {
        const [a, b, c] = [0, 1, 2].map((k) => positions.subarray(read[t + k] * 3, read[t + k] * 3 + 3));
        area += ((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])) / 2;
      }
      expect(area, `mode ${mode}`).to.be.closeTo(1, 1e-6);
    }
  });

  it('a node stands where its parents put it', async () => {
    const { objects } = await readGltf(await glb(), 'a.glb');
    expect(transformPoint(objects[0].transform, [1, 1, 0])).to.deep.equal([4, 7, 0]);
  });

  it('what cannot be shown is listed with its place, and the rest is read', async () => {
    const lines = await readGltf(await glb({ mode: 1, indices: [0, 1] }), 'a.glb');
    expect(lines.unsupported).to.deep.equal([
      { feature: 'points and lines', place: 'meshes/0/primitives/0 (pane)', effect: 'left out' },
    ]);
    const flat = await readGltf(await glb({ change: (d) => d.getRoot().listNodes()[1].setScale([1, 0, 1]) }), 'a.glb');
    expect(flat.unsupported[0].feature).to.contain('scale of 0');
    expect([lines.objects.length, flat.objects.length]).to.deep.equal([0, 0]);
  });

  it('a mesh without triangles and values that are no numbers are listed, and the rest is read', async () => {
    const empty = await readGltf(await glb({ indices: [0, 1] }), 'a.glb');
    expect([empty.objects.length, empty.unsupported[0].feature]).to.deep.equal([0, 'a mesh without triangles']);
    const broken = await readGltf(await glb({ positions: [NaN, ...CORNERS.slice(1)] }), 'a.glb');
    expect(broken.objects).to.have.length(1);
    expect(broken.unsupported[0]).to.include({ feature: '1 values of POSITION that are not numbers', effect: 'their triangles are left out' }); // prettier-ignore
  });

  it('indices past the end and other versions are refused', async () => {
    await refused(
      await glb({ indices: [0, 1, 9] }),
      /meshes\/0\/primitives\/0: an index of 9 points past the last vertex/,
    );
    await refused(await glb({ change: (d) => d.getRoot().listScenes()[0].dispose() }), /holds no scene/);
    await refused(new TextEncoder().encode('{"asset": {"version": "1.0"}}'), /not a glTF 2\.0 scene/);
  });

  it('every cut of the file is refused with words, never with a fault of the program', async () => {
    const whole = await glb();
    for (let length = 0; length < whole.length; length += 37) await refused(whole.subarray(0, length), /a\.glb/);
  });

  it('a mirrored node keeps its front: glass absorbs the same', () => {
    const camera = {
      transform: [Math.SQRT1_2, 0, Math.SQRT1_2, 7, 0, 1, 0, 0, -Math.SQRT1_2, 0, Math.SQRT1_2, 7],
      verticalAngle: 2,
    };
    const surface = { ...GLASS, transmission_color: [0.2, 0.2, 0.2], transmission_depth: 0.5 };
    const seen = (transform: number[]) =>
      renderTest({
        objects: [{ mesh: slab(2, -0.25, 0.25), surface, transform }],
        environment: { color: [1, 1, 1] },
        camera,
        settings: { pixelSamples: 64 },
      });
    const [plain, mirrored] = [seen(IDENTITY), seen([1, 0, 0, 0, 0, -1, 0, 0, 0, 0, 1, 0])];
    expect(mirrored.mean).to.be.closeTo(plain.mean, 4 * Math.hypot(plain.error, mirrored.error) + 1e-3);
  });
});
