// What the displacement diagnosis computes of a map, against closed forms. Means over k texels leave (sin(pi k / P) / (k sin(pi / P)))^2
// of the variance of a wave of P texels (the Dirichlet kernel), and nothing of it where k is P: two vertices a period are the least
// (sampling theorem). A ramp of height s over a side L has the slope s / L. A ball swells by the cube of its radius.
import { expect } from 'chai';
import { encode } from 'fast-png';
import type { MeshData } from '@dusting/core/formats';
import { compileScene } from '@dusting/core/render';
import { TEXTURE_DEFAULTS, type SceneObject, type Surface, type TextureRef } from '@dusting/core/scene';
import { displacedObject, ownReader, type DisplacedObject } from '../../src/diagnose/displacement/displacedObject.ts';
import { missedHeights } from '../../src/diagnose/displacement/missedHeights.ts';
import { levelDetails, movementOf } from '../../src/diagnose/displacement/mapDetail.ts';
import { mapHeights, volumeOf } from '../../src/diagnose/displacement/mapHeights.ts';
import { mapSteps } from '../../src/diagnose/displacement/mapSteps.ts';
import { makeShot, MATT, sphere } from '../scenes.ts';

const SIZE = 256;
const MAP = 'f'.repeat(64);

function picture(height: (x: number, y: number) => number, bits: 8 | 16 = 16): Uint8Array {
  const most = 2 ** bits - 1;
  const values = Array.from({ length: SIZE * SIZE }, (_, i) =>
    Math.round(most * height(i % SIZE, Math.floor(i / SIZE))),
  );
  return encode({ width: SIZE, height: SIZE, data: bits === 16 ? Uint16Array.from(values) : Uint8Array.from(values), channels: 1, depth: bits }); // prettier-ignore
}

/** A sheet of 1 m of so many quads each way, its UVs over the whole map. */
function sheet(cells: number): MeshData {
  const positions: number[] = [];
  const uvs: number[] = [];
  const indices: number[] = [];
  for (let j = 0; j <= cells; j++)
    for (let i = 0; i <= cells; i++) {
      positions.push(i / cells - 0.5, j / cells - 0.5, 0);
      uvs.push(i / cells, 1 - j / cells);
    }
  for (let j = 0; j < cells; j++)
    for (let i = 0; i < cells; i++) {
      const a = j * (cells + 1) + i;
      indices.push(a, a + 1, a + cells + 2, a, a + cells + 2, a + cells + 1);
    }
  return { positions: Float32Array.from(positions), normals: null, uvs: Float32Array.from(uvs), indices: Uint32Array.from(indices) }; // prettier-ignore
}

function read(mesh: MeshData, map: Uint8Array, surface: Partial<Surface> = {}, flags: Partial<SceneObject> = {}) {
  const { blobs, document } = makeShot({ view: 1, objects: [{ mesh, surface: { ...MATT, displacement_scale: 0.1, ...surface }, flags: { name: 'sheet', ...flags } }], environment: { color: [1, 1, 1] } }); // prettier-ignore
  blobs.set(MAP, map);
  document.textures.relief = { ...TEXTURE_DEFAULTS, name: 'relief.png', blob: MAP, width: SIZE, height: SIZE, encoding: 'linear', filter: 'bilinear', wrapU: 'clamp', wrapV: 'clamp' } as TextureRef; // prettier-ignore
  document.surfaces.s0.maps.displacement = 'relief';
  const scene = compileScene(document, document.final, (id) => blobs.get(id)!);
  const of = displacedObject(document, scene, 0, mesh, document.final)!;
  return { of, reader: ownReader(scene, document, of.moved) };
}

