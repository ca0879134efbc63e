// Files as other programs write them. PNG: ISO/IEC 15948 (7.2 sample depths, 8.2 interlace passes); JPEG: ITU-T T.871;
// OpenEXR: "Technical introduction" (luminance and chroma) and the standard attribute of chromaticities; glTF 2.0 with
// KHR_draco_mesh_compression and EXT_meshopt_compression, packed by the libraries of the formats.
import { expect } from 'chai';
import { deflateSync } from 'node:zlib';
import { Document, NodeIO } from '@gltf-transform/core';
import { EXTMeshoptCompression } from '@gltf-transform/extensions';
import jpeg from 'jpeg-js';
import { MeshoptDecoder, MeshoptEncoder } from 'meshoptimizer';
import {
  decodeMesh,
  type InputError,
  PLAIN_SPACE,
  readExr,
  readExrHeader,
  readObj,
  readTexture,
  writeExr,
} from '@dusting/core/formats';
import { findChannel, listLayers, type Picture } from '@dusting/core/image';
import { importShot } from '@dusting/core/scene';
import { sphere } from '../scenes.ts';

const window = { x: 0, y: 0, width: 2, height: 1 };
const exrOf = (channels: Record<string, number[]>): Uint8Array =>
  writeExr({ width: 2, height: 1, dataWindow: window, displayWindow: window, metadata: {}, channels: Object.entries(channels).map(([name, data]) => ({ name, type: 'float', data: Float32Array.from(data) })) } as Picture); // prettier-ignore
const texels = (bytes: Uint8Array, name: string) => [...readTexture(bytes, name, PLAIN_SPACE).texels];

describe('polygons of OBJ', () => {
  const read = (corners: number[][], face = corners.map((_, i) => i + 1)) =>
    readObj(new TextEncoder().encode(`${corners.map((c) => `v ${c.join(' ')}`).join('\n')}\nf ${face.join(' ')}\n`), 'a.obj').objects[0].mesh.data; // prettier-ignore
  /** Areas of the triangles, signed by the direction that their front looks in. */
  const areas = ({ positions, indices }: { positions: Float32Array; indices: Uint32Array }, up: number[]) =>
    Array.from({ length: indices.length / 3 }, (_, t) => {
      const [a, b, c] = [0, 1, 2].map((k) => [
        ...positions.subarray(indices[t * 3 + k] * 3, indices[t * 3 + k] * 3 + 3),
      ]);
      const [u, v] = [b.map((x, k) => x - a[k]), c.map((x, k) => x - a[k])];
      const cross = [0, 1, 2].map((k) => u[(k + 1) % 3] * v[(k + 2) % 3] - u[(k + 2) % 3] * v[(k + 1) % 3]);
      return cross.reduce((sum, x, k) => sum + (x * up[k]) / 2, 0);
    });
  const L = [[0, 0], [2, 0], [2, 1], [1, 1], [1, 2], [0, 2]]; // prettier-ignore
  const star = Array.from({ length: 10 }, (_, i) => [Math.cos((i * Math.PI) / 5), Math.sin((i * Math.PI) / 5)].map((v) => v * (i % 2 ? 0.4 : 1))); // prettier-ignore
  const areaOf = (p: number[][]) => p.reduce((sum, [x, y], i) => sum + (x * p[(i + 1) % p.length][1] - y * p[(i + 1) % p.length][0]) / 2, 0); // prettier-ignore
  const halved = L.flatMap((p, i) => [p, p.map((v, k) => (v + L[(i + 1) % L.length][k]) / 2)]);
  for (const [name, outline] of Object.entries({
    'an L': L,
    'a star': star,
    'an L with a corner in the middle of each side': halved,
    'an L with two corners that stand twice': L.flatMap((p, i) => (i === 1 || i === 3 ? [p, p] : [p])),
  }))
    for (const start of [0, 1, 2, 3, 4, 5])
      it(`${name} from its corner ${start}, in any plane: its area and no notch filled, faces to its front`, () => {
        const turned = [...outline.slice(start), ...outline.slice(0, start)];
        const planes: [(p: number[]) => number[], number[]][] = [
          [([x, y]) => [x, y, 3], [0, 0, 1]],
          [([x, y]) => [x, 3, -y], [0, 1, 0]],
          [([x, y]) => [0.6 * x, 0.8 * x, y], [0.8, -0.6, 0]],
        ];
        for (const [place, up] of planes) {
          const mesh = read(turned.map(place));
          const parts = areas(mesh, up);
          expect(parts.reduce((sum, a) => sum + a, 0)).to.be.closeTo(areaOf(outline), 1e-5);
          // the sum of a fan is right, too: its parts beyond the outline turn the other way
          for (const part of parts) expect(part).to.be.at.least(-1e-6);
          expect([...mesh.faceSizes!]).to.deep.equal([outline.length]);
          expect(new Set(mesh.indices).size, 'every corner is used').to.equal(outline.length);
          expect(mesh.indices.length / 3).to.equal(outline.length - 2);
        }
      });
});

