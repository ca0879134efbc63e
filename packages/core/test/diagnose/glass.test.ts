// Glass with one fault at a time: the diagnosis names that one and none of the others, and its remedy does what it says. Beside
// them the rule of the trade that four vessels of two walls in a row need a transmission depth of 16 (common practice, no
// source), and the solver of tints against Beer-Lambert and a render.
import { expect } from 'chai';
import { encode } from 'fast-png';
import {
  type RaysEvidence,
  type TableEvidence,
  effectOf,
  evidenceCsv,
  evidenceText,
  lightenTint,
  targetTint,
  type Explanation,
} from '@dusting/core/diagnose';
import type { MeshData } from '@dusting/core/formats';
import { findChannel } from '@dusting/core/image';
import {
  FINAL_DEFAULTS,
  patchShot,
  TEXTURE_DEFAULTS,
  type Patch,
  type ShotDocument,
  type TextureRef,
} from '@dusting/core/scene';
import { contextOf, explained, failedChecks, renderShot } from '../diagnosisBench.ts';
import { smallFrame } from '../../src/diagnose/rehearsal/smallFrame.ts';
import { GLASS, GLOW, makeShot, MATT, OPEN_DEPTH, renderTest, slab, sphere, square, type TestObject, type TestScene } from '../scenes.ts'; // prettier-ignore

const reversed = (mesh: MeshData): MeshData => ({ ...mesh, indices: mesh.indices.toReversed(), normals: mesh.normals?.map((n) => -n) ?? null }); // prettier-ignore
const moved = (mesh: MeshData, z: number, x = 0): MeshData => ({ ...mesh, positions: mesh.positions.map((v, i) => v + (i % 3 === 2 ? z : i % 3 === 0 ? x : 0)) }); // prettier-ignore
const both = (a: MeshData, b: MeshData): MeshData => ({
  positions: new Float32Array([...a.positions, ...b.positions]),
  normals: a.normals && b.normals ? new Float32Array([...a.normals, ...b.normals]) : null,
  uvs: null,
  indices: new Uint32Array([...a.indices, ...b.indices.map((i) => i + a.positions.length / 3)]),
});
/** A hollow ball: its inner wall faces the hollow. */
const shell = (z: number, x = 0) => moved(both(sphere(0.3, 48), reversed(sphere(0.27, 48))), z, x);
const clear = { ...GLASS, specular_ior: 1.5 };

/** A glowing wall behind things, half of it a stripe, so that what bends light shows. */
const wall: TestObject = { mesh: square(8, -3), surface: { ...GLOW, emission_luminance: 0.8 } };
const stripe: TestObject = { mesh: { ...square(1, -2.9), positions: square(0.5, -2.9).positions }, surface: { ...GLOW, emission_color: [0.1, 0.1, 0.1] } }; // prettier-ignore
const scene = (objects: TestObject[], more: Partial<TestScene> = {}): TestScene => ({ objects: [...objects, stripe, wall], view: 1, ...more, settings: { width: 16, height: 16, pixelSamples: 16, clearShadows: 'tinted', ...more.settings } }); // prettier-ignore

async function diagnosed(
  of: TestScene,
  change: (document: ShotDocument) => void = () => {},
  add: (blobs: Map<string, Uint8Array>) => void = () => {},
) {
  const { blobs, document } = makeShot(of);
  change(document);
  add(blobs);
  const result = await explained('glass', contextOf(document, blobs));
  const trial = (patch: Patch) => renderShot(patchShot(document, patch), blobs);
  return { result, trial, document };
}
const kinds = ({ causes }: Explanation) => causes.map(({ id }) => id.split(':')[0]);
const failed = (result: Explanation) => failedChecks(result).map(({ text }) => text);

