// Every answer of both forms is compared with the test of every triangle, one by one, and the forms with each other.
// Woop, Benthin & Wald 2013, "Watertight Ray/Triangle Intersection": no ray passes between neighbours.
import { expect } from 'chai';
import { determinant, hashUnit, kernelRuns, transformDirection, transformPoint } from '@dusting/core/math';
import {
  ALL_RAYS,
  buildRayScene,
  emptyHit,
  MOST_HITS,
  moveInstances,
  openRayQuery,
  plainBuffer,
  sharedBuffer,
  type MeshInstance,
  type RayQuery,
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
const shifted = (x: number, y = 0, z = 0) => [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z];
const still = [
  { mesh: 0, transform: IDENTITY },
  { mesh: 0, transform: turned },
  { mesh: 1, transform: [-1, 0, 0, 3, 0, 1, 0, 0, 0, 0, 1, 0] },
];
const meshes = [soup(300, 5), sphere(1, 24)];
type Vector = [number, number, number];
const minus = (a: ArrayLike<number>, b: ArrayLike<number>) => [0, 1, 2].map((k) => a[k] - b[k]) as Vector;
const cross = (u: Vector, v: Vector): Vector => [
  u[1] * v[2] - u[2] * v[1],
  u[2] * v[0] - u[0] * v[2],
  u[0] * v[1] - u[1] * v[0],
];
const dot = (u: Vector, v: Vector) => u[0] * v[0] + u[1] * v[1] + u[2] * v[2];

function closestByAll(instances: MeshInstance[], o: Vector, d: Vector) {
  let best = { t: Infinity, instance: -1, triangle: -1, front: false };
  instances.forEach(({ mesh, transform }, instance) => {
    const { positions, indices } = meshes[mesh];
    for (let t = 0; t < indices.length / 3; t++) {
      const [a, b, c] = [0, 1, 2].map((k) =>
        transformPoint(transform, positions.subarray(indices[t * 3 + k] * 3, indices[t * 3 + k] * 3 + 3)),
      );
      const [e1, e2, s] = [minus(b, a), minus(c, a), minus(o, a)];
      const p = cross(d, e2);
      const det = dot(e1, p);
      const q = cross(s, e1);
      const [u, v, at] = [dot(s, p) / det, dot(d, q) / det, dot(e2, q) / det];
      if (u >= 0 && v >= 0 && u + v <= 1 && at > 0 && at < best.t)
        best = { t: at, instance, triangle: t, front: det * determinant(transform) > 0 }; // winding is that of the mesh, whatever mirrors it
    }
  });
  return best;
}

const ray = (i: number): [Vector, Vector] => {
  const r = (k: number) => hashUnit(i * 6 + k + 99991) * 2 - 1;
  const o: Vector = [r(0) * 4, r(1) * 4, r(2) * 4];
  return [o, [r(3) - o[0] * 0.4, r(4) - o[1] * 0.4, r(5) - o[2] * 0.4]];
};
const hit = emptyHit();
const anyAt = (query: RayQuery, o: Vector, d: Vector, tMax = Infinity, mask = ALL_RAYS, time = 0) =>
  query.anyHit(...o, ...d, 0, tMax, mask, time);
const closestAt = (query: RayQuery, o: Vector, d: Vector, mask = ALL_RAYS, time = 0) =>
  query.closestHit(...o, ...d, 0, Infinity, mask, time, 0, hit);

const forms = kernelRuns() ? (['kernel', 'plain'] as const) : (['plain'] as const);
for (const form of forms)
  describe(`ray queries, ${form} form`, () => {
    const open = (m: TriangleMesh[], i: MeshInstance[]) => openRayQuery(buildRayScene(m, i, plainBuffer, form));

    it('closest and any hit agree with all triangles of all instances, before and after a move', () => {
      const scene = buildRayScene(meshes, still, sharedBuffer, form);
      const query = openRayQuery(scene, 3);
      let found = 0;
      for (const instances of [
        still,
        still.map((s, i) => ({ ...s, transform: i === 1 ? shifted(1.5) : s.transform })),
      ]) {
        moveInstances(scene, instances);
        for (let i = 0; i < 800; i++) {
          const [o, d] = ray(i);
          const expected = closestByAll(instances, o, d);
          const any = closestAt(query, o, d);
          expect(any).to.equal(expected.instance >= 0);
          expect(anyAt(query, o, d)).to.equal(any);
          if (!any) continue;
          found++;
          expect(hit.t).to.be.closeTo(expected.t, 1e-9 * (1 + expected.t));
          expect([hit.instance, hit.triangle, hit.front]).to.deep.equal([expected.instance, expected.triangle, expected.front]); // prettier-ignore
          expect(anyAt(query, o, d, expected.t * (1 - 1e-9))).to.equal(false);
        }
      }
      expect(found).to.be.above(500);
    });

    it('axis-parallel rays, with zero and negative zero components, meet flat meshes', () => {
      const flat = open([square(2)], [{ mesh: 0, transform: IDENTITY }]);
      for (const zero of [0, -0]) {
        expect(closestAt(flat, [0.25, 1, 3], [zero, zero, -1])).to.equal(true);
        expect(hit.t).to.equal(3);
        expect(anyAt(flat, [0.25, 1.01, 3], [zero, zero, -1])).to.equal(false);
      }
    });

    it('all hits between two distances are those that closest hits find one after the other', () => {
      const query = open(meshes, still);
      const hits = Array.from({ length: MOST_HITS }, emptyHit);
      let most = 0;
      for (let i = 0; i < 400; i++) {
        const [o, d] = ray(i);
        const chain: [number, boolean][] = [];
        for (let t = 0; query.closestHit(...o, ...d, t, 3, ALL_RAYS, 0, 0, hit); t = hit.t)
          chain.push([hit.t, hit.front]);
        const count = query.allHits(...o, ...d, 0, 3, ALL_RAYS, 0, hits);
        const all = hits.slice(0, count).map((h): [number, boolean] => [h.t, h.front]);
        expect(all.sort((a, b) => a[0] - b[0])).to.deep.equal(chain);
        most = Math.max(most, count);
      }
      expect(most).to.be.above(4);
    });

    it('a hit is crowded where another lies close behind it, at the same place even', () => {
      const stack = (gap: number) => open([square(2)], [0, gap, 1].map((z) => ({ mesh: 0, transform: shifted(0, 0, -z) }))); // prettier-ignore
      for (const [gap, behind, crowded] of [
        [0, 0, true],
        [0, 0.1, true],
        [0.05, 0.1, true],
        [0.2, 0.1, false],
      ] as const)
        // prettier-ignore
        for (const o of [[0.3, 0.1, 5], [0.1, -0.2, 700]] as Vector[]) {
          expect(stack(gap).closestHit(...o, 0, 0, -1, 0, Infinity, ALL_RAYS, 0, behind, hit)).to.equal(true);
          expect([hit.t, hit.crowded]).to.deep.equal([o[2], crowded]);
        }
    });

    it('no ray slips through the edges of a closed mesh', () => {
      const ball = open([sphere(1, 48)], [{ mesh: 0, transform: turned }]);
      const { positions, indices } = sphere(1, 48);
      const centre = transformPoint(turned, [0, 0, 0]) as Vector;
      for (let t = 0; t < indices.length; t += 3) {
        // from the centre through corners and edges
        const [a, b] = [0, 1].map((c) => positions.subarray(indices[t + c] * 3, indices[t + c] * 3 + 3));
        for (const share of [0, 0.5, 1 / 3, hashUnit(t)]) {
          const target = [...a].map((v, k) => v + share * (b[k] - v));
          expect(anyAt(ball, centre, transformDirection(turned, target) as Vector, 2)).to.equal(true);
        }
      }
    });

    it('a ray leaves the large triangle that it starts just above, and not through it', () => {
      const floor = open([square(4000)], [{ mesh: 0, transform: IDENTITY }]);
      for (let i = 0; i < 200; i++) {
        const [x, y] = [hashUnit(i) - 0.5, hashUnit(i + 500) - 0.5];
        const d: Vector = [Math.cos(i), Math.sin(i), 1e-3 + hashUnit(i + 900)];
        expect(anyAt(floor, [x, y, 1e-6], d)).to.equal(false);
        expect(anyAt(floor, [x, y, -1e-6], d)).to.equal(true);
      }
    });

    it('masks hide instances from kinds of rays', () => {
      const two = open([square(2)], [{ mesh: 0, transform: IDENTITY, mask: 1 }, { mesh: 0, transform: shifted(0, 0, -1), mask: 6 }]); // prettier-ignore
      const seen = [1, 2, 4, 8].map((mask) => (closestAt(two, [0, 0, 3], [0, 0, -1], mask) ? hit.t : null));
      expect(seen).to.deep.equal([3, 4, 4, null]);
      expect(anyAt(two, [0, 0, 3], [0, 0, -1], 3.5, 2)).to.equal(false);
    });

    it('moving and deforming meshes stand where they are at the time of the ray', () => {
      const deforming = { ...square(2), laterPositions: [square(2, 0.5).positions, square(2, 2).positions] };
      const moving = open(
        [square(2), deforming],
        [
          { mesh: 0, transform: shifted(0), laterTransforms: [shifted(4)] },
          { mesh: 1, transform: shifted(20) },
        ],
      );
      for (const time of [0, 0.25, 0.5, 0.8, 1]) {
        expect(closestAt(moving, [4 * time + 0.9, 0.3, 1], [0, 0, -1], ALL_RAYS, time)).to.equal(true);
        expect(hit.u).to.be.within(0, 1);
        expect(anyAt(moving, [4 * time + 1.1, 0.3, 1], [0, 0, -1], 9, ALL_RAYS, time)).to.equal(false);
        expect(closestAt(moving, [20, 0.1, 5], [0, 0, -1], ALL_RAYS, time)).to.equal(true);
        const height = time < 0.5 ? time : 0.5 + 3 * (time - 0.5);
        expect(hit.t).to.be.closeTo(5 - height, 1e-6);
      }
    });

    it('empty, coinciding, flat and broken triangles are harmless', () => {
      expect(anyAt(open([], []), [0, 0, 0], [0, 0, 1])).to.equal(false);
      const empty = { positions: new Float32Array(0), indices: new Uint32Array(0) };
      const same = { positions: square(1).positions, indices: new Uint32Array(90000).map((_, i) => [0, 1, 2][i % 3]) };
      const broken = { positions: new Float32Array([0, 0, 0, NaN, 0, 0, 1, 1, 0, Infinity, 1, 0, 5, 0, 0, 5, 0, 0]), indices: new Uint32Array([0, 1, 2, 0, 3, 2, 4, 5, 4]) }; // prettier-ignore
      const query = open(
        [empty, same, broken],
        [0, 1, 2].map((mesh) => ({ mesh, transform: IDENTITY })),
      );
      expect(closestAt(query, [0.1, -0.1, 1], [0, 0, -1])).to.equal(true);
      expect([hit.instance, hit.t]).to.deep.equal([1, 1]);
      expect(anyAt(query, [5, 0, 1], [0, 0, -1])).to.equal(false);
      expect(() => open([{ ...empty, indices: new Uint32Array([0, 0, 0]) }], [])).to.throw(RangeError);
    });

    it('tiny, huge and far scenes are met', () => {
      for (const [scale, away] of [
        [1e-4, 0],
        [1e6, 0],
        [1, 1e4],
      ]) {
        // prettier-ignore
        const transform = [scale, 0, 0, away, 0, scale, 0, 0, 0, 0, scale, 0];
        const ball = open([sphere(1, 96)], [{ mesh: 0, transform }]);
        for (let i = 0; i < 300; i++) {
          const d = ray(i)[1];
          const length = Math.hypot(...d);
          expect(closestAt(ball, [away, 0, 0], d)).to.equal(true);
          expect((hit.t * length) / scale).to.be.within(0.998, 1.0001);
        }
      }
    });
  });

if (forms.length === 2)
  it('both forms of ray queries give the same hits on a dense mesh', () => {
    const dense = sphere(1, 300);
    for (let i = 0; i < dense.positions.length; i++) dense.positions[i] *= 1 + 0.02 * hashUnit(Math.floor(i / 3));
    const instances = [{ mesh: 0, transform: turned }];
    const [a, b] = forms.map((form) => openRayQuery(buildRayScene([dense], instances, plainBuffer, form)));
    let found = 0;
    for (let i = 0; i < 6000; i++) {
      const [o, d] = ray(i);
      const other = closestAt(b, o, d) && { ...hit };
      expect(closestAt(a, o, d)).to.equal(other !== false);
      if (!other) continue;
      found++;
      expect([hit.triangle, hit.instance, hit.front]).to.deep.equal([other.triangle, other.instance, other.front]);
      expect([hit.t, hit.u, hit.v].map((x) => x.toFixed(7))).to.deep.equal([other.t, other.u, other.v].map((x) => x.toFixed(7))); // prettier-ignore
    }
    expect(found).to.be.above(1000);
  });
