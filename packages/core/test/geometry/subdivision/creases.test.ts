import { displacedMesh, subdividedMesh } from '@dusting/core/geometry';
import type { MeshData } from '@dusting/core/formats';
import { expect } from 'chai';

const SIDES = 8;
const [BOTTOM, TOP] = [-0.5, 0.5];

/** A drum: quads around, a polygon at each end. The map is laid on it from above, somewhat askew. */
function drum(): MeshData {
  const positions: number[] = [];
  const uvs: number[] = [];
  const indices: number[] = [];
  const faceSizes: number[] = [];
  const point = (i: number, y: number) => {
    const t = (2 * Math.PI * (i % SIDES)) / SIDES;
    const [x, z] = [Math.cos(t), -Math.sin(t)];
    uvs.push(0.5 + 0.4 * x + 0.1 * y, 0.5 + 0.4 * z);
    return positions.push(x, y, z) / 3 - 1;
  };
  for (let i = 0; i < SIDES; i++) {
    const face = [point(i, BOTTOM), point(i + 1, BOTTOM), point(i + 1, TOP), point(i, TOP)];
    indices.push(face[0], face[1], face[2], face[0], face[2], face[3]);
    faceSizes.push(4);
  }
  for (const [y, turn] of [[BOTTOM, -1], [TOP, 1]]) {
    const rim = Array.from({ length: SIDES }, (_, i) => point(turn * i + SIDES, y));
    for (let i = 1; i + 1 < SIDES; i++) indices.push(rim[0], rim[i], rim[i + 1]);
    faceSizes.push(SIDES);
  } // prettier-ignore
  return { positions: Float32Array.from(positions), normals: null, uvs: Float32Array.from(uvs), indices: Uint32Array.from(indices), faceSizes: Uint8Array.from(faceSizes) }; // prettier-ignore
}

/** Largest distance between vertices of one point. */
function apart({ owner, positions }: ReturnType<typeof subdividedMesh>): number {
  const first = new Map<number, number>();
  let most = 0;
  owner.forEach((point, v) => {
    const other = first.get(point) ?? v;
    first.set(point, other);
    most = Math.max(most, Math.hypot(...[0, 1, 2].map((k) => positions[v * 3 + k] - positions[other * 3 + k])));
  });
  return most;
}

describe('creases of subdivided bodies', () => {
  it('each side is shaded by a normal of its own: the ends of a drum are flat, its mantle stands upright to the rim', () => {
    const { directions, indices, normals, positions } = subdividedMesh(drum(), 3, { creaseAngle: 60 });
    let [flat, upright] = [0, 0];
    for (let t = 0; t < indices.length; t += 3) {
      const corners = [...indices.subarray(t, t + 3)];
      const isEnd = corners.every((v) => Math.abs(Math.abs(positions[v * 3 + 1]) - 0.5) < 1e-6);
      for (const v of corners) {
        const [x, y, z] = normals.subarray(v * 3, v * 3 + 3);
        if (isEnd) flat = Math.max(flat, Math.hypot(x, z));
        else upright = Math.max(upright, Math.abs(y));
        // outwards
        expect(isEnd ? y * positions[v * 3 + 1] : x * positions[v * 3] + z * positions[v * 3 + 2]).to.be.above(0.1);
      }
    }
    expect([flat, upright].every((off) => off < 1e-6)).to.equal(true, `${flat}, ${upright}`);
    const rim = [...indices].find((v) => Math.abs(positions[v * 3 + 1] - 0.5) < 1e-6 && normals[v * 3 + 1] < 0.5)!;
    // halfway between both sides
    expect(directions[rim * 3 + 1]).to.be.closeTo(Math.SQRT1_2, 1e-6);
  });

  it('without creases there is one normal a point', () => {
    const { copies, directions, normals } = subdividedMesh(drum(), 2);
    expect([copies.length, directions]).to.deep.equal([0, normals]);
  });

  it('displaced, the sides of a crease stay together, and stay two sides', () => {
    const shape = subdividedMesh(drum(), 3, { creaseAngle: 60 });
    expect(shape.copies.length).to.be.above(0);
    const patterned = (u: number, v: number, footprint: number, out: Float64Array) => out.fill(Math.sin(9 * u) * Math.cos(5 * v) + footprint); // prettier-ignore
    for (const kind of ['height', 'tangentVector'] as const) {
      const even = displacedMesh(shape, shape.uvs!, (_u, _v, _f, out) => out.fill(1), {
        kind,
        scale: 0.02,
        neutral: 0,
      });
      if (kind === 'height') expect(apart(even)).to.be.below(1e-6);
      const moved = displacedMesh(shape, shape.uvs!, patterned, { kind, scale: 0.02, neutral: 0 });
      // a vertex and what repeats it across the crease
      const own = moved.positions.length / 3 - moved.copies.length;
      moved.copies.forEach((v, i) => expect(moved.positions.subarray((own + i) * 3, (own + i) * 3 + 3)).to.deep.equal(moved.positions.subarray(v * 3, v * 3 + 3))); // prettier-ignore
    }
    const raised = displacedMesh(shape, shape.uvs!, (_u, _v, _f, out) => out.fill(1), { kind: 'height', scale: 0.001, neutral: 0 }); // prettier-ignore
    for (let v = 0; v < raised.normals.length; v++) expect(raised.normals[v]).to.be.closeTo(shape.normals[v], 0.1);
  });

  it('a body that bends by itself keeps the creases of its first time', () => {
    const rest = drum();
    const bent = rest.positions.map((x, i) => (i % 3 === 1 ? x * (1 + 2 * rest.positions[i - 1]) : x));
    const [first, later] = [rest.positions, bent].map((positions) => subdividedMesh({ ...rest, positions }, 2, { creaseAngle: 60 }, rest.positions)); // prettier-ignore
    expect(later.indices).to.deep.equal(first.indices);
    expect(later.copies).to.deep.equal(first.copies);
  });
});
