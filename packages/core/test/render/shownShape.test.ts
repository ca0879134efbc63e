// The mesh of one object by itself is that of the compiled scene.
import { expect } from 'chai';
import { compileScene, shapeBlobs, shapeKey, shapeSource, shownShape } from '@dusting/core/render';
import { TEXTURE_DEFAULTS, type TextureRef } from '@dusting/core/scene';
import { objectMesh } from '../../src/render/objectShape.ts';
import { paintMap, ring } from '../paintMap.ts';
import { makeShot, MATT, square } from '../scenes.ts';

describe('the shape of one object', () => {
  const { blobs, document } = makeShot({
    objects: [
      { mesh: square(1), surface: MATT },
      { mesh: ring(), surface: { ...MATT, displacement_scale: 0.05 }, flags: { subdivisionLevels: 1 } },
    ],
  });
  const map = 'f'.repeat(64);
  blobs.set(
    map,
    paintMap(ring(), 64, (x, y) => 0.5 + 0.4 * Math.sin(9 * x) * Math.cos(7 * y), { padding: 0 }),
  );
  document.textures.relief = { ...TEXTURE_DEFAULTS, name: 'relief.png', blob: map, width: 64, height: 64, encoding: 'linear', padding: 8 } as TextureRef; // prettier-ignore
  document.textures.other = { ...document.textures.relief, name: 'other.png', blob: 'e'.repeat(64) };
  document.surfaces.s1.maps.displacement = 'relief';

  it('is null for a mesh as it came', () => expect(shapeSource(document, 'o0')).to.equal(null));

  it('is that of the scene, and needs its own files alone', () => {
    const source = shapeSource(document, 'o1')!;
    expect(shapeBlobs(source)).to.deep.equal([document.meshes.m1.blob, map]);
    const own = shownShape(source, 'o1', (id) => blobs.get(id)!);
    delete document.textures.other;
    const scene = compileScene(document, document.final, (id) => blobs.get(id)!);
    const { indices, positions } = objectMesh(scene, 1);
    expect(own.indices).to.deep.equal(new Uint32Array(indices));
    // the scene keeps meshes about their middles
    const spread = (of: ArrayLike<number>, k: number) => Array.from({ length: of.length / 3 }, (_, v) => of[v * 3 + k] - of[k]); // prettier-ignore
    for (const k of [0, 1, 2])
      spread(own.positions, k).forEach((v, i) => expect(v).to.be.closeTo(spread(positions, k)[i], 1e-6));
  });

  it('has a key that changes with what shapes it, and with nothing else', () => {
    const keyOf = (change: (d: typeof document) => void) => {
      const other = structuredClone(document);
      change(other);
      return shapeKey(shapeSource(other, 'o1')!, 'o1');
    };
    const key = keyOf(() => {});
    expect(keyOf((d) => (d.surfaces.s1.displacement_scale = 0.1))).to.not.equal(key);
    expect(keyOf((d) => (d.objects.o1.subdivisionLevels = 2))).to.not.equal(key);
    expect(keyOf((d) => (d.surfaces.s1.base_color = [1, 0, 0]))).to.equal(key);
    expect(keyOf((d) => (d.cameras.camera.height = 5))).to.equal(key);
    const bySize = (height: number) => keyOf((d) => Object.assign(d.objects.o1, { edgeLength: 4 }) && (d.cameras.camera.height = height)); // prettier-ignore
    expect(bySize(1)).to.not.equal(bySize(2));
  });
});
