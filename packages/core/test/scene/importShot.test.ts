// Khronos glTF 2.0 specification and its KHR material and light extensions.
import { expect } from 'chai';
import { encode as encodePng } from 'fast-png';
import { InputError } from '@dusting/core/formats';
import { CAMERA, pixelOf } from '@dusting/core/render';
import { fillCamera } from '../../src/render/camera.ts';
import {
  importShot,
  listChanges,
  mergeShot,
  patchShot,
  setPath,
  validateShot,
  type ImportFile,
} from '@dusting/core/scene';

const positions = new Float32Array([0, 0, 0, 1, 0, 0, 0, 1, 0]);
const base64 = (bytes: ArrayBufferLike) => Buffer.from(bytes).toString('base64');
type Json = Record<string, any>; // eslint-disable-line @typescript-eslint/no-explicit-any
const scene = (change: (json: Json) => void = () => {}): ImportFile => {
  const json: Json = {
    asset: { version: '2.0' },
    scene: 0,
    scenes: [{ nodes: [0, 1] }],
    nodes: [
      { name: 'pane', mesh: 0 },
      { name: 'view', camera: 0, translation: [0, 0, 3] },
    ],
    cameras: [{ type: 'perspective', perspective: { yfov: Math.PI / 4, aspectRatio: 2, znear: 0.1 } }],
    meshes: [{ name: 'pane', primitives: [{ attributes: { POSITION: 0 }, material: 0 }] }],
    materials: [
      {
        name: 'glow',
        emissiveFactor: [1, 0.5, 0],
        extensions: { KHR_materials_emissive_strength: { emissiveStrength: 4 } },
      },
    ],
    accessors: [{ bufferView: 0, componentType: 5126, count: 3, type: 'VEC3', min: [0, 0, 0], max: [1, 1, 0] }],
    bufferViews: [{ buffer: 0, byteLength: 36 }],
    buffers: [{ byteLength: 36, uri: `data:application/octet-stream;base64,${base64(positions.buffer)}` }],
    extensionsUsed: ['KHR_materials_emissive_strength'],
  };
  change(json);
  return { name: 'pane.gltf', bytes: new TextEncoder().encode(JSON.stringify(json)) };
};
const refused = async (files: ImportFile[], words: RegExp) => {
  try {
    await importShot(files);
  } catch (error) {
    expect(error).to.be.instanceOf(InputError);
    expect((error as InputError).sentence).to.match(words);
    return;
  }
  throw new Error(`was not refused: ${words}`);
};

