// A ball of radius r moved by s along its normals is one of radius r + s. Sides of a seam that read a and b part by s |a - b|.
// Catmull & Clark 1978: a cube has 24 x 4^(n-1) faces at level n.
import { expect } from 'chai';
import {
  controlMesh,
  displacedMesh,
  meshShells,
  plainShape,
  subdividedMesh,
  trianglesAt,
} from '@dusting/core/geometry';
import { sphere, square } from '../scenes.ts';
import { ring } from '../paintMap.ts';

const height = { kind: 'height', neutral: 0.5, scale: 0.1 } as const;

describe('displaced meshes', () => {
  it('a ball that reads 1 around a neutral value of a half grows by half of the scale, its normals stay', () => {
    const ball = plainShape(sphere(0.4, 48));
    const uvs = new Float32Array((ball.positions.length / 3) * 2);
    const { normals, positions } = displacedMesh(ball, uvs, (_u, _v, _w, out) => out.fill(1), height);
    for (let i = 0; i < positions.length; i += 3) {
      expect(Math.hypot(...positions.subarray(i, i + 3))).to.be.closeTo(0.45, 1e-5);
      const along = [0, 1, 2].reduce((sum, k) => sum + normals[i + k] * ball.normals[i + k], 0);
      expect(along).to.be.above(0.99);
    }
  });

  it('a vector map moves along the axes of the object, or along U, V upwards and the normal', () => {
    const flat = plainShape(square(1));
    const move = (kind: 'objectVector' | 'tangentVector') => {
      const read = (_u: number, _v: number, _w: number, out: Float64Array) => out.set([0.6, 0.8, 1, 1]);
      const { positions } = displacedMesh(flat, flat.uvs!, read, { ...height, kind });
      return [0, 1, 2].map((k) => positions[k] - flat.positions[k]);
    };
    // U runs along X, V upwards along Y, the normal along Z
    for (const kind of ['objectVector', 'tangentVector'] as const)
      move(kind).forEach((value, k) => expect(value, kind).to.be.closeTo([0.01, 0.03, 0.05][k], 1e-6));
  });

  it('the sides of a seam part by scale times the difference of what they read', () => {
    const body = subdividedMesh(ring(), 1, { uvRule: 'boundaries' });
    // a ramp in U: the borders of the layout read 0.1 and 0.89
    const { positions } = displacedMesh(body, body.uvs!, (u, _v, _w, out) => out.fill(u), height);
    let most = 0;
    const first = new Map<number, number>();
    body.owner.forEach((point, v) => {
      const other = first.get(point);
      if (other === undefined) return first.set(point, v);
      return (most = Math.max(most, Math.hypot(...[0, 1, 2].map((k) => positions[v * 3 + k] - positions[other * 3 + k])))); // prettier-ignore
    });
    expect(most).to.be.closeTo(0.1 * 0.79, 1e-5);
  });

  it('quads that a file cut into triangles are put together, and counted as what they become', () => {
    const control = controlMesh(ring());
    expect([control.joined, control.faceStart.length - 1, control.positions.length / 3]).to.deep.equal([288, 288, 288]);
    const body = subdividedMesh(ring(), 2);
    expect(body.indices.length / 3).to.equal(288 * 16 * 2);
    expect(trianglesAt(control, 2)).to.equal(288 * 16 * 2);
    expect(body.points).to.equal(288 * 16);
    expect(() => subdividedMesh(ring(), 8)).to.throw(/8 levels of subdivision make 37\.7 million triangles/);
  });

  it('a closed body stays closed, and turned outwards', () => {
    const { indices, owner, points, positions } = subdividedMesh(ring(), 2);
    const places = new Float32Array(points * 3);
    owner.forEach((point, v) => places.set(positions.subarray(v * 3, v * 3 + 3), point * 3));
    const [shell] = meshShells({ positions: places, indices: indices.map((v) => owner[v]) });
    expect([shell.rim, shell.turned, shell.crowded]).to.deep.equal([0, 0, 0]);
    // Pappus: 2 pi R times pi r^2, a little less for what subdivision pulls in
    expect(shell.volume / (2 * Math.PI * 0.3 * Math.PI * 0.12 ** 2)).to.be.within(0.85, 1);
  });

  it('a mesh that moves by itself is subdivided at each of its times in the same order', () => {
    const still = ring();
    const raised = still.positions.map((x, i) => (i % 3 === 2 ? x + 0.1 : x));
    const [first, later] = [still.positions, raised].map((positions) => subdividedMesh({ ...still, positions }, 2, {}, still.positions)); // prettier-ignore
    expect(later.indices).to.deep.equal(first.indices);
    for (let i = 2; i < first.positions.length; i += 3) expect(later.positions[i] - first.positions[i]).to.be.closeTo(0.1, 1e-5); // prettier-ignore
  });
});
