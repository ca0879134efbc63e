// Closed objects whose faces touch, against Stokes 1862 ("On the intensity of the light reflected from or transmitted
// through a pile of plates"), Beer-Lambert and the white furnace. Light may neither be made nor lost at a common face,
// at any scale and distance, whichever of the faces rounding puts first.
import { expect } from 'chai';
import type { MeshData } from '@dusting/core/formats';
import type { Surface } from '@dusting/core/scene';
import { GLASS, GLOW, MATT, renderTest, slab, sphere, square, type TestObject, type TestScene } from '../scenes.ts';

const R = 0.04;
/** One pane of n = 1.5, and two of them with air between. */
const ONE = (1 - R) / (1 + R);
const TWO = (1 - R) / (1 + 3 * R);

const at = (x: number, y: number, z: number, scale = 1) => [scale, 0, 0, x, 0, scale, 0, y, 0, 0, scale, z];
const moved = (mesh: MeshData, by: number[], scale = 1): MeshData => ({
  ...mesh,
  positions: mesh.positions.map((v, i) => v * scale + by[i % 3]),
});

/** What a camera at z = 10 sees of a glowing wall through objects. */
function through(objects: TestObject[], far = [0, 0, 0], scale = 1) {
  const lamp = { mesh: square(40), surface: GLOW, transform: at(far[0], far[1], far[2] - 5 * scale, scale) };
  return renderTest({
    objects: [...objects, lamp],
    camera: { transform: at(far[0], far[1], far[2] + 10 * scale), verticalAngle: 1 },
    settings: { width: 8, height: 8, pixelSamples: 256 },
  });
}
const within = (r: { mean: number; error: number }, low: number, high: number) =>
  expect(r.mean).to.be.within(low - 4 * r.error - 1e-3, high + 4 * r.error + 1e-3);

