// What is said of UVs, on layouts whose shares are known by construction, and the view of a map with its padding and the sides of
// a seam at heights that were painted there.
import { expect } from 'chai';
import type { Evidence } from '@dusting/core/diagnose';
import { fromHalf, type MeshData } from '@dusting/core/formats';
import { TEXTURE_DEFAULTS, type TextureRef } from '@dusting/core/scene';
import { contextOf, explained } from '../diagnosisBench.ts';
import { paintMap } from '../paintMap.ts';
import { makeShot, MATT } from '../scenes.ts';

const SIZE = 128;
const MAP = 'f'.repeat(64);

/** Two squares side by side, facing the camera, each with its own part of the map: u, v, width, height. */
function leaves(...parts: [u: number, v: number, width: number, height: number][]): MeshData {
  const positions: number[] = [];
  const uvs: number[] = [];
  parts.forEach(([u, v, width, height], i) => {
    const x = -0.4 + 0.4 * i;
    positions.push(x, -0.2, 0, x + 0.4, -0.2, 0, x + 0.4, 0.2, 0, x, 0.2, 0);
    uvs.push(u, v + height, u + width, v + height, u + width, v, u, v);
  });
  const indices = parts.flatMap((_, i) => [0, 1, 2, 0, 2, 3].map((k) => 4 * i + k));
  return { positions: Float32Array.from(positions), normals: null, uvs: Float32Array.from(uvs), indices: Uint32Array.from(indices) }; // prettier-ignore
}
/** Both are painted alike: 0.2 left of the middle of the mesh, 0.8 right of it. */
async function readingOf(
  mesh: MeshData,
  { padding = 16, texture = {} }: { padding?: number; texture?: Partial<TextureRef> } = {},
) {
  const { blobs, document } = makeShot({
    view: 0.9,
    environment: { color: [0.3, 0.3, 0.3] },
    settings: { width: 40, height: 40, pixelSamples: 1, depth: { diffuse: 1, specular: 1, transmission: 1, total: 2 } },
    objects: [{ mesh, surface: { ...MATT, displacement_scale: 0.01, displacement_neutral: 0.5 }, flags: { name: 'leaves', subdivisionLevels: 3 } }], // prettier-ignore
  });
  blobs.set(
    MAP,
    paintMap(mesh, SIZE, (x) => (x < 0 ? 0.2 : 0.8), { padding }),
  );
  document.textures.relief = { ...TEXTURE_DEFAULTS, name: 'relief.png', blob: MAP, width: SIZE, height: SIZE, encoding: 'linear', filter: 'bilinear', ...texture } as TextureRef; // prettier-ignore
  document.surfaces[Object.keys(document.surfaces)[0]].maps.displacement = 'relief';
  const { evidence } = await explained('displacement', contextOf(document, blobs));
  const find = <T extends Evidence['type']>(type: T, id: string) => evidence.find((e): e is Extract<Evidence, { type: T }> => e.type === type && e.id === id)!; // prettier-ignore
  const { checks } = find('checklist', 'checks');
  return { said: checks.filter(({ state }) => state !== 'passed').map(({ text }) => text).join('\n'), uv: find('uv', 'uv:o0'), islands: find('table', 'islands:o0') }; // prettier-ignore
}
const plane = (halves: string) => Float32Array.from(new Uint16Array(Buffer.from(halves, 'base64').buffer.slice(0)), fromHalf); // prettier-ignore
const [LEFT, RIGHT] = [[0.05, 0.1, 0.4, 0.4], [0.55, 0.1, 0.4, 0.4]] as [number, number, number, number][]; // prettier-ignore

