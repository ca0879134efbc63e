// Textures that a settings file brings in, OBJ and MTL (the format's specification, appendix B1 and B2), and the motion
// of an animated glTF (glTF 2.0, appendix C). A bump is checked with the slope that it has (Blinn 1978).
import { expect } from 'chai';
import { encode } from 'fast-png';
import { Document, WebIO } from '@gltf-transform/core';
import { compileScene, FILM, frameOf, renderHere } from '@dusting/core/render';
import { decodeMesh, InputError } from '@dusting/core/formats';
import { blobsOf, importShot, type ImportFile, type ImportedShot } from '@dusting/core/scene';

const text = (name: string, value: string): ImportFile => ({ name, bytes: new TextEncoder().encode(value) });
const json = (name: string, value: object) => text(name, JSON.stringify(value));
const OBJ = `mtllib box.mtl
o wall\r
v -1 -1 0
v 1 -1 0 # a comment
v 1 1 0
v -1 1 0
v 0 2 0
vt 0 0
vt 1 0
vt 1 1
vt 0 1
vn 0 0 1
usemtl plaster
f 1/1/1 2/2/1 3/3/1 4/4/1
usemtl glow
f -5 -4 -3
f 4 3 \\
  5
l 1 2
`;
const MTL = `newmtl plaster
Kd 0.5 0.25 0.75
Ns 98
map_Kd label.png
newmtl glow
Ke 2 2 2
d 0.5
Tf 1 1 1
`;
const front = { name: 'front', transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 5], verticalAngle: 1 };
const label = { name: 'label.png', bytes: encode({ width: 1, height: 1, data: new Uint8Array([255, 0, 0]), channels: 3, depth: 8 }) }; // prettier-ignore
const refused = async (files: ImportFile[], words: RegExp) => {
  const error = await importShot(files).then(() => null, (e: unknown) => e); // prettier-ignore
  expect(error).to.be.instanceOf(InputError);
  expect((error as InputError).sentence).to.match(words);
};
const meanColor = ({ document, blobs }: ImportedShot, more = {}) => {
  const settings = { ...document.final, width: 4, height: 4, pixelSamples: 64, ...more };
  const film = renderHere(
    compileScene(document, settings, (id) => blobs.get(id)!.bytes),
    settings,
    frameOf(settings),
  );
  const sums = [0, 0, 0];
  for (let i = 0; i < film.data.length; i += FILM.stride)
    for (let k = 0; k < 3; k++) sums[k] += film.data[i + k] / film.data[i + FILM.samples] / 16;
  return sums;
};

describe('OBJ', () => {
  const files = [text('box.obj', OBJ), text('box.mtl', MTL), label, json('set.json', { cameras: { front } })];
  it('faces stay as they are: quads as fans, with their sizes; one object for each material', async () => {
    const { document, blobs, unsupported } = await importShot(files);
    expect(document.camera).to.equal('front');
    const [wall, glow] = Object.values(document.objects);
    expect([document.surfaces[wall.surface].name, document.surfaces[glow.surface].name]).to.deep.equal(['plaster', 'glow']); // prettier-ignore
    const mesh = decodeMesh(blobs.get(document.meshes[wall.mesh].blob)!.bytes);
    expect([...mesh.faceSizes!]).to.deep.equal([4]);
    expect([...mesh.indices]).to.deep.equal([0, 1, 2, 0, 2, 3]);
    expect([...mesh.uvs!]).to.deep.equal([0, 1, 1, 1, 1, 0, 0, 0]); // V is counted downwards here
    const second = decodeMesh(blobs.get(document.meshes[glow.mesh].blob)!.bytes);
    expect([second.faceSizes, second.normals, second.indices.length]).to.deep.equal([undefined, null, 6]);
    expect(unsupported.map((u) => u.feature)).to.include.members(['"l"', 'material statement "Tf"']);
  });
  it('materials: colour, emission, opacity, a map, and the width of a shading exponent', async () => {
    const { document } = await importShot(files);
    const [plaster, glow] = Object.values(document.surfaces);
    expect(plaster.base_color).to.deep.equal([0.5, 0.25, 0.75]);
    expect(plaster.specular_roughness ** 2).to.be.closeTo(Math.sqrt(2 / 100), 1e-9);
    expect(document.textures[plaster.maps.base_color!].encoding).to.equal('srgb');
    expect([glow.emission_luminance, glow.geometry_opacity]).to.deep.equal([2, 0.5]);
  });
  it('a displacement map is kept as plain numbers, and off: the format knows no length for it', async () => {
    const raised = [files[0], text('box.mtl', MTL.replace('Ns 98', 'Ns 98\ndisp label.png')), ...files.slice(2)];
    const { document, unsupported } = await importShot(raised);
    const [plaster, glow] = Object.values(document.surfaces);
    expect(document.textures[plaster.maps.displacement!].encoding).to.equal('linear');
    expect([plaster.displacement_scale, glow.displacement_scale]).to.deep.equal([0, 0.01]);
    expect(unsupported.map((u) => u.feature)).to.include('a displacement map');
  });
  it('faults are refused with their line; a missing library leaves grey', async () => {
    await refused([text('a.obj', 'v 0 0 0\nf 1 2 3'), files[3]], /a\.obj, line 2: "2" points past/);
    await refused([text('a.obj', 'v 0 x 0'), files[3]], /line 1: it needs 3 numbers/);
    await refused([text('a.obj', '# empty'), files[3]], /holds no faces/);
    await refused([files[0], files[1], label], /no camera.*settings file/);
    await refused([text('b.obj', 'mtllib none.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3'), files[3]], /nothing in the scene gives light/); // prettier-ignore
  });
});