describe('touching glass', () => {
  for (const [name, second] of [
    ['same glass', 1.5],
    ['on water', 1.33],
    ['on diamond', 2.4],
  ] as const)
    for (const gap of [0, 1e-9, 1e-7, 1e-6, 1e-5, 1e-4])
      it(`two boxes, ${name}, ${gap} m apart, let through what plates do`, () => {
        const r = through([
          { mesh: slab(30, 0, 1), surface: { ...GLASS, specular_ior: 1.5 } },
          { mesh: slab(30, 1 + gap, 2), surface: { ...GLASS, specular_ior: second } },
        ]);
        // a pile of plates: the sum of R / (1 - R) over its faces (Stokes), with the face between as one or as two
        const share = (n: number) => ((n - 1) / (n + 1)) ** 2;
        const T = (faces: number[]) => 1 / (1 + faces.reduce((sum, f) => sum + f / (1 - f), 0));
        const joined = T([share(1.5), share(second / 1.5), share(second)]);
        const apart = T([share(1.5), share(1.5), share(second), share(second)]);
        within(r, Math.min(joined, apart), Math.max(joined, apart));
        if (gap === 0) within(r, joined, joined);
        if (gap === 1e-4) within(r, apart, apart);
      });

  for (const scale of [1e-3, 1, 1e3])
    for (const far of [
      [0, 0, 0],
      [1e4, 1e4, -1e4],
    ])
      for (const how of ['by its transform', 'in its mesh'] as const)
        it(`a stack of four panes, ${scale} times the size, ${far[0] / 1000} km out ${how}`, () => {
          if (how === 'in its mesh' && scale === 1e-3 && far[0] > 0) return; // finer than the numbers of the mesh
          const panes = [0, 1, 2, 3].map((z): TestObject => {
            const mesh = slab(30, z, z + 1);
            const surface = { ...GLASS, specular_ior: 1.5 };
            if (how === 'in its mesh') return { mesh: moved(mesh, far, scale), surface };
            return { mesh, surface, transform: at(far[0], far[1], far[2], scale) };
          });
          within(through(panes, far, scale), ONE, ONE);
        });

  it('absorption goes on in the second box, of an index near 1', () => {
    const tinted = (color: number, ior: number): Partial<Surface> => ({ ...GLASS, specular_ior: ior, transmission_color: [color, color, color], transmission_depth: 1 }); // prettier-ignore
    for (const ior of [1.0001, 1.001]) {
      const r = through([
        { mesh: slab(30, 0, 1), surface: tinted(0.5, ior) },
        { mesh: slab(30, 1, 2), surface: tinted(0.2, ior) },
      ]);
      within(r, 0.1, 0.1);
    }
  });

  it('liquid that fills its jar exactly is an interface of glass and liquid', () => {
    // the inner wall and the liquid are one mesh, turned over
    const inner = slab(20, 0.25, 1.75);
    const outer = slab(22, 0, 2);
    const count = outer.positions.length / 3;
    const jar: MeshData = {
      ...outer,
      positions: Float32Array.from([...outer.positions, ...inner.positions]),
      indices: Uint32Array.from([...outer.indices, ...[...inner.indices].reverse().map((i) => i + count)]),
    };
    const r = through([
      { mesh: jar, surface: { ...GLASS, specular_ior: 1.5 } },
      { mesh: inner, surface: { ...GLASS, specular_ior: 1.33 } },
    ]);
    const share = (n: number) => ((n - 1) / (n + 1)) ** 2;
    const faces = [1.5, 1.5 / 1.33, 1.5 / 1.33, 1.5].map(share);
    const expected = 1 / (1 + faces.reduce((sum, f) => sum + f / (1 - f), 0));
    within(r, expected, expected);
  });

  const furnace = (objects: TestObject[]) =>
    renderTest({
      objects,
      environment: { color: [1, 1, 1] },
      camera: { transform: [0.8, -0.36, 0.48, 4.8, 0, 0.8, 0.6, 6, -0.6, -0.48, 0.64, 6.4], verticalAngle: 24 },
      settings: { width: 16, height: 16, pixelSamples: 256, depth: { total: 600, transmission: 300, specular: 300 } },
    });
  const white: Partial<Surface> = { ...MATT, base_color: [1, 1, 1] };
  const cube = slab(2, 0, 2);
  const scenes: Record<string, TestObject[]> = {
    'eight cubes that share faces, edges and a corner': [0, 1, 2, 3, 4, 5, 6, 7].map((i) => ({
      mesh: slab(1, 0, 1),
      surface: { ...GLASS, specular_ior: 1.2 + 0.15 * i },
      transform: at((i & 1) - 0.5, ((i >> 1) & 1) - 0.5, (i >> 2) - 1),
    })),
    'a cube of glass on a white floor': [
      { mesh: cube, surface: { ...GLASS, specular_ior: 1.5 } },
      { mesh: square(60), surface: white },
    ],
    'a sheet of glass on a face of a cube': [
      { mesh: slab(2, -1, 0), surface: { ...GLASS, specular_ior: 1.5 } },
      { mesh: square(2), surface: { ...GLASS, geometry_thin_walled: true } },
    ],
    'a frosted sheet on a face of a cube': [
      { mesh: slab(2, -1, 0), surface: { ...GLASS, specular_ior: 1.5 } },
      { mesh: square(2), surface: { ...GLASS, geometry_thin_walled: true, specular_roughness: 0.8 } },
    ],
    'a cube with holes on a cube of glass': [
      { mesh: slab(2, 0, 1), surface: { ...white, geometry_opacity: 0.5 } },
      { mesh: slab(2, -1, 0), surface: { ...GLASS, specular_ior: 1.5 } },
    ],
    'a ball in a ball of the same size': [
      { mesh: sphere(1.5), surface: { ...GLASS, specular_ior: 1.5 } },
      { mesh: sphere(1.5), surface: { ...GLASS, specular_ior: 1.33 } },
    ],
    'water in a glass of its own size, of lower priority, on a white plate': [
      { mesh: cube, surface: { ...GLASS, specular_ior: 1.33 } },
      { mesh: cube, surface: { ...GLASS, specular_ior: 1.5, medium_priority: 2 } },
      { mesh: slab(2, -0.5, 0), surface: white },
    ],
  };
  for (const [name, objects] of Object.entries(scenes))
    it(`a white furnace stays white within 0.5 %: ${name}`, () => {
      const r = furnace(objects);
      expect(r.mean).to.be.closeTo(1, Math.max(0.005, 3 * r.error));
      expect(r.error, 'the mean is known well enough').to.be.below(0.002);
    });

  it('what lies exactly where a ray passes a hole is not passed with it', () => {
    // two black faces with holes, and a wall that glows, on one place: in whatever order, a quarter and more is left
    const holes: Partial<Surface> = { ...MATT, base_color: [0, 0, 0], geometry_opacity: 0.5 };
    const r = renderTest({
      objects: [
        { mesh: slab(10, 0, 1), surface: holes },
        { mesh: square(60), surface: GLOW },
      ],
      camera: { transform: at(0, 0, 13), verticalAngle: 10 },
      settings: { width: 16, height: 16, pixelSamples: 64 },
    });
    expect(r.mean).to.be.within(0.25 - 3 * r.error, 0.5);
  });

  describe('shadows of what has holes', () => {
    const holes: Partial<Surface> = { ...MATT, base_color: [0, 0, 0], geometry_opacity: 0.5 };
    const sky = { environment: { color: [1, 1, 1] } };
    const sun = { lights: [{ kind: 'sun' as const, strength: 1, transform: at(0, 0, 5) }] };
    const below = (meshes: MeshData[], lit: Pick<TestScene, 'environment' | 'lights'>, others: TestObject[] = []) =>
      renderTest({
        ...lit,
        objects: [{ mesh: square(6), surface: white }, ...meshes.map((mesh) => ({ mesh, surface: holes })), ...others],
        camera: { transform: at(0, 0, 0.9), verticalAngle: 40 },
        settings: { width: 16, height: 16, pixelSamples: 64, depth: { diffuse: 1, specular: 1, transmission: 8, volume: 0, total: 9 } }, // prettier-ignore
      });
    const sheet = (z: number) => square(40, z);
    const indices = [...sheet(1).indices];
    const leaf: MeshData = { ...sheet(1), indices: Uint32Array.from([...indices, ...indices.toReversed()]) };
    const far = { mesh: slab(1, 0, 1), surface: GLASS, transform: at(50, 0, 0) };

    for (const [name, lit] of Object.entries({ 'a sun': sun, 'a white sky': sky }))
      for (const [what, meshes, others, left] of [
        ['two sheets that lie apart', [sheet(1), sheet(1.1)], [], 0.25],
        ['two sheets on one place', [sheet(1), sheet(1)], [], 0.25],
        ['two sheets on one place, with glass elsewhere', [sheet(1), sheet(1)], [far], 0.25],
        ['the two sides of a leaf', [leaf], [], 0.5],
        ['the two sides of a leaf, with glass elsewhere', [leaf], [far], 0.5],
      ] as const)
        it(`${what} leave ${left} of the light of ${name}`, () => {
          const open = below([], lit).mean;
          const { error, mean } = below([...meshes], lit, [...others]);
          // the sky is seen past the edges of the sheets, 20 m away
          expect(mean / open).to.be.closeTo(left, 0.01 + (3 * error) / open);
        });
  });

  it('and a gap between is no common face: two panes', () =>
    within(through([slab(30, 0, 1), slab(30, 2, 3)].map((mesh) => ({ mesh, surface: GLASS }))), TWO, TWO));
});
