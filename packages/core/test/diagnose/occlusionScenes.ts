// Scenes for the occlusion diagnosis: a room with crates, the same under the open sky, and what is put over them.
import { DIAGNOSES } from '@dusting/core/diagnose';
import type { MeshData } from '@dusting/core/formats';
import { frameOf } from '@dusting/core/render';
import { patchShot, type Patch, type RenderSettings } from '@dusting/core/scene';
import { contextOf, explained, renderShot } from '../diagnosisBench.ts';
import { makeShot, MATT, square, type TestObject, type TestScene } from '../scenes.ts';

export const mesh = (positions: number[], indices: number[]): MeshData => ({ positions: Float32Array.from(positions), normals: null, uvs: null, indices: Uint32Array.from(indices) }); // prettier-ignore
export function disc(radius: number, z: number): MeshData {
  const SIDES = 180;
  const corners = Array.from({ length: SIDES }, (_, i) => [radius * Math.cos((2 * Math.PI * i) / SIDES), radius * Math.sin((2 * Math.PI * i) / SIDES), z]).flat(); // prettier-ignore
  return mesh([0, 0, z, ...corners], Array.from({ length: SIDES }, (_, i) => [0, 1 + i, 1 + ((i + 1) % SIDES)]).flat());
}
export function box([x0, y0, z0]: number[], [x1, y1, z1]: number[]): MeshData {
  const p = [z0, z1].flatMap((z) => [x0, y0, z, x1, y0, z, x1, y1, z, x0, y1, z]);
  const quads = [[3, 2, 1, 0], [4, 5, 6, 7], [0, 1, 5, 4], [1, 2, 6, 5], [2, 3, 7, 6], [3, 0, 4, 7]]; // prettier-ignore
  return mesh(p, quads.flatMap(([a, b, c, d]) => [a, b, c, a, c, d])); // prettier-ignore
}
export const over = (more: MeshData, surface: TestObject['surface'] = MATT): TestObject => ({ mesh: more, surface, flags: { seenByCamera: false } }); // prettier-ignore

/** A room of 4 by 4 by 2.4 m with crates, from inside. */
export const crates: TestObject[] = [[-1, -1, 0.6], [0.3, -0.8, 0.4], [0.9, 0.9, 0.8]].map(([x, y, side]) => ({ mesh: box([x, y, 0], [x + side, y + side, side]), surface: MATT })); // prettier-ignore
export const room: TestObject = { mesh: box([-2, -2, 0], [2, 2, 2.4]), surface: MATT };
export const ground: TestObject = { mesh: square(60), surface: MATT };
// from (0, -1.9, 1.7) along +Y, a little down
export const camera = { verticalAngle: 60, transform: [1, 0, 0, 0, 0, 0.4, -0.9165, -1.9, 0, 0.9165, 0.4, 1.7] };
export const LAYER: RenderSettings['occlusion'] = {
  samples: 16,
  distance: 0.7,
  falloff: 0,
  cone: 90,
  clearSurfaces: true,
};
export const scene = (objects: TestObject[], occlusion: Partial<typeof LAYER> = {}): TestScene => ({ objects, camera, environment: { color: [1, 1, 1] }, settings: { width: 32, height: 18, pixelSamples: 16, depth: { diffuse: 0, specular: 0, transmission: 0, volume: 0, total: 0 }, occlusion: { ...LAYER, ...occlusion } } }); // prettier-ignore

export async function diagnosed(of: TestScene) {
  const { blobs, document } = makeShot(of);
  const context = contextOf(document, blobs, { noise: { limit: 3, stops: 1 } });
  context.scene!.render = () => Promise.reject(new Error('no render is needed'));
  const result = await explained('occlusion', context);
  /** What the measures of a remedy become, rendered. */
  const tried = (patch: Patch) => DIAGNOSES.occlusion!.measure(renderShot(patchShot(document, patch), blobs).picture, frameOf(document.final), 1); // prettier-ignore
  return { result, tried, context };
}