describe('textures of a settings file', () => {
  const tile = (name: string, value: number): ImportFile => ({ name, bytes: encode({ width: 1, height: 1, data: new Uint8Array([value, value, value]), channels: 3, depth: 8 }) }); // prettier-ignore
  const scene = text('q.obj', 'v -1 -1 0\nv 1 -1 0\nv 1 1 0\nv -1 1 0\nvt 1 0\nvt 2 0\nvt 2 1\nvt 1 1\nusemtl clay\nf 1/1 2/2 3/3 4/4'); // prettier-ignore
  const overlay = (more: object) => json('set.json', { cameras: { front }, environment: { color: [1, 1, 1] }, surfaces: { 'without-material': { specular_weight: 0, base_metalness: 0, ...more } } }); // prettier-ignore

  it('tiles are found by their numbers, and the one that the surface lies on is seen', async () => {
    const textures = { label: { file: 'label.<UDIM>.png', encoding: 'linear' } };
    const set = { ...JSON.parse(new TextDecoder().decode(overlay({ maps: { base_color: 'label' } }).bytes)), textures };
    const shot = await importShot([scene, json('set.json', set), tile('label.1001.png', 255), tile('label.1002.png', 51)]); // prettier-ignore
    expect(shot.document.textures.label.tiles.map((t) => t.number)).to.deep.equal([1001, 1002]);
    expect(blobsOf(shot.document)).to.have.length(3);
    expect(meanColor(shot)[1]).to.be.closeTo(0.2, 0.01);
    await refused(
      [scene, json('set.json', set)],
      /set\.json: it names the texture label\.<UDIM>\.png, which is missing/,
    );
  });
  it('primaries are turned into those of the renderer', async () => {
    const red = { ...label, name: 'red.png' };
    const base = JSON.parse(new TextDecoder().decode(overlay({ maps: { base_color: 'red' } }).bytes)) as object;
    const colored = (primaries: string) => importShot([scene, json('set.json', { ...base, textures: { red: { file: 'red.png', encoding: 'linear', primaries } } }), red]); // prettier-ignore
    const [narrow, wide] = [meanColor(await colored('rec709')), meanColor(await colored('rec2020'))];
    expect(wide[0] / narrow[0]).to.be.closeTo(1.6605, 0.01); // ITU-R BT.2087, table 4
    await refused([scene, json('set.json', { ...base, textures: { red: { file: 'red.png', primaries: 'wide' } } }), red], /textures\.red\.primaries/); // prettier-ignore
  });
  it('a bump tilts the normal by its slope, whatever the size of the object', async () => {
    // a ramp of height 0..1 over u: 64 texels; seen under a sun from the front it darkens by the cosine of its slope
    const ramp = { name: 'ramp.png', bytes: encode({ width: 64, height: 1, data: Uint16Array.from({ length: 64 }, (_, i) => Math.round((65535 * (i + 0.5)) / 64)), channels: 1, depth: 16 }) }; // prettier-ignore
    const shade = async (strength: number) => {
      const base = JSON.parse(new TextDecoder().decode(overlay({ bump_strength: strength, maps: { bump: 'ramp' } }).bytes)) as object; // prettier-ignore
      const set = { ...base, environment: {}, lights: { sun: { kind: 'sun', angle: 0 } }, textures: { ramp: { file: 'ramp.png', encoding: 'linear' } } }; // prettier-ignore
      return meanColor(await importShot([scene, json('set.json', set), ramp]), { depth: { diffuse: 1, specular: 1, transmission: 1, volume: 0, total: 1 } })[1]; // prettier-ignore
    };
    const flat = await shade(0);
    // the square is 2 m wide: a strength of 2 m is a slope of 45 degrees
    expect((await shade(2)) / flat).to.be.closeTo(Math.SQRT1_2, 0.01);
    expect((await shade(-1)) / flat).to.be.closeTo(Math.cos(Math.atan(0.5)), 0.01);
  });
});