describe('import', () => {
  it('a mesh without a camera and one picture that it does not name are a mesh with its displacement map', async () => {
    const obj = [
      'v -1 0 0',
      'v 1 0 0',
      'v 1 2 0',
      'v -1 2 0',
      'vt 0 0',
      'vt 1 0',
      'vt 1 1',
      'vt 0 1',
      'f 1/1 2/2 3/3 4/4',
    ];
    const mesh = { name: 'leaf.obj', bytes: new TextEncoder().encode(obj.join('\n')) };
    const map = { name: 'leaf-height.png', bytes: encodePng({ width: 4, height: 2, channels: 1, data: new Uint8Array(8).fill(128) }) }; // prettier-ignore
    const { document, unsupported } = await importShot([mesh, map]);
    const [surface] = Object.values(document.surfaces);
    expect(document.textures[surface.maps.displacement!]).to.include({ name: 'leaf-height.png', width: 4, height: 2, encoding: 'linear' }); // prettier-ignore
    // 2 % of a diagonal of 2.83
    expect([surface.displacement_scale, surface.displacement_neutral]).to.deep.equal([0.057, 0.5]);
    expect(unsupported.map(({ feature }) => feature)).to.include('no shot: a mesh and a displacement map');
    // the whole of it is in the frame, and its middle in the middle
    const camera = new Float64Array(CAMERA.stride);
    fillCamera(camera, document.cameras[document.camera], document.final);
    expect(pixelOf(camera, document.final, [0, 1, 0])!.x).to.be.closeTo(320, 1e-6);
    for (const corner of [
      [-1, 0, 0],
      [1, 0, 0],
      [1, 2, 0],
      [-1, 2, 0],
    ]) {
      // prettier-ignore
      const { x, y } = pixelOf(camera, document.final, corner)!;
      expect(x).to.be.within(0, 640);
      expect(y).to.be.within(0, 480);
    }
    await refused([mesh], /has no camera/);
    await refused([mesh, map, { ...map, name: 'other.png' }], /has no camera/);
  });

  it('emission is radiance, a camera keeps its angle and aspect', async () => {
    const { document } = await importShot([scene()]);
    const [surface] = Object.values(document.surfaces);
    expect(surface.emission_luminance).to.equal(4);
    expect(surface.emission_color).to.deep.equal([1, 0.5, 0]);
    expect(document.cameras[document.camera].verticalAngle).to.be.closeTo(45, 1e-9);
    expect(document.final.width / document.final.height).to.equal(2);
  });

  it('glass: volume, IOR and absorption; without a volume a thin wall; punctual lights one to one', async () => {
    const { document } = await importShot([
      scene((json) => {
        json.materials = [
          {
            extensions: {
              KHR_materials_transmission: { transmissionFactor: 1 },
              KHR_materials_ior: { ior: 1.33 },
              KHR_materials_volume: {
                thicknessFactor: 0.1,
                attenuationDistance: 0.2,
                attenuationColor: [0.9, 0.5, 0.1],
              },
            },
          },
          {
            extensions: {
              KHR_materials_transmission: { transmissionFactor: 1 },
              KHR_materials_specular: { specularFactor: 0 },
            },
          },
        ];
        json.extensions = { KHR_lights_punctual: { lights: [{ type: 'point', intensity: 7, color: [1, 0.5, 0.25] }] } };
        json.nodes[1].extensions = { KHR_lights_punctual: { light: 0 } };
        json.extensionsUsed = [
          'KHR_materials_transmission',
          'KHR_materials_ior',
          'KHR_materials_volume',
          'KHR_materials_specular',
          'KHR_lights_punctual',
        ];
      }),
    ]);
    const [thick, thin] = Object.values(document.surfaces);
    expect(thick).to.deep.include({
      specular_ior: 1.33,
      transmission_weight: 1,
      transmission_depth: 0.2,
      geometry_thin_walled: false,
    });
    expect(thin).to.deep.include({ geometry_thin_walled: true, specular_weight: 0, transmission_depth: 0 });
    expect(Object.values(document.lights)[0]).to.deep.include({ kind: 'point', strength: 7, color: [1, 0.5, 0.25] });
  });

  it('what is not supported is listed with its place', async () => {
    const { unsupported } = await importShot([
      scene((json) => {
        json.materials[0].extensions.KHR_materials_sheen = {};
        json.extensionsUsed.push('KHR_materials_sheen');
        json.materials[0].occlusionTexture = { index: 0 };
        json.textures = [{ source: 0 }];
        json.images = [{ uri: 'data:image/png;base64,iVBORw0KGgo=' }];
      }),
    ]);
    expect(unsupported.map((u) => u.feature)).to.have.members(['KHR_materials_sheen', 'occlusion map']);
    expect(unsupported[0].place).to.equal('materials/0 (glow)');
  });

  it('damaged and incomplete scenes are refused with reason and place', async () => {
    await refused([], /bring in a scene/);
    await refused(
      [{ name: 'a.glb', bytes: new Uint8Array([0x67, 0x6c, 0x54, 0x46, 2, 0, 0, 0, 99]) }],
      /a\.glb: the file is cut off/,
    );
    await refused([{ name: 'a.gltf', bytes: new Uint8Array([1, 2, 3]) }], /neither a GLB nor a glTF/);
    await refused([scene((j) => j.scenes[0].nodes.pop())], /no camera/);
    await refused([scene((j) => (j.materials = [{}]))], /nothing in the scene gives light/);
    await refused([scene((j) => (j.accessors[0].count = 9))], /accessors\/0: it reaches past the end/);
    await refused([scene((j) => (j.buffers[0].uri = 'pane.bin'))], /pane\.bin belongs to it and is missing/);
    await refused(
      [scene((j) => (j.extensionsRequired = ['EXT_packed_some_other_way']))],
      /requires EXT_packed_some_other_way/,
    );
    const broken = (j: Json) => {
      j.images = [{ uri: `data:image/png;base64,${base64(new Uint8Array([0x89, 0x50, 0x4e, 0x47, 1, 2]).buffer)}` }];
      j.textures = [{ source: 0 }];
      j.materials[0].pbrMetallicRoughness = { baseColorTexture: { index: 0 } };
    };
    await refused([scene(broken)], /materials\/0 \(glow\), base colour: the PNG picture is cut off/);
  });

  it('a settings file is laid over the shot, and its values are checked with path and range', async () => {
    const file = (value: unknown): ImportFile => ({
      name: 'look.json',
      bytes: new TextEncoder().encode(JSON.stringify(value)),
    });
    const { document } = await importShot([scene(), file({ final: { pixelSamples: 9, depth: { total: 3 } } })]);
    expect(document.final.pixelSamples).to.equal(9);
    expect(document.final.depth).to.include({ total: 3, transmission: 8 });
    await refused(
      [scene(), file({ final: { pixelSamples: 0 } })],
      /look\.json: final\.pixelSamples is 0; it must be at least 1/,
    );
    await refused(
      [scene(), file({ final: { width: 100000, height: 100000 } })],
      /final\.width is 100000; it must be at most 16384/,
    );
    await refused([scene(), file({ final: { bounces: 3 } })], /has no setting "bounces"/);
    await refused([scene(), file({ environment: { picture: 'sky.exr' } })], /sky\.exr, which is missing/);
  });
});

describe('changes of a shot', () => {
  it('a patch leaves the original alone, is checked, and its differences are listed', async () => {
    const { document } = await importShot([scene()]);
    const changed = patchShot(document, [{ op: 'replace', path: '/final/depth/total', value: 64 }]);
    expect(document.final.depth.total).to.equal(12);
    expect(listChanges(document, changed)).to.deep.equal([{ path: 'final.depth.total', old: 12, new: 64 }]);
    expect(() => patchShot(document, [{ op: 'replace', path: '/final/depth/total', value: -1 }])).to.throw(
      InputError,
      'at least 0',
    );
    expect(() => patchShot(document, [{ op: 'replace', path: '/nothing/here', value: 1 }])).to.throw(InputError);
    expect(() => setPath(document, 'final.nothing', 1)).to.throw(InputError, 'no setting "final.nothing"');
    expect(() => validateShot({ ...document, camera: 'other' })).to.throw(InputError, 'camera refers to "other"');
  });
  it('merging follows RFC 7396, appendix A', () => {
    expect(mergeShot({ a: 'b', c: { d: 'e', f: 'g' } }, { a: 'z', c: { f: null } })).to.deep.equal({
      a: 'z',
      c: { d: 'e' },
    });
    expect(mergeShot({ a: [1, 2] }, { a: [3] })).to.deep.equal({ a: [3] });
  });
});
