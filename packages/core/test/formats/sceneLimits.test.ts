// What a file announces is counted before it is believed (glTF 2.0, 3.5.2: a node has one parent at most; 3.6.2: an
// accessor without a buffer view holds zeros). Each file here is a few kilobytes.
import { expect } from 'chai';
import { encode } from 'fast-png';
import { deflateSync } from 'node:zlib';
import { InputError, PLAIN_SPACE, readGltf, readTexture } from '@dusting/core/formats';
import { importShot } from '@dusting/core/scene';

const gltf = (json: object) => new TextEncoder().encode(JSON.stringify({ asset: { version: '2.0' }, ...json }));
const triangle = Buffer.from(Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0).buffer).toString('base64');
const scene = {
  buffers: [{ uri: `data:application/octet-stream;base64,${triangle}`, byteLength: 36 }],
  bufferViews: [{ buffer: 0, byteLength: 36 }],
  accessors: [{ bufferView: 0, componentType: 5126, type: 'VEC3', count: 3, min: [0, 0, 0], max: [1, 1, 0] }],
  meshes: [{ primitives: [{ attributes: { POSITION: 0 } }] }],
};
const file = (nodes: object[], more = {}) => gltf({ ...scene, nodes, scenes: [{ nodes: [0] }], ...more });

async function refused(bytes: Uint8Array, words: RegExp) {
  const error = await readGltf(bytes, 'a.gltf').then(
    () => null,
    (e: unknown) => e,
  );
  expect(error).to.be.instanceOf(InputError);
  expect((error as InputError).sentence).to.match(words);
}

describe('what a scene announces', () => {
  it('millions of instances', async () => {
    const zeros = { componentType: 5126, type: 'VEC3', count: 3_000_000 };
    const node = { mesh: 0, extensions: { EXT_mesh_gpu_instancing: { attributes: { TRANSLATION: 1 } } } };
    const more = { accessors: [...scene.accessors, zeros], extensionsUsed: ['EXT_mesh_gpu_instancing'] };
    await refused(file([node], more), /places 3,000,000 objects, and at most 200,000 .*DUSTING_IMPORT_SCALE/);
  });

  it('an accessor of zeros that needs gigabytes', async () => {
    const zeros = { componentType: 5126, type: 'VEC4', count: 2 ** 28 };
    await refused(
      file([{ mesh: 0 }], { accessors: [...scene.accessors, zeros] }),
      /announce 4,096 MB, and at most 2,048/,
    );
    const broken = { componentType: 5126, type: 'VEC4', count: -5 };
    await refused(file([{ mesh: 0 }], { accessors: [...scene.accessors, broken] }), /accessors\/1: its count/);
  });

  it('nodes that stand too deep, in a circle, or with two parents', async () => {
    const chain = (n: number) => Array.from({ length: n }, (_, i) => (i < n - 1 ? { children: [i + 1] } : { mesh: 0 }));
    await refused(file(chain(20_000)), /stand 20,000 deep, and at most 1,000/);
    await refused(file([{ children: [1] }, { children: [2] }, { children: [1] }]), /two nodes claim it/);
    await refused(file([{ mesh: 0 }, { children: [2] }, { children: [1] }]), /in a circle/);
    expect((await readGltf(file(chain(1000)), 'a.gltf')).objects).to.have.length(1);
  });

  it('lists that are none', async () => {
    for (const wrong of [{ nodes: 5 }, { meshes: [null] }, { accessors: {} }, { nodes: [{ children: 3 }] }])
      await refused(gltf({ ...scene, ...wrong }), /damaged|cannot be read|holds no scene/);
  });

  it('objects stand where their parents put them', async () => {
    const move = (x: number) => ({ translation: [x, 0, 0], scale: [2, 2, 2] });
    const { objects } = await readGltf(
      file([
        { ...move(1), children: [1] },
        { ...move(3), mesh: 0 },
      ]),
      'a.gltf',
    );
    // 1 + 2 * 3, scaled by 4
    expect(objects[0].transform.slice(0, 4)).to.deep.equal([4, 0, 0, 7]);
  });

  it('twenty thousand objects of one name get ids that differ', async () => {
    const nodes = [{ children: Array.from({ length: 20_000 }, (_, i) => i + 1) }, ...Array(20_000).fill({ mesh: 0, name: 'jar' })]; // prettier-ignore
    const camera = { cameras: [{ type: 'perspective', perspective: { yfov: 1, znear: 0.1 } }] };
    const sky = { name: 'a.json', bytes: new TextEncoder().encode('{"environment":{"color":[1,1,1],"strength":1}}') };
    const bytes = file([...nodes, { camera: 0 }], { ...camera, scenes: [{ nodes: [0, 20_001] }] });
    const { document } = await importShot([{ name: 'a.gltf', bytes }, sky]);
    const ids = Object.keys(document.objects);
    expect(ids).to.have.length(20_000);
    expect(ids.slice(0, 2)).to.deep.equal(['jar', 'jar-2']);
    expect(ids.at(-1)).to.equal('jar-20000');
  });
});

describe('what a PNG unpacks to', () => {
  const png = Buffer.from(encode({ width: 1, height: 1, data: Uint8Array.of(9, 8, 7), channels: 3, depth: 8 }));
  const chunk = (type: string, body: Uint8Array) => {
    const out = Buffer.alloc(body.length + 12);
    out.writeUInt32BE(body.length, 0);
    out.write(type, 4);
    out.set(body, 8);
    return out;
  };
  const bomb = deflateSync(Buffer.alloc(2e8));
  const at = png.indexOf('IDAT') - 4;

  it('is no more than its size needs', () => {
    const bytes = Buffer.concat([png.subarray(0, at), chunk('IDAT', bomb), chunk('IEND', new Uint8Array(0))]);
    expect(() => readTexture(bytes, 'a.png', PLAIN_SPACE)).to.throw(InputError, 'more than the 4 bytes that its size needs'); // prettier-ignore
  });

  it('is left alone in chunks that the picture does not need', () => {
    const profile = Buffer.concat([Buffer.from('a\0\0'), bomb]);
    const bytes = Buffer.concat([png.subarray(0, at), chunk('iCCP', profile), png.subarray(at)]);
    expect([...readTexture(bytes, 'a.png', PLAIN_SPACE).texels.slice(0, 3)].map((v) => Math.round(v * 255))).to.deep.equal([9, 8, 7]); // prettier-ignore
  });
});
