// Sizes of the arrays, counted by hand: 12 B a position, 12 B a normal, 12 B a triangle of indices.
import { expect } from 'chai';
import { compileScene, sceneMemory } from '@dusting/core/render';
import { makeShot, MATT, sphere } from '../scenes.ts';

const FILM_BYTES = 1234;
const memoryOf = (steps: number, copies = 1) => {
  const mesh = sphere(1, steps);
  const { document, blobs } = makeShot({ objects: [{ mesh, surface: MATT }] });
  const [one] = Object.values(document.objects);
  document.objects = Object.fromEntries(Array.from({ length: copies }, (_, i) => [`ball${i}`, one]));
  return {
    mesh,
    memory: sceneMemory(
      compileScene(document, document.final, (id) => blobs.get(id)!),
      FILM_BYTES,
    ),
  };
};

describe('memory of a scene', () => {
  it('geometry is as large as its numbers', () => {
    const { mesh, memory } = memoryOf(64);
    const least = mesh.positions.byteLength + mesh.normals!.byteLength + mesh.indices.byteLength;
    expect(memory.geometry).to.be.within(least, least + (mesh.uvs?.byteLength ?? 0) + 8 * mesh.positions.length);
    expect(memory.film).to.equal(FILM_BYTES);
  });

  it('the hierarchy grows with the triangles: packets of four in 160 B, filled at least half, and their nodes', () => {
    const [small, large] = [memoryOf(64), memoryOf(256)];
    const triangles = (large.mesh.indices.length - small.mesh.indices.length) / 3;
    expect((large.memory.hierarchy - small.memory.hierarchy) / triangles).to.be.within(40, 160);
  });

  it('nothing is counted twice, and what is shared is there once', () => {
    const [one, many] = [memoryOf(128), memoryOf(128, 20)];
    expect(many.memory.geometry).to.equal(one.memory.geometry);
    expect(many.memory.tables).to.be.above(one.memory.tables);
  });
});