describe('glass diagnosis', () => {
  it('four vessels of two walls in a row need 16, and are found black for their depth alone', async () => {
    const vessels = [0, -0.7, -1.4, -2.1].map((z) => ({ mesh: shell(z), surface: clear }));
    const depth = { ...OPEN_DEPTH, transmission: 8, total: 32 };
    const { document, result, trial } = await diagnosed(scene(vessels, { settings: { depth }, view: 0.2 }));
    expect(result.measured.depthFor99).to.equal(16);
    expect(kinds(result)).to.deep.equal(['depth']);
    expect(failed(result)).to.deep.equal([]);
    const [remedy] = result.remedies;
    const light = effectOf(remedy, 'luminance')!;
    const after = trial(remedy.patch).statistics.meanLuminance;
    expect(after).to.be.within(light.low - 0.02, light.high + 0.02);
    expect(patchShot(document, remedy.patch).final.depth.transmission).to.be.within(16, 20);
  });

  it('says before a render that a transmission depth of 16 is of no use while the total depth is 8', async () => {
    const vessels = [0, -0.7, -1.4].map((z) => ({ mesh: shell(z), surface: clear }));
    const depth = { ...OPEN_DEPTH, transmission: 16, total: 8 };
    const { result } = await diagnosed(scene(vessels, { settings: { depth }, view: 0.2 }));
    expect(result.summary).to.contain(
      'Raising the transmission depth of 16 changes nothing while the total depth is 8.',
    );
    expect(result.remedies[0].patch.map(({ path }) => path)).to.include('/final/depth/total').and.not.include('/final/depth/transmission'); // prettier-ignore
  });

  const lens: TestObject = { mesh: slab(0.8, -0.3, 0), surface: clear };
  const tilted = (object: TestObject, degrees = 40): TestObject => {
    const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
    return { ...object, transform: [c, 0, s, 0, 0, 1, 0, 0, -s, 0, c, 0] };
  };
  const absorbing = { ...clear, transmission_color: [0.2, 0.5, 0.9], transmission_depth: 0.3 };
  const faults: [name: string, kind: string, objects: TestObject[], text: RegExp][] = [
    ['faces turned inwards', 'reversed', [tilted({ ...lens, mesh: reversed(lens.mesh), surface: absorbing })], /turned inwards/],
    ['an open mesh', 'open', [tilted({ ...lens, mesh: square(0.8), surface: absorbing })], /is open \(4 edges with one face\)/],
    ['solid glass marked as thin-walled', 'thinOnSolid', [tilted({ ...lens, surface: { ...absorbing, geometry_thin_walled: true } })], /marked as thin-walled/],
    ['an index of 1', 'noIndex', [tilted({ ...lens, surface: { ...absorbing, specular_ior: 1 } })], /index of refraction of 1:/],
    ['a black tint', 'blackTint', [{ ...lens, surface: { ...clear, transmission_tint: [0, 0, 0] } }], /lets next to nothing through/],
    ['a tint without red', 'blackTint', [{ ...lens, surface: { ...clear, transmission_tint: [0, 0.9, 0.9] } }], /no red light/],
    ['absorption too strong', 'darkInside', [{ ...lens, surface: { ...clear, transmission_color: [0.01, 0.005, 0.001], transmission_depth: 0.1 } }], /absorbs all but 0\.0 %/],
    ['a black base under half glass', 'blackBase', [{ ...lens, surface: { ...clear, transmission_weight: 0.5, base_color: [0, 0, 0] } }], /shows a black base/],
    ['an air gap', 'gap', [{ mesh: slab(0.8, -0.3, 0), surface: { ...clear, specular_ior: 2 } }, { mesh: slab(0.7, -0.7, -0.301), surface: { ...absorbing, specular_ior: 1.95 } }], /1\.0\d* mm of air/],
    ['an overlap without a priority', 'overlap', [tilted({ mesh: slab(0.8, -0.3, 0), surface: { ...absorbing, specular_ior: 2 } }), tilted({ mesh: slab(0.7, -0.6, -0.15), surface: { ...clear, specular_ior: 1.2 } })], /overlap with the same medium priority/],
  ]; // prettier-ignore
  for (const [name, kind, objects, text] of faults)
    it(`${name}: named alone, and cured by its remedy`, async () => {
      const { document, result, trial } = await diagnosed(scene(objects));
      expect(kinds(result), result.summary).to.deep.equal([kind]);
      expect(failed(result)).to.have.length(1);
      expect(failed(result)[0]).to.match(text);
      const [remedy] = result.remedies;
      const light = effectOf(remedy, 'luminance')!;
      const after = trial(remedy.patch);
      expect(after.statistics.meanLuminance).to.be.within(light.low * 0.97 - 0.003, light.high * 1.03 + 0.003);
      // the fault is gone, and no other came for it
      const again = await diagnosed(scene(objects), (d) => Object.assign(d, patchShot(document, remedy.patch)));
      expect(failed(again.result)).to.deep.equal([]);
    });

  it('sound glass is found sound; where there is none it says so', async () => {
    const { result } = await diagnosed(scene([tilted({ ...lens, surface: absorbing })]));
    expect(kinds(result)).to.deep.equal([]);
    expect(failed(result)).to.deep.equal([]);
    expect(result.summary).to.contain('No cause was found');
    const none = await diagnosed(scene([{ mesh: square(0.5), surface: MATT }]));
    expect(none.result.summary).to.match(/^No pixel of this region shows glass/);
  });

  it('an inner wall that faces outwards, and faces that look both ways, are found; neither has a remedy in the document', async () => {
    const filled = moved(both(sphere(0.3, 48), sphere(0.27, 48)), 0);
    const inner = await diagnosed(scene([{ mesh: filled, surface: clear }]));
    expect(failed(inner.result)).to.have.length(1);
    expect(inner.result.summary).to.contain('inner wall that face outwards');
    const mixed = slab(0.8, -0.3, 0);
    [mixed.indices[0], mixed.indices[1]] = [mixed.indices[1], mixed.indices[0]];
    const { result } = await diagnosed(scene([{ mesh: mixed, surface: clear }]));
    expect(failed(result)[0]).to.match(/look both ways \(3 edges/);
    // those of the turned triangle, for the Model
    const places = (of: typeof result) => of.evidence.find((e): e is RaysEvidence => e.id === 'faultyPlaces');
    expect(places(result)!.rays.map(({ lines, text }) => [text, lines.length])).to.deep.equal([['3 edges at which faces turn over', 3]]); // prettier-ignore
    expect(places(inner.result)).to.equal(undefined);
    const open = await diagnosed(scene([{ mesh: square(0.8), surface: absorbing, transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, -0.2] }])); // prettier-ignore
    const ends = places(open.result)!.rays[0].lines.flatMap(({ points }) => points);
    expect(ends).to.have.length(8);
    for (const end of ends) expect(end.map((v) => Math.abs(Number(v.toFixed(5))))).to.deep.equal([0.4, 0.4, 0.2]);
  });

  it('smoothing meshes moves what facets make; a block with sharp edges is not smoothed', async () => {
    const movedBy = async (object: TestObject) => {
      const { result } = await diagnosed(scene([object]));
      const table = result.evidence.find((e): e is TableEvidence => e.id === 'variants')!;
      const row = table.rows.find(([title]) => title.type === 'text' && title.text === 'meshes smoothed once more');
      return row?.[1].type === 'number' ? row[1].value : null;
    };
    const [facets, block] = [await movedBy({ mesh: sphere(0.35, 10, false), surface: absorbing }), await movedBy(tilted({ ...lens, surface: absorbing }))]; // prettier-ignore
    expect(facets).to.be.above(0.5);
    expect(block).to.equal(null);
  });

  it('a hollow that is an object of its own is an inner wall, and no reversed body', async () => {
    const { result } = await diagnosed(scene([{ mesh: sphere(0.3, 48), surface: clear }, { mesh: reversed(sphere(0.27, 48)), surface: clear }])); // prettier-ignore
    expect(failed(result)).to.deep.equal([]);
  });

  it('of several faults, each is named, the one that changes most first', async () => {
    const [left, right] = [slab(0.45, -0.3, 0), slab(0.2, -0.3, 0)].map((mesh, i) => ({ ...mesh, positions: mesh.positions.map((v, k) => v + (k % 3 === 0 ? (i === 0 ? -0.25 : 0.25) : 0)) })); // prettier-ignore
    const { result } = await diagnosed(scene([{ mesh: left, surface: { ...clear, transmission_tint: [0, 0, 0] } }, { mesh: right, surface: { ...clear, transmission_color: [0.01, 0.01, 0.01], transmission_depth: 0.1 } }])); // prettier-ignore
    expect(kinds(result)).to.deep.equal(['blackTint', 'darkInside']);
    const shares = result.causes.map(({ share }) => share!);
    expect(shares[0]).to.be.above(shares[1]);
    expect(shares[0] + shares[1]).to.be.closeTo(1, 1e-9);
    for (const evidence of result.evidence) {
      expect(evidenceText(evidence), evidence.id).to.not.deep.equal([]);
      if (evidence.type !== 'pictures') expect(evidenceCsv(evidence)).to.not.equal(null);
    }
  });
});