describe('pictures of other programs', () => {
  it('OpenEXR of luminance and chroma has its colours', () => {
    const colors = [[0.8, 0.3, 0.1], [0.02, 0.5, 2]]; // prettier-ignore
    const y = colors.map(([r, g, b]) => 0.2126 * r + 0.7152 * g + 0.0722 * b);
    const bytes = exrOf({ Y: y, RY: colors.map(([r], i) => r / y[i] - 1), BY: colors.map(([, , b], i) => b / y[i] - 1) }); // prettier-ignore
    const read = texels(bytes, 'chroma.exr');
    colors.flat().forEach((c, i) => expect(read[i + Math.floor(i / 3)]).to.be.closeTo(c, 2e-4));
  });

  it('the chromaticities of an OpenEXR picture are read: those of Display P3 come out as if it had been named', () => {
    const plain = exrOf({ R: [0.9, 0.1], G: [0.5, 0.8], B: [0.2, 0.3] });
    const attribute = new Uint8Array(2 * 15 + 4 + 32);
    attribute.set(new TextEncoder().encode('chromaticities\0chromaticities\0'));
    new DataView(attribute.buffer).setInt32(30, 32, true);
    [0.68, 0.32, 0.265, 0.69, 0.15, 0.06, 0.3127, 0.329].forEach((v, i) => new DataView(attribute.buffer).setFloat32(34 + i * 4, v, true)); // prettier-ignore
    const bytes = Uint8Array.from([...plain.subarray(0, 8), ...attribute, ...plain.subarray(8)]);
    const data = new DataView(bytes.buffer);
    // the place of its only block stands right before the block
    for (let at = 8 + attribute.length; at + 8 < bytes.length; at++)
      if (data.getBigUint64(at, true) === BigInt(at + 8 - attribute.length)) data.setBigUint64(at, BigInt(at + 8), true); // prettier-ignore
    expect(readExrHeader(bytes).chromaticities![0]).to.be.closeTo(0.68, 1e-6);
    expect(readExrHeader(plain).chromaticities).to.equal(null);
    const named = readTexture(plain, 'p3.exr', { ...PLAIN_SPACE, primaries: 'display-p3' }).texels;
    texels(bytes, 'p3.exr').forEach((v, i) => expect(v).to.be.closeTo(named[i], 1e-5));
  });

  it('a layer that is called beauty is found, beside a main one or instead of it, and lights a scene', () => {
    const alone = exrOf({ 'beauty.R': [1, 2], 'beauty.G': [3, 4], 'beauty.B': [5, 6] });
    const picture = readExr(alone);
    expect([...listLayers(picture)]).to.deep.equal([['beauty', ['R', 'G', 'B']]]);
    expect([...findChannel(picture, 'beauty', 'G')!.data]).to.deep.equal([3, 4]);
    expect(texels(alone, 'a.exr')).to.deep.equal([1, 3, 5, 1, 2, 4, 6, 1]);
    const both = exrOf({ R: [7, 7], G: [7, 7], B: [7, 7], 'beauty.R': [1, 2], 'beauty.G': [3, 4], 'beauty.B': [5, 6] });
    expect(texels(both, 'a.exr')[0]).to.equal(7);
    expect(texels(exrOf({ 'rgba.R': [1, 2], 'rgba.G': [3, 4], 'rgba.B': [5, 6], 'z.Z': [9, 9] }), 'a.exr')[1]).to.equal(3); // prettier-ignore
  });

  it('JPEG is rounded, not cut off', () => {
    for (const color of [
      [200, 100, 50],
      [13, 77, 201],
      [128, 128, 128],
    ]) {
      const data = Uint8Array.from({ length: 64 * 4 }, (_, i) => (i % 4 === 3 ? 255 : color[i % 4]));
      const read = texels(new Uint8Array(jpeg.encode({ width: 8, height: 8, data }, 100).data), 'a.jpg');
      color.forEach((c, k) => expect(Math.round(read[k] * 255)).to.be.closeTo(c, color[0] === 200 ? 0 : 1));
    }
  });

  it('a JPEG says by its segment APP14 whether it holds luminance and chroma, or RGB as it is', () => {
    const data = Uint8Array.from({ length: 64 * 4 }, (_, i) => [200, 100, 50, 255][i % 4]);
    const plain = new Uint8Array(jpeg.encode({ width: 8, height: 8, data }, 100).data);
    const withSegment = (transform: number) => Uint8Array.from([0xff, 0xd8, 0xff, 0xee, 0, 14, 0x41, 0x64, 0x6f, 0x62, 0x65, 0, 100, 0, 0, 0, 0, transform, ...plain.subarray(2)]); // prettier-ignore
    const read = (bytes: Uint8Array) => texels(bytes, 'a.jpg').slice(0, 3).map((v) => Math.round(v * 255)); // prettier-ignore
    expect(read(withSegment(1))).to.deep.equal([200, 100, 50]);
    // 0.299, 0.587, 0.114 of the colour, and its chroma about 128
    const [y, cb, cr] = read(withSegment(0));
    expect(y).to.be.closeTo(0.299 * 200 + 0.587 * 100 + 0.114 * 50, 1);
    expect(cb).to.be.closeTo(128 + (50 - 124) / 1.772, 1);
    expect(cr).to.be.closeTo(128 + (200 - 124) / 1.402, 1);
  });

  /** A grey PNG of 8 x 8, row by row from the numbers of its pixels. */
  function png(depth: number, interlaced: boolean, value: (x: number, y: number) => number): Uint8Array {
    const passes = interlaced ? [[0, 0, 8, 8], [4, 0, 8, 8], [0, 4, 4, 8], [2, 0, 4, 4], [0, 2, 2, 4], [1, 0, 2, 2], [0, 1, 1, 2]] : [[0, 0, 1, 1]]; // prettier-ignore
    const raw: number[] = [];
    for (const [x0, y0, dx, dy] of passes)
      for (let y = y0; y < 8; y += dy) {
        let bits = '';
        for (let x = x0; x < 8; x += dx) bits += value(x, y).toString(2).padStart(depth, '0');
        raw.push(0, ...(bits.padEnd(Math.ceil(bits.length / 8) * 8, '0').match(/.{8}/g) ?? []).map((b) => parseInt(b, 2))); // prettier-ignore
      }
    const crcOf = (bytes: number[]) => {
      let crc = ~0;
      for (const byte of bytes) {
        crc ^= byte;
        for (let k = 0; k < 8; k++) crc = (crc >>> 1) ^ (crc & 1 ? 0xedb88320 : 0);
      }
      return ~crc >>> 0;
    };
    const whole = (n: number) => [n >>> 24, (n >>> 16) & 255, (n >>> 8) & 255, n & 255];
    const chunk = (type: string, data: number[]) => {
      const body = [...new TextEncoder().encode(type), ...data];
      return [...whole(data.length), ...body, ...whole(crcOf(body))];
    };
    const head = [...whole(8), ...whole(8), depth, 0, 0, 0, interlaced ? 1 : 0];
    return Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, ...chunk('IHDR', head), ...chunk('IDAT', [...deflateSync(Uint8Array.from(raw))]), ...chunk('IEND', [])]); // prettier-ignore
  }
  for (const depth of [1, 2, 4, 8, 16])
    for (const interlaced of [false, true])
      it(`PNG of ${depth} bit grey, ${interlaced ? 'interlaced' : 'row by row'}`, () => {
        const top = 2 ** depth - 1;
        const value = (x: number, y: number) => (x * 3 + y * 5 + x * y) % (top + 1);
        const read = texels(png(depth, interlaced, value), 'a.png');
        for (let i = 0; i < 64; i++) expect(read[i * 4]).to.be.closeTo(value(i % 8, i >> 3) / top, 1e-6);
      });

  it('KTX2 is refused with the reason', () => {
    const bytes = Uint8Array.from([0xab, 0x4b, 0x54, 0x58, 0x20, 0x32, 0x30, 0xbb, 13, 10, 26, 10]);
    expect(() => texels(bytes, 'a.ktx2')).to.throw('blocks for graphics cards');
  });
});

