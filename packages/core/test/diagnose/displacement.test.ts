// Displacement with one thing wrong at a time: that is named and nothing else, and its remedy is rendered. Beside them outside
// facts: a ball of radius r swells by scale x (value - neutral), its volume by the cube; two vertices a period (sampling
// theorem); sides of a seam at heights a and b part by scale x |a - b|.
import { expect } from 'chai';
import { effectOf } from '@dusting/core/diagnose';
import type { MeshData } from '@dusting/core/formats';
import { patchShot, TEXTURE_DEFAULTS, type Patch, type SceneObject, type ShotDocument, type Surface, type TextureRef } from '@dusting/core/scene'; // prettier-ignore
import { tJunctions } from '@dusting/core/geometry';
import type { Moved } from '../../src/diagnose/displacement/displacedObject.ts';
import { mapTiles } from '../../src/diagnose/displacement/mapTiles.ts';
import { contextOf, explained, renderShot } from '../diagnosisBench.ts';
import { makeShot, MATT, type TestScene } from '../scenes.ts';
import { paintMap, ring } from '../paintMap.ts';

const SIZE = 256;
const MAP = 'f'.repeat(64);
/** Low waves that rest at a half. */
const waves = (times: number) => (x: number, y: number, z: number) => {
  const along = Math.max(0, Math.sin(times * Math.atan2(y, x) + 0.7));
  const across = Math.max(0, Math.sin(times * Math.atan2(z, Math.hypot(x, y) - 0.3) + 0.7));
  return 0.5 + 0.4 * along * across;
};

/** Gaps are seen from so many pixels on. */
const CLOSE = { width: 96, height: 96, pixelSamples: 1 };

interface Wish {
  close?: boolean;
  mesh?: MeshData;
  map?: Uint8Array;
  surface?: Partial<Surface>;
  flags?: Partial<SceneObject>;
  texture?: Partial<TextureRef>;
}
const lit: Pick<TestScene, 'environment' | 'lights' | 'settings' | 'view'> = {
  view: 0.9,
  environment: { color: [0.3, 0.3, 0.3] },
  lights: [{ name: 'sun', kind: 'sun', strength: 2, angle: 0, transform: [Math.SQRT1_2, 0, Math.SQRT1_2, 0, 0, 1, 0, 0, -Math.SQRT1_2, 0, Math.SQRT1_2, 0] }], // prettier-ignore
  settings: { width: 40, height: 40, pixelSamples: 2, depth: { diffuse: 1, specular: 1, transmission: 1, total: 2 } },
};

function shotOf({ close, flags, map, mesh = ring(), surface, texture }: Wish) {
  const { blobs, document } = makeShot({ ...lit, settings: { ...lit.settings, ...(close && CLOSE) }, objects: [{ mesh, surface: { ...MATT, displacement_scale: 0.02, ...surface }, flags: { name: 'wreath', subdivisionLevels: 2, ...flags } }] }); // prettier-ignore
  blobs.set(MAP, map ?? paintMap(mesh, SIZE, waves(3)));
  document.textures.relief = { ...TEXTURE_DEFAULTS, name: 'relief.png', blob: MAP, width: SIZE, height: SIZE, encoding: 'linear', filter: 'bilinear', ...texture } as TextureRef; // prettier-ignore
  const [id] = Object.keys(document.surfaces);
  if (surface?.maps === undefined) document.surfaces[id].maps.displacement = 'relief';
  return { blobs, document };
}

async function diagnosed(wish: Wish, change?: (document: ShotDocument) => void) {
  const { blobs, document } = shotOf(wish);
  change?.(document);
  const result = await explained('displacement', contextOf(document, blobs));
  const tried = (patch: Patch) => renderShot(patchShot(document, patch), blobs).statistics.meanLuminance;
  return { result, tried };
}

