// Shells of meshes with known volumes (4/3 pi r^3, a slab's sides), rims and turned faces.
import { expect } from 'chai';
import { meshShells } from '@dusting/core/geometry';
import { slab, sphere, square } from '../scenes.ts';

const both = (a: ReturnType<typeof slab>, b: ReturnType<typeof slab>) => ({
  positions: new Float32Array([...a.positions, ...b.positions]),
  indices: new Uint32Array([...a.indices, ...b.indices.map((i) => i + a.positions.length / 3)]),
});

describe('shells of a mesh', () => {
  it('a closed slab and a sphere enclose their volume, wherever they lie', () => {
    expect(meshShells(slab(2, 0, 0.5))).to.deep.equal([{ triangles: 12, rim: 0, turned: 0, crowded: 0, volume: 2, low: [-1, -1, 0], high: [1, 1, 0.5] }]); // prettier-ignore
    const [ball] = meshShells(sphere(1, 128));
    expect(ball.rim + ball.turned + ball.crowded).to.equal(0);
    expect(ball.volume).to.be.closeTo((4 / 3) * Math.PI, 0.01);
    const far = slab(2, 0, 0.5);
    far.positions = far.positions.map((v, i) => v + (i % 3 === 0 ? 4096 : 0));
    expect(meshShells(far)[0].volume).to.equal(2);
  });

  it('turned inside out, its volume is negative', () => {
    const mesh = slab(2, 0, 0.5);
    expect(meshShells({ ...mesh, indices: mesh.indices.toReversed() })[0].volume).to.equal(-2);
  });

  it('a sheet has a rim, and a face that is turned over shows at its three edges', () => {
    expect(meshShells(square(1))[0]).to.include({ rim: 4, turned: 0 });
    const mesh = slab(2, 0, 0.5);
    const indices = mesh.indices.slice();
    [indices[0], indices[1]] = [indices[1], indices[0]];
    expect(meshShells({ ...mesh, indices })[0]).to.include({ rim: 0, turned: 3 });
  });

  it('shells that do not share an edge are apart; triangles without an area are none', () => {
    const shells = meshShells(both(slab(2, 0, 0.5), slab(1, 3, 4)));
    expect(shells.map((s) => s.volume)).to.have.members([2, 1]);
    const mesh = square(1);
    expect(meshShells({ ...mesh, indices: new Uint32Array([...mesh.indices, 0, 0, 1]) })[0].triangles).to.equal(2);
  });

  it('an edge of three faces is crowded', () => {
    const mesh = { positions: new Float32Array([0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, 0, -1, 0]), indices: new Uint32Array([0, 1, 2, 1, 0, 3, 0, 1, 4]) }; // prettier-ignore
    expect(meshShells(mesh)[0].crowded).to.equal(1);
  });
});