/** A texture of one column: a colour for each row, from the top. */
const column = (rows: number[][]) =>
  encode({ width: 1, height: rows.length, data: Uint8Array.from(rows.flat()), channels: 4 });
const upright = (mesh: MeshData, flipped: boolean): MeshData => ({ ...mesh, uvs: mesh.uvs!.map((v, i) => (i % 2 === 1 && flipped ? 1 - v : v)) }); // prettier-ignore

describe('textures of glass', () => {
  /** Two thin panes side by side with one surface and its map. */
  const panes = async (rows: number[][], maps: object, flipped = false) => {
    const mesh = (x: number, turn: boolean) => upright(moved(square(0.4), 0, x), turn);
    const surface = { ...clear, geometry_thin_walled: true };
    const shot = scene([
      { mesh: mesh(-0.25, false), surface },
      { mesh: mesh(0.25, flipped), surface },
    ]);
    return diagnosed(
      shot,
      (document) => {
        document.textures.ramp = { ...TEXTURE_DEFAULTS, name: 'ramp', blob: 'f'.repeat(64), width: 1, height: rows.length, encoding: 'linear', filter: 'nearest' } as TextureRef; // prettier-ignore
        Object.assign(document.surfaces.s0.maps, maps);
        document.objects.o1.surface = 's0';
      },
      (blobs) => blobs.set('f'.repeat(64), column(rows)),
    );
  };
  const ramp = (low: number) => Array.from({ length: 16 }, (_, i) => [1, 1, 1].map(() => low + ((255 - low) * i) / 15).concat(255)); // prettier-ignore

  it('a tint that is black at one end', async () => {
    const { result, trial } = await panes(ramp(0), { base_color: 'ramp' });
    expect(kinds(result)).to.deep.equal(['blackMap']);
    const [remedy] = result.remedies;
    expect(remedy.patch.map(({ path }) => path)).to.deep.equal(['/surfaces/s0/maps/base_color', '/surfaces/s0/transmission_tint']); // prettier-ignore
    const light = effectOf(remedy, 'luminance')!;
    expect(trial(remedy.patch).statistics.meanLuminance).to.be.within(light.low - 0.01, light.high + 0.01);
    expect(failed((await panes(ramp(60), { base_color: 'ramp' })).result)).to.deep.equal([]);
  });

  it('a gradient in the slot of opacity; a stencil belongs there', async () => {
    const alphas = (of: (i: number) => number) => Array.from({ length: 16 }, (_, i) => [90, 60, 20, of(i)]);
    const { document, result } = await panes(alphas((i) => 40 + 12 * i), { opacity: 'ramp' }); // prettier-ignore
    expect(kinds(result)).to.deep.equal(['opacityMap']);
    expect(patchShot(document, result.remedies[0].patch).surfaces.s0.maps).to.deep.equal({ base_color: 'ramp' });
    expect(failed((await panes(alphas((i) => (i < 8 ? 0 : 255)), { opacity: 'ramp' })).result)).to.deep.equal([]); // prettier-ignore
  });

  it('a mapping turned upside down on one of two', async () => {
    const { document, result, trial } = await panes(ramp(60), { base_color: 'ramp' }, true);
    expect(kinds(result)).to.deep.equal(['mapping']);
    expect(result.causes[0].about).to.deep.include({ type: 'object', id: 'o1', name: 'o1' });
    const fixed = trial(result.remedies[0].patch).picture;
    const upright = (await panes(ramp(60), { base_color: 'ramp' })).trial([]).picture;
    const rows = (picture: typeof fixed) => findChannel(picture, 'beauty', 'G')!.data;
    rows(fixed).forEach((v, i) => expect(v).to.be.closeTo(rows(upright)[i], 0.02 + 0.02 * v));
    expect(document.objects.o1.surface).to.equal('s0');
  });
});