describe('displacement diagnosis', function () {
  this.timeout(120_000);
  const jagged = ring(24, 12, 0.03);
  const dots = paintMap(ring(), SIZE, waves(16));
  const STRONGER = { displacement_scale: 0.1 };
  const faults: [name: string, wish: Wish, cause: string | null, words: RegExp][] = [
    ['as it should be', {}, null, /Nothing was found that is wrong with the displacement of wreath\.\swreath moves by/],
    ['too few faces', { map: dots, flags: { subdivisionLevels: 1 } }, 'coarse:o0', /wreath has too few faces: level 1 shows \d+ % of the map's detail, level \d \d+ %/],
    ['a scale ten times too strong', { surface: { displacement_scale: 0.4 } }, 'strong:o0', /wreath moves by 0\.159 m, 1\d % of its size/],
    ['a neutral value of 0', { surface: { displacement_neutral: 0 } }, 'neutral:o0', /The whole of wreath swells by 10 mm: the map rests at 0\.5 \(most of it\), and the neutral value is 0\./],
    ['a map read as a color', { texture: { encoding: 'srgb' } }, 'encoding:o0', /relief\.png is decoded as a color/],
    ['a scale of 0', { surface: { displacement_scale: 0 } }, 'off:o0', /its scale is 0/],
    ['a rule that pulls borders in', { mesh: jagged, map: paintMap(jagged, SIZE, waves(3)), flags: { uvRule: 'none' }, surface: STRONGER, close: true }, 'rule:o0', /the rule for UVs, none, makes \d+ % of it/],
    ['no padding', { map: paintMap(ring(), SIZE, waves(3), { padding: 0 }), surface: STRONGER, close: true }, 'padding:o0', /is not painted beyond its UV borders/],
    ['a filter that reaches too far', { map: paintMap(ring(), SIZE, waves(3), { padding: 2 }), texture: { filter: 'mip', padding: 1 }, flags: { subdivisionLevels: 2 }, surface: STRONGER, close: true }, 'filter:o0', /Smaller levels of relief\.png reach across its UV borders/],
  ]; // prettier-ignore
  it('a vertex on the edge of a wider face is torn off by what the map lifts it above the middle of that edge', async () => {
    // one face at the left, two at the right: the map is 0.4 higher in the middle of their common border than at its ends
    const at = [[0, 0], [0.5, 0], [0.5, 1], [0, 1], [1, 0], [1, 1], [0.5, 0.5], [1, 0.5]]; // prettier-ignore
    const quads = [
      [0, 1, 2, 3],
      [1, 4, 7, 6],
      [6, 7, 5, 2],
    ];
    const mesh: MeshData = { positions: new Float32Array(at.flatMap(([x, y]) => [x - 0.5, y - 0.5, 0])), normals: null, uvs: new Float32Array(at.flat()), indices: new Uint32Array(quads.flatMap(([a, b, c, d]) => [a, b, c, a, c, d])) }; // prettier-ignore
    expect(tJunctions(mesh.positions, mesh.indices)).to.deep.equal([{ vertex: 6, from: 1, to: 2, at: 0.5 }]);
    expect(tJunctions(ring().positions, ring().indices)).to.deep.equal([]);
    const map = paintMap(mesh, SIZE, (_, y) => 0.5 + 0.4 * Math.cos(Math.PI * y));
    const { result } = await diagnosed({ mesh, map, close: true, flags: { subdivisionLevels: 0 }, surface: { displacement_scale: 0.05 } }); // prettier-ignore
    expect(result.causes.map(({ id }) => id)).to.include('tJunction:o0');
    expect(result.summary).to.match(/A vertex of wreath lies on edges of faces that do not have it \(T-junctions\): the map tears them open by up to 2\.\d px \(20 mm\)/); // prettier-ignore
  });

  it('tiles of a map that do not match: by size, and by what the decoding of a color makes of 0.5', () => {
    const tile = (number: number, width: number) => ({ number, width, height: width, blob: MAP });
    const moved = { texture: { ...TEXTURE_DEFAULTS, tiles: [tile(1001, 64), tile(1002, 64), tile(1011, 32)] } } as unknown as Moved; // prettier-ignore
    const rests = (second: number) => mapTiles(moved, (u, _, __, out) => void (out[0] = u > 1 ? second : 0.5))!;
    expect(rests(0.5)).to.deep.equal({ sizes: [{ width: 64, height: 64, numbers: [1001, 1002] }, { width: 32, height: 32, numbers: [1011] }], recoded: null }); // prettier-ignore
    // IEC 61966-2-1: 0.5 is 0.214
    expect(rests(0.214).recoded).to.deep.equal({ numbers: [1002], rest: 0.214, others: 0.5 });
    expect(rests(0.35).recoded).to.equal(null);
    expect(mapTiles({ texture: { ...TEXTURE_DEFAULTS, tiles: [] } } as unknown as Moved, () => {})).to.equal(null);
  });

  for (const [name, wish, cause, words] of faults)
    it(`${name}: ${cause ? 'that is named, and nothing else' : 'nothing is named'}`, async () => {
      const { result, tried } = await diagnosed(wish);
      expect(result.summary).to.match(words);
      expect(result.causes.map(({ id }) => id)).to.deep.equal(cause ? [cause] : []);
      if (!cause) return;
      const [remedy] = result.remedies;
      const { high, low } = effectOf(remedy, 'luminance')!;
      expect(tried(remedy.patch), remedy.title).to.be.within(low - 0.01, high + 0.01);
      const after = await diagnosed(wish, (document) => Object.assign(document, patchShot(document, remedy.patch)));
      expect(
        after.result.causes.map(({ id }) => id),
        'nothing is left',
      ).to.deep.equal([]);
    });

  it('found without a remedy in the document: few values, no UVs', async () => {
    const gentle = (x: number, y: number) => 0.5 + 0.1 * Math.sin(Math.atan2(y, x));
    const steps = await diagnosed({ map: paintMap(ring(), SIZE, gentle, { bits: 8 }), surface: { displacement_scale: 3 } }); // prettier-ignore
    expect(steps.result.causes.map(({ id }) => id)).to.include('steps:o0');
    expect(steps.result.summary).to.match(/relief\.png has \d+ values: each is a step of 12 mm/);
    const noUvs = await diagnosed({ mesh: { ...ring(), uvs: null }, map: paintMap(ring(), SIZE, gentle) });
    expect(noUvs.result.causes.map(({ id }) => id)).to.deep.equal(['noUvs:o0']);
  });

  it('sides that are painted differently: blended, they part by as little as is said', async () => {
    const painted = paintMap(ring(), SIZE, (x, y) => 0.1 + 0.8 * ((Math.atan2(y, x) / (2 * Math.PI) + 1) % 1));
    const wish: Wish = { map: painted, surface: { displacement_scale: 0.1 } };
    const { result, tried } = await diagnosed(wish);
    expect(result.causes.map(({ id }) => id)).to.deep.equal(['painted:o0']);
    const [remedy] = result.remedies;
    expect(remedy.patch).to.deep.equal([{ op: 'replace', path: '/textures/relief/blend', value: 8 }]);
    expect(effectOf(remedy, 'seamGap')!.value).to.be.below(0.5);
    const { high, low } = effectOf(remedy, 'luminance')!;
    expect(tried(remedy.patch)).to.be.within(low - 0.01, high + 0.01);
    const after = await diagnosed(wish, (document) => Object.assign(document, patchShot(document, remedy.patch)));
    expect(after.result.causes.map(({ id }) => id)).to.not.include('painted:o0');
  });

  it('lengths are those of the world: a mesh in centimetres says the same', async () => {
    const mesh = { ...ring(), positions: ring().positions.map((x) => 100 * x) };
    const { result } = await diagnosed(
      { mesh, map: paintMap(ring(), SIZE, waves(3)), surface: { displacement_scale: 2, displacement_neutral: 0 } },
      (document) => {
        // prettier-ignore
        document.objects.o0.transform = [0.01, 0, 0, 0, 0, 0.01, 0, 0, 0, 0, 0.01, 0];
      },
    );
    expect(result.summary).to.match(/The whole of wreath swells by 10 mm/);
    expect(result.measured['range.o0']).to.be.closeTo(0.008, 0.0005);
  });

  it('a map on a surface that nothing shows is put where it belongs', async () => {
    const { result } = await diagnosed({ surface: { maps: {} } }, (document) => {
      document.surfaces.other = { ...structuredClone(document.surfaces.s0), name: 'straw', maps: { displacement: 'relief' } }; // prettier-ignore
    });
    expect(result.causes.map(({ id }) => id)).to.deep.equal(['elsewhere:o0']);
    expect(result.summary).to.match(/wreath has no displacement map; relief\.png sits on straw, which nothing shows/);
    expect(result.remedies[0].patch[0]).to.deep.include({ op: 'add', path: '/surfaces/s0/maps/displacement', value: 'relief' }); // prettier-ignore
  });

  it('hard edges of a mesh as it came open, and are joined by subdivision', async () => {
    const { result } = await diagnosed({ mesh: block(), map: paintMap(block(), SIZE, () => 1), flags: { subdivisionLevels: 0 }, surface: { displacement_neutral: 0.9, displacement_scale: 0.5 } }); // prettier-ignore
    expect(result.causes.map(({ id }) => id)).to.include('splitNormals:o0');
    expect(result.remedies.find(({ id }) => id === 'splitNormals:o0')!.patch).to.deep.equal([{ op: 'replace', path: '/objects/o0/subdivisionLevels', value: 1 }]); // prettier-ignore
  });

  it('says what there is where nothing is displaced', async () => {
    const { result } = await diagnosed({ surface: { maps: {} }, flags: { subdivisionLevels: 0 } });
    expect(result.summary).to.match(/Nothing here is displaced/);
  });
});

/** Two faces of a block that meet at a right angle, each with its own normals and its own half of the map. */
function block(): MeshData {
  return {
    positions: Float32Array.from([-0.3, -0.2, 0.2, 0, -0.2, 0.3, 0, 0.2, 0.3, -0.3, 0.2, 0.2, 0, -0.2, 0.3, 0.3, -0.2, 0.2, 0.3, 0.2, 0.2, 0, 0.2, 0.3]), // prettier-ignore
    normals: Float32Array.from([...Array(4).fill([-0.316, 0, 0.949]), ...Array(4).fill([0.316, 0, 0.949])].flat()),
    uvs: Float32Array.from([0.1, 0.9, 0.45, 0.9, 0.45, 0.1, 0.1, 0.1, 0.55, 0.9, 0.9, 0.9, 0.9, 0.1, 0.55, 0.1]),
    indices: Uint32Array.from([0, 1, 2, 0, 2, 3, 4, 5, 6, 4, 6, 7]),
  };
}
