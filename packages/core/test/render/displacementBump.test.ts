// What a height map holds between the vertices of its mesh, shaded: normals of a height field, tan = dh / du.
import { expect } from 'chai';
import { findChannel } from '@dusting/core/image';
import { TEXTURE_DEFAULTS, type SceneObject, type Surface, type TextureRef } from '@dusting/core/scene';
import { renderShot } from '../diagnosisBench.ts';
import { paintMap } from '../paintMap.ts';
import { makeShot, MATT } from '../scenes.ts';
import type { MeshData } from '@dusting/core/formats';

const [SIZE, WAVES, SCALE] = [512, 16, 0.004];
const wave = (x: number) => 0.5 + 0.4 * Math.sin(2 * Math.PI * WAVES * x);
/** A square metre of quads, UV as XY. */
function sheet(cells: number): MeshData {
  const at = [...Array((cells + 1) ** 2).keys()].map((i) => [(i % (cells + 1)) / cells, Math.floor(i / (cells + 1)) / cells]); // prettier-ignore
  const corners = [...Array(cells * cells).keys()].map((i) => (i % cells) + (cells + 1) * Math.floor(i / cells));
  return { positions: new Float32Array(at.flatMap(([x, y]) => [x - 0.5, y - 0.5, 0])), normals: null, uvs: new Float32Array(at.flat()), indices: new Uint32Array(corners.flatMap((a) => [a, a + 1, a + cells + 2, a, a + cells + 2, a + cells + 1])) }; // prettier-ignore
}
function slopes(flags: Partial<SceneObject>, surface: Partial<Surface>, cells = 8): Float32Array {
  const { blobs, document } = makeShot({ objects: [{ mesh: sheet(cells), surface: { ...MATT, displacement_scale: SCALE, ...surface }, flags }], view: 0.9 / 16, environment: { color: [1, 1, 1] }, settings: { width: 128, height: 8, pixelSamples: 4 } }); // prettier-ignore
  blobs.set(
    'f'.repeat(64),
    paintMap(sheet(8), SIZE, (x) => wave(x + 0.5)),
  );
  document.textures.relief = { ...TEXTURE_DEFAULTS, name: 'relief.png', blob: 'f'.repeat(64), width: SIZE, height: SIZE, encoding: 'linear', filter: 'bilinear' } as TextureRef; // prettier-ignore
  document.surfaces.s0.maps.displacement = 'relief';
  const { picture } = renderShot(document, blobs);
  const [x, z] = ['X', 'Z'].map((c) => findChannel(picture, 'normal', c)!.data);
  return x.map((v, i) => -v / z[i]).subarray(0, 128);
}
const steepest = (of: Float32Array) => Math.max(...of.map(Math.abs));

describe('what is finer than the mesh', () => {
  /** dh / du at its steepest. */
  const wanted = SCALE * 0.4 * 2 * Math.PI * WAVES;

  it('is not seen without more faces, and shaded as bump it has the slopes of the map', () => {
    // 16 waves on 8 faces: vertices stand where the wave is at its rest
    expect(steepest(slopes({}, {}))).to.be.below(0.05 * wanted);
    const shaded = slopes({}, { displacement_bump: true });
    expect(steepest(shaded)).to.be.closeTo(wanted, 0.1 * wanted);
  });

  it('counts once: on a mesh that shows the map nothing is added', () => {
    const [plain, shaded] = [false, true].map((displacement_bump) => slopes({ subdivisionLevels: 6 }, { displacement_bump })); // prettier-ignore
    expect(steepest(plain)).to.be.closeTo(wanted, 0.1 * wanted);
    expect(steepest(shaded)).to.be.closeTo(steepest(plain), 0.1 * wanted);
  });

  it('keeps its slopes on an object that is scaled', () => {
    const large = slopes({ transform: [3, 0, 0, 0, 0, 3, 0, 0, 0, 0, 3, 0] }, { displacement_bump: true });
    expect(steepest(large)).to.be.closeTo(wanted, 0.1 * wanted);
  });
});