describe('maps of displacement', () => {
  const wave = (period: number) => picture((x) => 0.5 + 0.4 * Math.sin((2 * Math.PI * (x + 0.5)) / period));
  const kept = (k: number, period: number) =>
    (Math.sin((Math.PI * k) / period) / (k * Math.sin(Math.PI / period))) ** 2;

  for (const [cells, period] of [
    [64, 32],
    [32, 32],
    [64, 16],
    [128, 8],
  ])
    // prettier-ignore
    it(`a wave of ${period} texels on vertices ${SIZE / cells} texels apart: the variance that means over them leave`, () => {
      const [{ detail }] = levelDetails(read(sheet(cells), wave(period)).of);
      expect(detail).to.be.closeTo(kept(SIZE / cells, period), 0.01);
    });

  it('one vertex a period carries nothing of it, two carry it; a level more has four times the triangles and half the spacing', () => {
    const levels = levelDetails(read(sheet(32), wave(8)).of);
    expect(levels[0].detail).to.be.below(0.01);
    // two vertices a period, on the peaks of the wave: a wave between two signs has twice the variance of a sine
    expect(levels[1].detail).to.be.closeTo(2 * kept(4, 8), 0.01);
    expect(levels[2].triangles).to.equal(4 * levels[1].triangles);
    expect(levels[1].spacing).to.be.closeTo(levels[0].spacing / 2, 1e-9);
    // 8 pixels of the frame over 1 m, 32 cells; an edge or a diagonal
    expect(levels[0].spacing).to.be.within(8 / 32 - 1e-3, (8 / 32) * Math.SQRT2 + 1e-3);
  });

  it('a ramp has the slope of its height over its side, and folds nothing', () => {
    const { of, reader } = read(
      sheet(64),
      picture((x) => x / (SIZE - 1)),
    );
    const { folded, range, size, slope } = movementOf(of, reader, 0.5);
    expect(range).to.be.closeTo(0.5, 0.005);
    expect(size).to.be.closeTo(Math.SQRT2, 1e-5);
    expect(slope).to.be.closeTo(0.5 * (SIZE / (SIZE - 1)), 0.005);
    expect(folded).to.equal(0);
  });

  it('a ball that reads 1 around 0 grows by its scale: volume by the cube', () => {
    const ball = sphere(0.2, 48);
    const uvs = new Float32Array((ball.positions.length / 3) * 2).fill(0.5);
    const white = picture(() => 1);
    const { of, reader } = read({ ...ball, uvs }, white, { displacement_neutral: 0 });
    const [still, grown] = [1, 0].map((neutral) => volumeOf(of, reader, neutral));
    expect(grown / still).to.be.closeTo(1.5 ** 3, 0.01);
    expect(volumeOf(read(sheet(8), wave(32)).of, reader, 0), 'a sheet encloses nothing').to.equal(0);
  });

  it('rests at what most of the surface has, or at its median', () => {
    const plateau = read(
      sheet(64),
      picture((x) => (x < 160 ? 0.3 : 0.3 + (x - 160) / 192)),
    );
    expect(mapHeights(plateau.of, plateau.reader)).to.deep.include({ rest: 0.3, by: 'mode' });
    const ramp = read(
      sheet(64),
      picture((x) => x / (SIZE - 1)),
    );
    expect(mapHeights(ramp.of, ramp.reader)).to.deep.include({ rest: 0.5, by: 'median' });
    const shares = mapHeights(ramp.of, ramp.reader).counts;
    expect(shares.reduce((sum, share) => sum + share, 0)).to.be.closeTo(1, 1e-9);
  });

  it('terraces are those of 8 bits: steps of 1/255 in a gentle slope, none in 16 bits or in a steep one', () => {
    const gentle = (x: number) => 0.2 + 0.1 * (x / SIZE);
    const { levels, step, terraced } = mapSteps(read(sheet(8), picture(gentle, 8)).of.map)!;
    expect(levels).to.be.within(26, 28);
    expect(step).to.be.closeTo(1 / 255, 1e-6);
    expect(terraced).to.be.above(0.9);
    expect(
      mapSteps(
        read(
          sheet(8),
          picture((x, y) => gentle(x) + 0.0001 * y, 16),
        ).of.map,
      ),
    ).to.equal(null);
    expect(
      mapSteps(
        read(
          sheet(8),
          picture((x) => x / (SIZE - 1), 8),
        ).of.map,
      )!.terraced,
    ).to.be.below(0.1);
  });

  it('misses the arc between two vertices by its sagitta, and a quarter of it at the next level', () => {
    // a wave along U over a plane: a vertex every 1/32, 8 waves; an edge of w misses A (1 - cos(k w / 2)) at most
    const [cells, waves, height, pixel] = [32, 4, 0.4, 0.01];
    const uvs = Float32Array.from({ length: 2 * (cells + 1) ** 2 }, (_, i) => (i % 2 === 0 ? (i / 2) % (cells + 1) : Math.floor(i / 2 / (cells + 1))) / cells); // prettier-ignore
    const indices = Uint32Array.from({ length: 3 * cells * cells }, (_, i) => {
      const [x, y] = [Math.floor(i / 3) % cells, Math.floor(i / 3 / cells)];
      return y * (cells + 1) + x + [0, 1, cells + 2][i % 3];
    });
    const of = { base: { indices }, moved: { kind: 'height', scale: 0.5 }, pixels: new Float32Array(uvs.length / 2).fill(pixel), seenAt: uvs, uvs } as unknown as DisplacedObject; // prettier-ignore
    const { byLevel, places } = missedHeights(of, (u, _, __, out) => void (out[0] = 0.5 + height * Math.sin(2 * Math.PI * waves * u + 0.3))); // prettier-ignore
    byLevel.forEach((missed, level) => {
      const most = ((0.5 * height) / pixel) * (1 - Math.cos((Math.PI * waves) / cells / 2 ** level));
      expect(missed / most, `level ${level}`).to.be.within(0.95, 1.0001);
    });
    // edges along the crests miss nothing
    expect(Math.min(...places.map(({ missed }) => missed))).to.be.closeTo(0, 1e-6);
  });
});