describe('glTF of other programs', () => {
  const scene = (change: (document: Document) => void = () => {}) => {
    const document = new Document();
    const buffer = document.createBuffer();
    const ball = sphere(1, 16);
    const accessor = (array: Float32Array | Uint32Array, type: 'VEC3' | 'SCALAR') => document.createAccessor().setArray(array).setType(type).setBuffer(buffer); // prettier-ignore
    const material = document.createMaterial('glow').setEmissiveFactor([1, 1, 1]);
    const primitive = document.createPrimitive().setAttribute('POSITION', accessor(ball.positions, 'VEC3')).setIndices(accessor(ball.indices, 'SCALAR')).setMaterial(material); // prettier-ignore
    const root = document.createScene();
    root.addChild(document.createNode('ball').setMesh(document.createMesh('ball').addPrimitive(primitive)));
    root.addChild(document.createNode('eye').setCamera(document.createCamera('eye').setType('perspective').setYFov(0.6)).setTranslation([0, 0, 5])); // prettier-ignore
    change(document);
    return document;
  };
  const bringIn = (bytes: Uint8Array, name = 'ball.glb') => importShot([{ name, bytes }], 'ball');
  const refusal = (bytes: Uint8Array, name?: string) => bringIn(bytes, name).then(() => 'accepted', (error: InputError) => error.sentence); // prettier-ignore

  it('meshes packed by meshopt come in with the same triangles', async () => {
    await Promise.all([MeshoptDecoder.ready, MeshoptEncoder.ready]);
    const io = new NodeIO().registerExtensions([EXTMeshoptCompression]).registerDependencies({ 'meshopt.encoder': MeshoptEncoder, 'meshopt.decoder': MeshoptDecoder }); // prettier-ignore
    const packed = scene((document) => document.createExtension(EXTMeshoptCompression).setRequired(true));
    const [plain, unpacked] = await Promise.all([bringIn(await io.writeBinary(scene())), bringIn(await io.writeBinary(packed))]); // prettier-ignore
    const mesh = ({ document, blobs }: typeof plain) => decodeMesh(blobs.get(Object.values(document.meshes)[0].blob)!.bytes); // prettier-ignore
    // a triangle may begin with another of its corners
    const corners = ({ indices }: ReturnType<typeof mesh>) =>
      Array.from({ length: indices.length / 3 }, (_, t) => {
        const three = [...indices.subarray(t * 3, t * 3 + 3)];
        const first = three.indexOf(Math.min(...three));
        return [0, 1, 2].map((k) => three[(first + k) % 3]);
      });
    expect(corners(mesh(unpacked))).to.deep.equal(corners(mesh(plain)));
    mesh(plain).positions.forEach((v, i) => expect(mesh(unpacked).positions[i]).to.be.closeTo(v, 1e-5));
    expect(unpacked.unsupported).to.deep.equal([]);
  });

  it('a scale of 0 leaves the node out and says where; the rest comes in', async () => {
    const bytes = await new NodeIO().writeBinary(
      scene((document) => {
        const [root] = document.getRoot().listScenes();
        const [mesh] = document.getRoot().listMeshes();
        root.addChild(document.createNode('squashed').setMesh(mesh).setScale([1, 0, 1]));
        root.addChild(document.createNode('lost eye').setCamera(document.createCamera('lost')).setScale([0, 0, 0]));
      }),
    );
    const { document, unsupported } = await bringIn(bytes);
    expect(Object.keys(document.objects)).to.have.length(1);
    expect(Object.keys(document.cameras)).to.have.length(1);
    expect(unsupported.map(({ feature, place }) => `${feature}: ${place}`)).to.satisfy((all: string[]) => /scale of 0.*squashed/.test(all.join('\n')) || /scale of 0.*meshes\/0/.test(all.join('\n'))); // prettier-ignore
    expect(unsupported).to.have.length(2);
  });

  it('a mesh of triangles without area is listed', async () => {
    const bytes = await new NodeIO().writeBinary(
      scene((document) => {
        const needle = document.createAccessor().setArray(new Float32Array([0, 0, 0, 1, 1, 1, 2, 2, 2])).setType('VEC3').setBuffer(document.getRoot().listBuffers()[0]); // prettier-ignore
        const mesh = document.createMesh('needle').addPrimitive(document.createPrimitive().setAttribute('POSITION', needle)); // prettier-ignore
        document.getRoot().listScenes()[0].addChild(document.createNode('needle').setMesh(mesh));
      }),
    );
    expect((await bringIn(bytes)).unsupported.map(({ feature }) => feature)).to.deep.equal(['a mesh whose triangles have no area']); // prettier-ignore
  });

  it('references that lead nowhere, and textures for graphics cards, are refused with place and reason', async () => {
    const { json, resources } = await new NodeIO().writeJSON(scene(), {});
    const embedded = { ...json, buffers: [{ ...json.buffers![0], uri: `data:application/octet-stream;base64,${Buffer.from(Object.values(resources)[0]).toString('base64')}` }] }; // prettier-ignore
    const text = (change: object) => new TextEncoder().encode(JSON.stringify({ ...embedded, ...change }));
    expect(await refusal(text({}), 'ball.gltf')).to.equal('accepted');
    const textured = { materials: [{ name: 'glow', pbrMetallicRoughness: { baseColorTexture: { index: 4 } } }] };
    expect(await refusal(text(textured), 'ball.gltf')).to.match(/materials\/0 \(glow\): it refers to textures\/4, and there are 0/); // prettier-ignore
    expect(await refusal(text({ nodes: [{ mesh: 7 }] }), 'ball.gltf')).to.match(/nodes\/0: it refers to meshes\/7/);
    expect(await refusal(text({ extensionsRequired: ['KHR_texture_basisu'] }), 'ball.gltf')).to.match(/KTX2/);
  });
});
