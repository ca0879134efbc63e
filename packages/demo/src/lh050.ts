// LH-050: the apiary yard in the evening, rows of hives up to 400 m away under a low sun.
//
// What is wrong with it, on purpose: one hive casts no shadow, the fence receives none, and a second sun, stronger than the
// first and from behind the camera, fills the shadows of all the others. The shadow of the tall mast beside the yard is cut off by
// the range of the sun's shadows, the work lamp beside the skep is linked to the hives alone, the hop poles behind the last hives lie
// beyond the far distance of the camera, and all of it lies 9 km from the origin.
import type { ImportFile } from '@dusting/core/scene';
import { GltfScene } from './gltfScene.ts';
import { woodPng } from './pictures.ts';
import { box, join, lathe, type Shape } from './shapes.ts';

/** Where the surveyor's grid put the yard, metres. */
const [EAST, SOUTH] = [6400, -6400];
/** Along X, metres; Z goes towards the camera. */
const ROWS: [first: number, gap: number, count: number, z: number][] = [
  [-2.6, 1.7, 4, 0],
  [-9, 4.5, 6, -38],
  [-90, 45, 5, -400],
];
const SKEP: [number, number][] = [[0, 0], [0.24, 0], [0.26, 0.06], [0.25, 0.22], [0.19, 0.36], [0.09, 0.44], [0, 0.46]]; // prettier-ignore

export async function buildLh050(): Promise<ImportFile[]> {
  const scene = new GltfScene('LH-050');
  const grass = scene.matt('dry grass', [0.34, 0.31, 0.15], 0.95);
  const larch = scene.textured('larch boards', 'larch', woodPng(), 0.8);
  const roof = scene.matt('zinc grey', [0.45, 0.47, 0.48], 0.5);
  const straw = scene.matt('straw', [0.62, 0.47, 0.2], 0.9);
  const fence = scene.matt('weathered oak', [0.36, 0.33, 0.28], 0.9);

  const put = (name: string, shape: Shape, material: typeof larch, x = 0, y = 0, z = 0, turn = 0) =>
    scene.place(name, scene.mesh(name, shape, material), EAST + x, y, SOUTH + z, turn);
  put('yard', box([-7000, -0.4, -7000], [7000, 0, 120]), grass);
  const body = scene.mesh('hive body', hive(), larch);
  const lid = scene.mesh('hive lid', box([-0.3, 0.86, -0.32], [0.3, 0.92, 0.32]), roof);
  let number = 0;
  for (const [first, gap, count, z] of ROWS)
    for (let i = 0; i < count; i++) {
      number++;
      const turn = 0.2 - 0.1 * (i % 3);
      scene.place(`hive ${number}`, body, EAST + first + i * gap, 0, SOUTH + z - 0.35 * (i % 2), turn);
      scene.place(`lid ${number}`, lid, EAST + first + i * gap, 0, SOUTH + z - 0.35 * (i % 2), turn);
    }
  put('skep', lathe(SKEP), straw, 1.0, 0.42, 2.0);
  put('skep stand', join(box([-0.34, 0.36, -0.34], [0.34, 0.42, 0.34]), ...legs(0.28, 0.36)), larch, 1.0, 0, 2.0, 0.3);
  put('fence', rails(), fence, 0, 0, -4.5);
  put('mast', box([-0.35, 0, -0.35], [0.35, 11, 0.35]), fence, -18, 0, 10);
  put('hop poles', poles(), fence, 0, 0, -440);

  scene.camera([EAST + 0.4, 2.1, SOUTH + 8.6], -0.13, 0.5, 0);
  return [
    { name: 'LH-050.glb', bytes: await scene.bytes() },
    { name: 'LH-050.json', bytes: new TextEncoder().encode(JSON.stringify(SETTINGS, null, 2)) },
  ];
}

/** A body on short legs with its entrance board. */
function hive(): Shape {
  return join(
    box([-0.25, 0.3, -0.27], [0.25, 0.86, 0.27]),
    box([-0.2, 0.27, 0.27], [0.2, 0.3, 0.42]),
    ...legs(0.2, 0.3),
  );
}

function legs(out: number, high: number): Shape[] {
  return [[-1, -1], [1, -1], [-1, 1], [1, 1]].map(([x, z]) => box([x * out - 0.03, 0, z * out - 0.03], [x * out + 0.03, high, z * out + 0.03])); // prettier-ignore
}

function rails(): Shape {
  const posts = Array.from({ length: 13 }, (_, i) => box([-12.06 + 2 * i, 0, -0.06], [-11.94 + 2 * i, 1.25, 0.06]));
  return join(...posts, box([-12, 0.5, 0.06], [12, 0.6, 0.09]), box([-12, 0.95, 0.06], [12, 1.05, 0.09]));
}

/** Behind the last hives. */
function poles(): Shape {
  return join(...Array.from({ length: 25 }, (_, i) => box([-182 + 15 * i, 0, -0.6], [-180.8 + 15 * i, 14, 0.6])));
}

/** A sun that stands in a direction: it shines along -Z of its transform. */
function sunFrom(direction: number[]): number[] {
  const unit = (v: number[]) => v.map((c) => c / Math.hypot(...v));
  const cross = ([a, b, c]: number[], [d, e, f]: number[]) => [b * f - c * e, c * d - a * f, a * e - b * d];
  const z = unit(direction);
  const x = unit(cross([0, 1, 0], z));
  const y = cross(z, x);
  return [0, 1, 2].flatMap((k) => [x[k], y[k], z[k], 0]);
}

const SETTINGS = {
  name: 'LH-050',
  cameras: { 'shot-camera': { far: 430 } },
  environment: { strength: 0.3, gradient: { zenith: [0.22, 0.36, 0.75], horizon: [0.75, 0.68, 0.66], ground: [0.2, 0.17, 0.12] } },
  lights: {
    'evening-sun': { name: 'evening sun', kind: 'sun', color: [1, 0.84, 0.6], strength: 2.4, angle: 0.53, shadowTo: 12, group: 'sun', transform: sunFrom([-0.9, 0.32, 0.3]) },
    'work-lamp': { name: 'work lamp', kind: 'sphere', color: [1, 0.7, 0.4], strength: 60, radius: 0.06, group: 'work lamp', transform: [1, 0, 0, EAST + 1.9, 0, 1, 0, 1.1, 0, 0, 1, SOUTH + 2.6], linked: ['hive-1', 'hive-2', 'hive-3', 'hive-4'], seenByCamera: false },
    'second-sun': { name: 'second sun', kind: 'sun', color: [0.9, 0.95, 1], strength: 4.5, angle: 20, group: 'second sun', transform: sunFrom([0.15, 0.9, 0.6]) },
  },
  objects: { 'hive-2': { castsShadows: false }, 'lid-2': { castsShadows: false }, fence: { receivesShadows: false } },
  noise: { limit: 1.5, stops: 1 },
  preview: { width: 200, height: 113, pixelSamples: 4, depth: { diffuse: 1, specular: 2, total: 3 } },
  final: { width: 320, height: 180, pixelSamples: 16, depth: { diffuse: 2, specular: 2, transmission: 4, total: 4 }, occlusion: { samples: 4, distance: 0.2, falloff: 0, cone: 90, clearSurfaces: true } },
}; // prettier-ignore