describe('motion of an animated scene', () => {
  const animated = async (): Promise<ImportFile> => {
    const doc = new Document();
    const buffer = doc.createBuffer();
    const floats = (type: 'SCALAR' | 'VEC3' | 'VEC4', values: number[]) =>
      doc.createAccessor().setType(type).setArray(new Float32Array(values)).setBuffer(buffer);
    const square = [-1, -1, 0, 1, -1, 0, 1, 1, 0, -1, 1, 0];
    const primitive = doc
      .createPrimitive()
      .setAttribute('POSITION', floats('VEC3', square))
      .setIndices(doc.createAccessor().setType('SCALAR').setArray(new Uint16Array([0, 1, 2, 0, 2, 3])).setBuffer(buffer))
      .setMaterial(doc.createMaterial('glow').setEmissiveFactor([1, 1, 1]).setBaseColorFactor([0, 0, 0, 1]))
      .addTarget(doc.createPrimitiveTarget().setAttribute('POSITION', floats('VEC3', square.map((v, i) => (i % 3 === 0 ? v : 0))))); // prettier-ignore
    const mesh = doc.createMesh('wing').addPrimitive(primitive).setWeights([0]);
    const node = doc.createNode('wing').setMesh(mesh);
    const turned = doc.createNode('hub').addChild(node);
    const camera = doc.createNode('view').setCamera(doc.createCamera().setYFov(0.02)).setTranslation([0, 0, 50]);
    const animation = doc.createAnimation('beat');
    const channel = (path: 'rotation' | 'weights', target: typeof node, type: 'SCALAR' | 'VEC4', values: number[]) => {
      const sampler = doc.createAnimationSampler().setInput(floats('SCALAR', [1, 3])).setOutput(floats(type, values)).setInterpolation('LINEAR'); // prettier-ignore
      animation.addSampler(sampler).addChannel(doc.createAnimationChannel().setTargetNode(target).setTargetPath(path).setSampler(sampler)); // prettier-ignore
    };
    channel('rotation', turned, 'VEC4', [0, 0, 0, 1, 0, 0, Math.SQRT1_2, Math.SQRT1_2]);
    channel('weights', node, 'SCALAR', [0, 1]);
    doc.createScene().addChild(turned).addChild(camera);
    return { name: 'wing.glb', bytes: await new WebIO().writeBinary(doc) };
  };

  it('a turn and a change of shape become keys of the shutter interval', async () => {
    const { document, blobs } = await importShot([await animated(), json('set.json', { motion: { time: 1, shutter: 2, keys: 3 } })]); // prettier-ignore
    const [wing] = Object.values(document.objects);
    const angle = (m: number[]) => (Math.atan2(m[4], m[0]) * 180) / Math.PI;
    expect([wing.transform, ...wing.laterTransforms].map(angle).map(Math.round)).to.deep.equal([0, 45, 90]);
    const mesh = decodeMesh(blobs.get(document.meshes[wing.mesh].blob)!.bytes);
    expect([mesh.positions, ...mesh.later!.map((key) => key.positions)].map((p) => p[3])).to.deep.equal([1, 1.5, 2]);
  });
  it('a deforming wing is seen as long as it is there', async () => {
    const shot = await importShot([await animated(), json('set.json', { motion: { time: 1, shutter: 2 }, objects: { wing: { laterTransforms: [] } }, cameras: { view: { transform: [1, 0, 0, 1.5, 0, 1, 0, 0, 0, 0, 1, 50], verticalAngle: 0.01 } } })]); // prettier-ignore
    // the edge passes 1.5 in the middle of the interval
    expect(meanColor(shot, { pixelSamples: 256 })[1]).to.be.closeTo(0.5, 0.02);
  });
  it('without a time the scene rests and says so; a wrong one is refused', async () => {
    const { unsupported } = await importShot([await animated()]);
    expect(unsupported.map((u) => u.effect).join()).to.contain('"motion" in a settings file');
    await refused(
      [await animated(), json('set.json', { motion: { shutter: -1 } })],
      /set\.json: motion: shutter is -1/,
    );
  });
});
