// Every answer is compared with the test of every triangle, one by one.
import { expect } from 'chai';
import { hashUnit, transformDirection, transformPoint } from '@dusting/core/math';
import {
  buildRayScene,
  emptyHit,
  mountRayScene,
  plainBuffer,
  PlainRayQuery,
  sharedBuffer,
  type TriangleMesh,
} from '@dusting/core/trace';
import { IDENTITY, sphere, square } from '../scenes.ts';

const soup = (count: number, seed: number): TriangleMesh => {
  const positions = new Float32Array(count * 9);
  for (let t = 0; t < count; t++)
    for (let k = 0; k < 9; k++)
      positions[t * 9 + k] = 4 * hashUnit(seed + t * 3 + (k % 3) * 7919) - 2 + 0.6 * hashUnit(seed ^ (t * 9 + k));
  return { positions, indices: Uint32Array.from({ length: count * 3 }, (_, i) => i) };
};
const turned = [0.8, -0.6, 0, 0.5, 0.6, 0.8, 0, -1, 0, 0, 1.5, 0.25];
const instances = [
  { mesh: 0, transform: IDENTITY },
  { mesh: 0, transform: turned },
  { mesh: 1, transform: [-1, 0, 0, 3, 0, 1, 0, 0, 0, 0, 1, 0] },
];
const meshes = [soup(300, 5), sphere(1, 24)];

function closestByAll(o: number[], d: number[]) {
  let best = { t: Infinity, instance: -1, triangle: -1 };
  instances.forEach(({ mesh, transform }, instance) => {
    const { positions, indices } = meshes[mesh];
    for (let t = 0; t < indices.length / 3; t++) {
      const [a, b, c] = [0, 1, 2].map((k) =>
        transformPoint(transform, positions.subarray(indices[t * 3 + k] * 3, indices[t * 3 + k] * 3 + 3)),
      );
      const e1 = b.map((v, k) => v - a[k]);
      const e2 = c.map((v, k) => v - a[k]);
      const cross = (u: number[], v: number[]) => [
        u[1] * v[2] - u[2] * v[1],
        u[2] * v[0] - u[0] * v[2],
        u[0] * v[1] - u[1] * v[0],
      ];
      const dot = (u: number[], v: number[]) => u[0] * v[0] + u[1] * v[1] + u[2] * v[2];
      const p = cross(d, e2);
      const det = dot(e1, p);
      const s = o.map((v, k) => v - a[k]);
      const u = dot(s, p) / det;
      const q = cross(s, e1);
      const v = dot(d, q) / det;
      const at = dot(e2, q) / det;
      if (u >= 0 && v >= 0 && u + v <= 1 && at > 0 && at < best.t) best = { t: at, instance, triangle: t };
    }
  });
  return best;
}

describe('ray queries', () => {
  const scene = buildRayScene(meshes, instances, sharedBuffer);
  const query = new PlainRayQuery(mountRayScene(scene.buffer));
  const hit = emptyHit();
  const ray = (i: number) => {
    const r = (k: number) => hashUnit(i * 6 + k + 99991) * 2 - 1;
    const o = [r(0) * 4, r(1) * 4, r(2) * 4];
    return { o, d: [r(3) - o[0] * 0.4, r(4) - o[1] * 0.4, r(5) - o[2] * 0.4] };
  };

  it('closest and any hit agree with all triangles of all instances', () => {
    let found = 0;
    for (let i = 0; i < 1500; i++) {
      const { o: [ox, oy, oz], d: [dx, dy, dz] } = ray(i); // prettier-ignore
      const expected = closestByAll([ox, oy, oz], [dx, dy, dz]);
      const any = query.closestHit(ox, oy, oz, dx, dy, dz, 0, Infinity, hit);
      expect(any).to.equal(expected.instance >= 0);
      expect(query.anyHit(ox, oy, oz, dx, dy, dz, 0, Infinity)).to.equal(any);
      if (!any) continue;
      found++;
      expect(hit.t).to.be.closeTo(expected.t, 1e-9 * (1 + expected.t));
      expect([hit.instance, hit.triangle]).to.deep.equal([expected.instance, expected.triangle]);
      expect(query.anyHit(ox, oy, oz, dx, dy, dz, 0, expected.t * (1 - 1e-9))).to.equal(false);
    }
    expect(found).to.be.above(500);
  });

  it('axis-parallel rays, with zero and negative zero components, meet flat meshes', () => {
    const flat = new PlainRayQuery(buildRayScene([square(2)], [{ mesh: 0, transform: IDENTITY }], plainBuffer));
    for (const zero of [0, -0]) {
      expect(flat.closestHit(0.25, 1, 3, zero, zero, -1, 0, Infinity, hit)).to.equal(true);
      expect(hit.t).to.equal(3);
      expect(flat.anyHit(0.25, 1.01, 3, zero, zero, -1, 0, Infinity)).to.equal(false);
    }
  });

  it('no ray slips through the edges of a closed mesh', () => {
    const ball = new PlainRayQuery(buildRayScene([sphere(1, 48)], [{ mesh: 0, transform: turned }], plainBuffer));
    const { positions, indices } = sphere(1, 48);
    const centre = transformPoint(turned, [0, 0, 0]);
    for (let t = 0; t < indices.length; t += 3) {
      // from the centre through corners and edge middles
      const [a, b] = [
        positions.subarray(indices[t] * 3, indices[t] * 3 + 3),
        positions.subarray(indices[t + 1] * 3, indices[t + 1] * 3 + 3),
      ];
      for (const target of [a, a.map((v, k) => (v + b[k]) / 2)]) {
        const d = transformDirection(turned, target);
        expect(ball.anyHit(...centre, ...d, 0, 2)).to.equal(true);
      }
    }
  });

  it('an empty scene, and coinciding triangles, are harmless', () => {
    expect(new PlainRayQuery(buildRayScene([], [], plainBuffer)).anyHit(0, 0, 0, 0, 0, 1, 0, 9)).to.equal(false);
    const same = { positions: square(1).positions, indices: new Uint32Array(900).map((_, i) => [0, 1, 2][i % 3]) };
    const query300 = new PlainRayQuery(buildRayScene([same], [{ mesh: 0, transform: IDENTITY }], plainBuffer));
    expect(query300.closestHit(0.1, -0.1, 1, 0, 0, -1, 0, 9, hit)).to.equal(true);
    expect(() => mountRayScene(new ArrayBuffer(64))).to.throw(TypeError);
  });
});
