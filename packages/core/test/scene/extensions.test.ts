// Scenes written by the glTF library's own extensions (an exporter that is not ours), taken in and rendered.
import { expect } from 'chai';
import { Document, WebIO } from '@gltf-transform/core';
import * as ext from '@gltf-transform/extensions';
import { encode } from 'fast-png';
import { compileScene, filmStatistics, frameOf, renderHere } from '@dusting/core/render';
import { importShot, type ImportedShot, type ShotDocument } from '@dusting/core/scene';

/** A square in front of a camera below a lamp; `dress` gives its material and what else the test is about. */
async function scene(dress: (doc: Document, parts: ReturnType<typeof makeParts>) => void): Promise<ImportedShot> {
  const doc = new Document();
  const parts = makeParts(doc);
  dress(doc, parts);
  const bytes = await new WebIO().registerExtensions(ext.ALL_EXTENSIONS).writeBinary(doc);
  return importShot([{ name: 'made.glb', bytes }]);
}
function makeParts(doc: Document) {
  const buffer = doc.createBuffer();
  const vectors = (type: 'VEC2' | 'VEC3' | 'VEC4', values: number[]) =>
    doc.createAccessor().setType(type).setArray(new Float32Array(values)).setBuffer(buffer);
  const material = doc.createMaterial('panel').setRoughnessFactor(0.5).setMetallicFactor(0);
  const primitive = doc
    .createPrimitive()
    .setAttribute('POSITION', vectors('VEC3', [-1, -1, 0, 1, -1, 0, 1, 1, 0, -1, 1, 0]))
    .setAttribute('TEXCOORD_0', vectors('VEC2', [0, 1, 1, 1, 1, 0, 0, 0]))
    .setAttribute('TEXCOORD_1', vectors('VEC2', [0, 0.5, 0.5, 0.5, 0.5, 0, 0, 0]))
    .setIndices(
      doc
        .createAccessor()
        .setArray(new Uint16Array([0, 1, 2, 0, 2, 3]))
        .setBuffer(buffer),
    )
    .setMaterial(material);
  const panel = doc.createNode('panel').setMesh(doc.createMesh('panel').addPrimitive(primitive));
  const lights = doc.createExtension(ext.KHRLightsPunctual);
  const lamp = lights.createLight('lamp').setType('point').setIntensity(8).setRange(9);
  const light = doc.createNode('lamp').setTranslation([1, 1, 2]).setExtension('KHR_lights_punctual', lamp);
  const camera = doc.createNode('camera').setTranslation([0, 0, 3]).setCamera(doc.createCamera().setYFov(0.8).setType('perspective')); // prettier-ignore
  doc.createScene().addChild(panel).addChild(light).addChild(camera);
  /** Left half red and transparent, right half white. */
  const png = encode({
    width: 2,
    height: 1,
    channels: 4,
    depth: 8,
    data: new Uint8Array([255, 0, 0, 0, 255, 255, 255, 255]),
  });
  const picture = () => doc.createTexture('halves').setImage(png).setMimeType('image/png');
  return { material, panel, vectors, picture };
}
const render = ({ document, blobs }: ImportedShot, change: Partial<ShotDocument['final']> = {}) => {
  const settings = { ...document.final, width: 16, height: 16, pixelSamples: 8, ...change };
  const film = renderHere(
    compileScene(document, settings, (id) => blobs.get(id)!.bytes),
    settings,
    frameOf(settings),
  );
  const statistics = filmStatistics(film, 1);
  expect(statistics.badSamples).to.equal(0);
  return statistics;
};
const surfaceOf = ({ document }: ImportedShot) => Object.values(document.surfaces)[0];