describe('a region that is tried out', () => {
  it('stays as it is where it is small, and is covered by a smaller frame where it is large', () => {
    const settings = { ...FINAL_DEFAULTS, width: 1280, height: 720 };
    expect(smallFrame({ x: 3, y: 5, width: 100, height: 100 }, settings, 'final')).to.deep.equal({ region: { x: 3, y: 5, width: 100, height: 100 }, patch: [], step: 1 }); // prettier-ignore
    const { patch, region, step } = smallFrame({ x: 333, y: 101, width: 901, height: 619 }, settings, 'final');
    const [width, height] = patch.map((line) => (line as { value: number }).value);
    expect(region.width * region.height).to.be.below(13_000);
    expect(width).to.be.closeTo(1280 / step, 1);
    expect(region.x / width).to.be.at.most(333 / 1280);
    expect((region.x + region.width) / width).to.be.at.least(1234 / 1280);
    expect((region.y + region.height) / height).to.be.at.least(720 / 720);
    expect([region.x + region.width <= width, region.y + region.height <= height]).to.deep.equal([true, true]);
  });
});

describe('target tint', () => {
  it('yields the colour behind n interfaces and behind a length, to 1 % in a render', () => {
    const wanted = [0.7, 0.4, 0.15];
    const passed = 0.96 ** 2; // both faces reflect 4 %, and light that comes back once more adds 4 % of 4 %
    for (const walls of [1, 2]) {
      const lost = [1, 1, 1].map(() => passed ** walls);
      const answer = targetTint(wanted.map((w) => w * lost[0]), { interfaces: 2 * walls, length: 0.1 * walls }, lost); // prettier-ignore
      expect(answer.tooBright).to.deep.equal([]);
      const boxes = Array.from({ length: walls }, (_, i) => slab(60, -0.2 * i - 0.1, -0.2 * i));
      for (const surface of [{ transmission_tint: answer.tint }, { transmission_color: answer.colour!, transmission_depth: 0.1 * walls }])
        for (const channel of [0, 1, 2]) {
          const glow = { ...GLOW, emission_color: [0, 1, 2].map((k) => (k === channel ? 1 : 0)) };
          const settings = { width: 4, height: 4, pixelSamples: 1024, depth: { ...OPEN_DEPTH, specular: 0 } };
          const { film } = renderTest({ objects: [...boxes.map((mesh) => ({ mesh, surface: { ...clear, ...surface } })), { mesh: square(80, -5), surface: glow }], view: 0.1, settings }); // prettier-ignore
          const seen = film.data[channel] / 1024;
          expect(seen).to.be.closeTo(wanted[channel] * lost[channel], 0.01 * wanted[channel]);
        } // prettier-ignore
    }
  });

  it('says which channel no filter can reach', () => {
    expect(targetTint([1.2, 0.5, 0.5], { interfaces: 2, length: 0 }).tooBright).to.deep.equal([0]);
    expect(targetTint([0.95, 0.5, 0.5], { interfaces: 2, length: 0 }, [0.9, 0.9, 0.9]).tooBright).to.deep.equal([0]);
  });

  it('lightens with the hue kept: the ratios of what channels are short of the brightest stay', () => {
    const from = [0.2, 0.05, 0];
    const to = lightenTint(from, 0.5);
    expect(0.2126 * to[0] + 0.7152 * to[1] + 0.0722 * to[2]).to.be.closeTo(0.5, 1e-9);
    expect(Math.max(...to)).to.be.at.most(1);
    expect((to[0] - to[1]) / (to[0] - to[2])).to.be.closeTo((from[0] - from[1]) / (from[0] - from[2]), 1e-9);
    expect(lightenTint([0, 0, 0], 0.4)).to.deep.equal([0.4, 0.4, 0.4]);
  });
});
