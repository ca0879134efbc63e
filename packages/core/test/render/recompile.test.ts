// Own guarantee: a scene that was compiled from an earlier one renders to the same bits as one compiled anew.
import { expect } from 'chai';
import { compileBeside, compileScene, frameOf, recompileScene, renderHere } from '@dusting/core/render';
import { encode } from 'fast-png';
import { patchShot, validateShot, type Patch } from '@dusting/core/scene';
import { makeShot, MATT, sphere, square, GLASS, GLOW } from '../scenes.ts';

function scene() {
  const made = makeShot({
    objects: [
      { mesh: square(4), surface: MATT },
      { mesh: sphere(0.3, 24), surface: GLASS, transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0.5] },
      { mesh: square(0.5), surface: GLOW, transform: [1, 0, 0, 1, 0, -1, 0, 0, 0, 0, -1, 2] },
    ],
    lights: [{ kind: 'sphere', radius: 0.1, strength: 20, transform: [1, 0, 0, -1, 0, 1, 0, 0, 0, 0, 1, 2] }],
    environment: { color: [0.1, 0.2, 0.3] },
    view: 2,
    settings: { width: 12, height: 12, pixelSamples: 4 },
  });
  const picture = { width: 8, height: 4, data: Uint8Array.from({ length: 96 }, (_, i) => (i * 37) % 256), channels: 3 as const }; // prettier-ignore
  const [wood, sky] = ['d'.repeat(64), 'e'.repeat(64)];
  for (const blob of [wood, sky]) made.blobs.set(blob, encode(picture));
  const document = validateShot({
    ...made.document,
    textures: { wood: { name: 'wood', blob: wood, width: 8, height: 4, encoding: 'srgb' } },
    surfaces: { ...made.document.surfaces, s0: { ...made.document.surfaces.s0, maps: { base_color: 'wood' } } },
    environment: { ...made.document.environment, picture: { name: 'sky', blob: sky, width: 8, height: 4 } },
  });
  return { document, blobs: made.blobs };
}

describe('compiling after a change', () => {
  const changes: [string, Patch, boolean][] = [
    ['an object moves', [{ op: 'replace', path: '/objects/o1/transform/3', value: 0.4 }], true],
    ['an emissive object moves', [{ op: 'replace', path: '/objects/o2/transform/3', value: -0.5 }], true],
    ['an object is hidden', [{ op: 'replace', path: '/objects/o1/seenByCamera', value: false }], true],
    ['an object only catches shadows', [{ op: 'replace', path: '/objects/o1/onlyShadows', value: true }], true],
    ['what glows only catches shadows', [{ op: 'replace', path: '/objects/o2/onlyShadows', value: true }], true],
    ['a surface changes', [{ op: 'replace', path: '/surfaces/s0/base_color', value: [0.9, 0.1, 0.1] }], true],
    ['a surface begins to glow', [{ op: 'replace', path: '/surfaces/s1/emission_luminance', value: 2 }], true],
    ['a surface gets holes', [{ op: 'replace', path: '/surfaces/s1/geometry_opacity', value: 0.5 }], true],
    ['glass becomes fog', [{ op: 'replace', path: '/surfaces/s1/specular_ior', value: 1 }, { op: 'replace', path: '/surfaces/s1/transmission_depth', value: 1 }, { op: 'replace', path: '/surfaces/s1/transmission_scatter', value: [1, 1, 1] }], true], // prettier-ignore
    ['a light changes', [{ op: 'replace', path: '/lights/l0/exposure', value: 2 }], true],
    ['the environment changes', [{ op: 'replace', path: '/environment/strength', value: 3 }], true],
    ['the environment turns', [{ op: 'replace', path: '/environment/rotation', value: 70 }], true],
    ['a texture turns', [{ op: 'replace', path: '/textures/wood/rotation', value: 30 }, { op: 'replace', path: '/textures/wood/wrapU', value: 'clamp' }], true], // prettier-ignore
    ['a texture is read as numbers', [{ op: 'replace', path: '/textures/wood/encoding', value: 'linear' }], true],
    ['shadows of glass let light through', [{ op: 'replace', path: '/final/clearShadows', value: 'plain' }], true],
    ['a floor is displaced', [{ op: 'add', path: '/surfaces/s0/maps/displacement', value: 'wood' }, { op: 'replace', path: '/objects/o0/subdivisionLevels', value: 3 }], false], // prettier-ignore
    ['an object leaves', [{ op: 'remove', path: '/objects/o1' }], true],
    [
      'a mesh leaves',
      [
        { op: 'remove', path: '/objects/o1' },
        { op: 'remove', path: '/meshes/m1' },
      ],
      false,
    ],
  ];
  for (const [name, patch, keepsMeshes] of changes)
    it(`${name}: the same bits as anew`, () => {
      const { document, blobs } = scene();
      const read = (id: string) => blobs.get(id)!;
      const first = compileScene(document, document.final, read);
      const before = renderHere(first, document.final, frameOf(document.final));
      const changed = patchShot(document, patch);
      const [a, b] = [document, changed].map((d) => ({ document: d, settings: d.final }));
      const anew = renderHere(compileScene(changed, changed.final, read), changed.final, frameOf(changed.final));
      const beside = compileBeside(first, a, b, read);
      expect(renderHere(beside, changed.final, frameOf(changed.final)).data).to.deep.equal(anew.data);
      expect(renderHere(first, document.final, frameOf(document.final)).data, 'the scene before renders on').to.deep.equal(before.data); // prettier-ignore
      const again = recompileScene(first, a, b, read);
      expect(again.positions === first.positions).to.equal(keepsMeshes);
      const film = renderHere(again, changed.final, frameOf(changed.final));
      // the time of each pixel is not measured here, so that films can be compared whole
      expect(film.data).to.deep.equal(anew.data);
      expect(film.data).to.not.deep.equal(before.data);
    });

  it('another scale, neutral value, padding or rule on a displaced object: the same bits as a first compile', () => {
    const { blobs, document } = scene();
    const read = (id: string) => blobs.get(id)!;
    const displaced = patchShot(document, [
      { op: 'add', path: '/surfaces/s0/maps/displacement', value: 'wood' },
      { op: 'replace', path: '/objects/o0/subdivisionLevels', value: 3 },
      { op: 'replace', path: '/surfaces/s0/displacement_scale', value: 0.2 },
    ]);
    let before = { document: displaced, settings: displaced.final };
    let compiled = compileScene(displaced, displaced.final, read);
    for (const [path, value] of [
      ['/surfaces/s0/displacement_scale', 0.4],
      ['/surfaces/s0/displacement_neutral', 0.1],
      ['/textures/wood/padding', 2],
      ['/objects/o0/rimRule', 'edgeOnly'],
    ] as const) {
      // prettier-ignore
      const changed = patchShot(before.document, [{ op: 'replace', path, value }]);
      const after = { document: changed, settings: changed.final };
      compiled = recompileScene(compiled, before, after, read);
      const fresh = compileScene(changed, changed.final, read);
      expect(compiled.positions, path).to.deep.equal(fresh.positions);
      const frame = frameOf(changed.final);
      expect(renderHere(compiled, changed.final, frame).data, path).to.deep.equal(renderHere(fresh, changed.final, frame).data); // prettier-ignore
      before = after;
    }
  });
});