describe('extensions of glTF', () => {
  const cases: [string, (doc: Document, material: ReturnType<typeof makeParts>['material']) => void, object][] = [
    ['clearcoat', (doc, m) => m.setExtension('KHR_materials_clearcoat', doc.createExtension(ext.KHRMaterialsClearcoat).createClearcoat().setClearcoatFactor(0.7).setClearcoatRoughnessFactor(0.2)), { coat_weight: 0.7, coat_roughness: 0.2, coat_ior: 1.5 }], // prettier-ignore
    ['anisotropy', (doc, m) => m.setExtension('KHR_materials_anisotropy', doc.createExtension(ext.KHRMaterialsAnisotropy).createAnisotropy().setAnisotropyStrength(0.6).setAnisotropyRotation(Math.PI / 2)), { specular_roughness_anisotropy: 0.6, specular_anisotropy_rotation: 90 }], // prettier-ignore
    ['dispersion', (doc, m) => m.setExtension('KHR_materials_dispersion', doc.createExtension(ext.KHRMaterialsDispersion).createDispersion().setDispersion(0.4)), { transmission_dispersion_scale: 0.4, transmission_dispersion_abbe_number: 20 }], // prettier-ignore
    ['ior', (doc, m) => m.setExtension('KHR_materials_ior', doc.createExtension(ext.KHRMaterialsIOR).createIOR().setIOR(1.7)), { specular_ior: 1.7 }], // prettier-ignore
    [
      'alpha as a share',
      (_, m) => m.setAlphaMode('BLEND').setAlpha(0.25),
      { geometry_opacity: 0.25, opacity_cutoff: 0 },
    ],
    [
      'alpha as holes',
      (_, m) => m.setAlphaMode('MASK').setAlphaCutoff(0.4),
      { geometry_opacity: 1, opacity_cutoff: 0.4 },
    ],
  ];
  for (const [name, dress, expected] of cases)
    it(`${name}: taken over and rendered`, async () => {
      const shot = await scene((doc, { material }) => dress(doc, material));
      expect(surfaceOf(shot)).to.deep.include(expected);
      expect(shot.unsupported).to.deep.equal([]);
      render(shot);
    });

  it('opacity lets the light behind through, by a factor and by a map', async () => {
    const whole = render(await scene(() => {})).meanLuminance;
    const quarter = render(await scene((_, { material }) => material.setAlphaMode('BLEND').setAlpha(0.25)), { pixelSamples: 256 }).meanLuminance; // prettier-ignore
    expect(quarter / whole).to.be.closeTo(0.25, 0.02);
    const holes = await scene((_, { material, picture }) =>
      material.setAlphaMode('MASK').setBaseColorTexture(picture()),
    );
    expect(render(holes).meanLuminance / whole).to.be.within(0.3, 0.75);
  });

  it('a texture is placed by its transform and by the second UV set', async () => {
    const shot = await scene((doc, { material, picture }) => {
      material.setBaseColorTexture(picture());
      const transform = doc.createExtension(ext.KHRTextureTransform).createTransform();
      transform
        .setOffset([0.25, 0.5])
        .setScale([2, 3])
        .setRotation(Math.PI / 6)
        .setTexCoord(1);
      material.getBaseColorTextureInfo()!.setExtension('KHR_texture_transform', transform).setMagFilter(9728);
    });
    const [texture] = Object.values(shot.document.textures);
    expect(texture).to.deep.include({
      offset: [0.25, 0.5],
      scale: [2, 3],
      uvSet: 1,
      filter: 'nearest',
      encoding: 'srgb',
    });
    expect(texture.rotation).to.be.closeTo(30, 1e-4);
    render(shot);
  });

  it('a normal map is read as plain numbers, with its strength', async () => {
    const shot = await scene((_, { material, picture }) => material.setNormalTexture(picture()).setNormalScale(0.5));
    expect(surfaceOf(shot).normal_strength).to.equal(0.5);
    expect(shot.document.textures[surfaceOf(shot).maps.normal!].encoding).to.equal('linear');
    render(shot);
  });

  it('a node that stands for many becomes as many objects, and the range of a lamp its reach', async () => {
    const shot = await scene((doc, { panel, vectors }) => {
      const batch = doc.createExtension(ext.EXTMeshGPUInstancing).createInstancedMesh();
      batch.setAttribute('TRANSLATION', vectors('VEC3', [-2, 0, 0, 0, 0, 0, 2, 0, 0]));
      batch.setAttribute('SCALE', vectors('VEC3', [1, 1, 1, 0.5, 0.5, 0.5, 1, 1, 1]));
      panel.setExtension('EXT_mesh_gpu_instancing', batch);
    });
    const transforms = Object.values(shot.document.objects).map((o) => [o.transform[0], o.transform[3]]);
    expect(transforms).to.deep.equal([[1, -2], [0.5, 0], [1, 2]]); // prettier-ignore
    expect(Object.keys(shot.document.meshes)).to.have.length(1);
    expect(Object.values(shot.document.lights)[0].reach).to.equal(9);
    render(shot);
  });
});