describe('UVs of a displaced object', function () {
  this.timeout(60_000);

  it('as they should be: nothing is said of them; two islands of equal size', async () => {
    const { islands, said } = await readingOf(leaves(LEFT, RIGHT));
    expect(said).not.to.match(/UV|island|texel|place/);
    expect(islands.rows.map(([, share]) => share)).to.deep.equal(Array(2).fill({ type: 'number', value: 0.5, unit: 'share' })); // prettier-ignore
    // 0.4 of 128 texels over 0.4 m
    for (const [, , , density] of islands.rows) expect(density).to.deep.equal({ type: 'number', value: 128, unit: 'count' }); // prettier-ignore
  });

  const layouts: [name: string, mesh: MeshData, texture: Partial<TextureRef>, words: RegExp][] = [
    ['on top of each other', leaves(LEFT, LEFT), {}, /^100 % of what the UVs of leaves cover is used by several places/m],
    ['one of them half over the other', leaves(LEFT, [0.25, 0.1, 0.4, 0.4]), {}, /^3[34] % of what the UVs/m],
    ['one of them mirrored', leaves(LEFT, [0.95, 0.1, -0.4, 0.4]), {}, /^1 of 2 islands of leaves lie mirrored/m],
    ['one of them without width', leaves(LEFT, [0.55, 0.1, 0, 0.4]), {}, /^50 % of leaves has UVs without area/m],
    ['both drawn out', leaves([0.05, 0.1, 0.08, 0.4], [0.55, 0.1, 0.08, 0.4]), {}, /^100 % of leaves stretches texels more than 4 : 1/m],
    ['one of them small', leaves(LEFT, [0.55, 0.1, 0.05, 0.05]), {}, /^islands of leaves differ by 8\.0 times/m],
    ['one of them beyond a map that does not repeat', leaves(LEFT, [1.05, 0.1, 0.4, 0.4]), { wrapU: 'clamp' }, /^50 % of leaves has UVs outside of the map/m],
  ]; // prettier-ignore
  for (const [name, mesh, texture, words] of layouts)
    it(`${name}: that is said, and nothing else of them`, async () => {
      const { said } = await readingOf(mesh, { texture });
      expect(said).to.match(words);
      expect(said.split('\n').filter((line) => /UV|island|texel/.test(line)).length, said).to.equal(1);
    });

  it('beyond a map that repeats they are where they belong', async () => {
    expect((await readingOf(leaves(LEFT, [1.55, 0.1, 0.4, 0.4]))).said).not.to.match(/UVs outside/);
    expect((await readingOf(leaves([0, 0, 12, 12], [20, 0, 12, 12]))).said).not.to.match(/UV|island/);
  });

  it('shows heights in metres, and both sides of a seam with what was painted there', async () => {
    const { uv } = await readingOf(leaves(LEFT, RIGHT));
    expect(uv.layers.map(({ label }) => label)).to.deep.equal(['height', 'padding', 'stretch', 'used']);
    const heights = plane(uv.layers[0].halves);
    const at = (u: number, v: number) => heights[Math.floor(v * uv.height) * uv.width + Math.floor(u * uv.width)];
    // 0.01 m x (0.2 - 0.5), and (0.8 - 0.5)
    expect(at(0.2, 0.3)).to.be.closeTo(-0.003, 1e-5);
    expect(at(0.7, 0.3)).to.be.closeTo(0.003, 1e-5);
    expect(uv.seams.length).to.be.above(0);
    for (const { length, place, sides } of uv.seams) {
      // the leaves meet at X = 0
      expect(place[0]).to.be.closeTo(0, 1e-6);
      expect(sides.map(({ value }) => Math.abs(value))).to.satisfy((list: number[]) => list.every((v) => Math.abs(v - 0.003) < 2e-5)); // prettier-ignore
      expect(length).to.be.closeTo(0.006, 1e-4);
      for (const { halves, side, value } of sides) expect(plane(halves)[(side / 2) * side + side / 2]).to.be.closeTo(value, 1e-5); // prettier-ignore
    }
  });

  it('padding that was painted, and padding that was not', async () => {
    const share = async (padding: number, place: number) => {
      const values = plane((await readingOf(leaves(LEFT, RIGHT), { padding })).uv.layers[1].halves);
      return values.filter((v) => v === place).length / values.length;
    };
    // two squares of 0.4
    expect(await share(16, 0)).to.be.closeTo(0.32, 0.01);
    expect(await share(16, 2)).to.equal(0);
    expect(await share(0, 1)).to.equal(0);
    expect(await share(0, 2)).to.be.above(0.3);
  });
});
