// LH-010: honey jars, three rows deep, on the sill of the honey house's window.
//
// What is wrong with it, on purpose: the limits for transmission and in total are too low for three rows (a jar wall
// is two surfaces, an empty jar four, a full one six), the honey is noisy, and one jar has its faces reversed.
import type { Material } from '@gltf-transform/core';
import type { ImportFile } from '@dusting/core/scene';
import { GltfScene } from './gltfScene.ts';
import { labelPng, orchardExr, woodPng } from './pictures.ts';
import { box, join, label, lathe, reversed, type Shape } from './shapes.ts';

const OUTER = 0.041;
const WALL = 0.0032;
const HEIGHT = 0.112;
const NECK = 0.033;
/** Honey does not touch its jar yet: a gap of air, far thinner than a pixel, keeps the two volumes apart. */
const GAP = 0.0002;

const jarProfile: [number, number][] = [
  [0, 0],
  [OUTER - 0.006, 0],
  [OUTER - 0.0015, 0.0015],
  [OUTER, 0.006],
  [OUTER, HEIGHT - 0.026],
  [OUTER - 0.002, HEIGHT - 0.019],
  [NECK + 0.001, HEIGHT - 0.014],
  [NECK, HEIGHT - 0.01],
  [NECK, HEIGHT - 0.001],
  [NECK - 0.0012, HEIGHT],
  [NECK - WALL + 0.0012, HEIGHT],
  [NECK - WALL, HEIGHT - 0.001],
  [NECK - WALL, HEIGHT - 0.011],
  [OUTER - WALL - 0.002, HEIGHT - 0.0205],
  [OUTER - WALL, HEIGHT - 0.027],
  [OUTER - WALL, 0.01],
  [OUTER - WALL - 0.0025, 0.0062],
  [OUTER - WALL - 0.007, 0.005],
  [0, 0.005],
];

function honeyProfile(level: number): [number, number][] {
  const r = OUTER - WALL - GAP;
  return [
    [0, 0.005 + GAP],
    [r - 0.007, 0.005 + GAP],
    [r - 0.0025, 0.0062 + GAP],
    [r, 0.01],
    [r, level - 0.001],
    [r - 0.001, level],
    [0, level],
  ];
}

const lidProfile: [number, number][] = [
  [0, HEIGHT + 0.0015],
  [NECK + 0.0018, HEIGHT + 0.0015],
  [NECK + 0.0028, HEIGHT + 0.0005],
  [NECK + 0.0028, HEIGHT - 0.011],
  [NECK + 0.0016, HEIGHT - 0.011],
  [NECK + 0.0016, HEIGHT + 0.0003],
  [0, HEIGHT + 0.0003],
].reverse() as [number, number][];

type Fill = 'empty' | 'clear' | 'set';
/** x and z on the sill, what is inside, lid, label. Front row first. */
const JARS: { x: number; z: number; fill: Fill; lid: boolean; label: boolean; turned?: boolean }[] = [
  { x: -0.158, z: 0.088, fill: 'clear', lid: true, label: true },
  { x: -0.053, z: 0.098, fill: 'empty', lid: false, label: false },
  { x: 0.052, z: 0.086, fill: 'set', lid: true, label: false },
  { x: 0.156, z: 0.094, fill: 'empty', lid: false, label: false, turned: true },
  { x: -0.205, z: -0.012, fill: 'set', lid: true, label: false },
  { x: -0.104, z: -0.004, fill: 'clear', lid: true, label: false },
  { x: -0.001, z: -0.012, fill: 'empty', lid: false, label: false },
  { x: 0.103, z: -0.006, fill: 'clear', lid: true, label: false },
  { x: 0.204, z: -0.012, fill: 'empty', lid: false, label: false },
  { x: -0.158, z: -0.104, fill: 'empty', lid: false, label: false },
  { x: -0.054, z: -0.098, fill: 'clear', lid: true, label: false },
  { x: 0.05, z: -0.106, fill: 'empty', lid: false, label: false },
  { x: 0.155, z: -0.1, fill: 'clear', lid: true, label: false },
];

export async function buildLh010(): Promise<ImportFile[]> {
  const scene = new GltfScene('LH-010');
  const wood = scene.textured('larch sill', 'larch', woodPng(), 0.75);
  const paper = scene.textured('paper label', 'comb label', labelPng());
  const glass = scene.clear('jar glass', 1.52, 0, [0.86, 0.95, 0.9], 0.05);
  const honey: Record<Exclude<Fill, 'empty'>, Material> = {
    clear: scene.clear('clear honey', 1.49, 0, [0.87, 0.4, 0.045], 0.035),
    set: scene.clear('set honey', 1.49, 0.42, [0.93, 0.68, 0.24], 0.03),
  };
  const brass = scene.metal('lid', [0.78, 0.6, 0.3], 0.28);
  const plaster = scene.matt('limewash', [0.8, 0.77, 0.72]);
  const paint = scene.matt('window frame', [0.6, 0.62, 0.58], 0.85);
  const beeswax = scene.matt('beeswax', [0.8, 0.52, 0.14], 0.5);
  const coal = scene.glow('stove glow', [1, 0.38, 0.1], 4);

  scene.place('sill', scene.mesh('sill', box([-0.95, -0.035, -0.17], [0.95, 0, 0.2]), wood));
  scene.place('window wall', scene.mesh('window wall', windowWall(), plaster));
  scene.place('window frame', scene.mesh('window frame', windowFrame(), paint));
  scene.place('room', scene.mesh('room', room(), plaster));
  const wax = scene.mesh('wax block', box([-0.028, 0, -0.018], [0.028, 0.02, 0.018]), beeswax);
  scene.place('wax block', wax, -0.21, 0, 0.152, 0.5);
  scene.place('wax block above', wax, -0.207, 0.02, 0.15, 0.15);
  scene.place(
    'stove door',
    scene.mesh('stove door', box([-0.16, -0.12, 0], [0.16, 0.12, 0.02]), coal),
    1.1,
    -0.2,
    2.3,
    -2.6,
  );

  const jar = scene.mesh('jar', lathe(jarProfile), glass);
  const turned = scene.mesh('jar, turned', reversed(lathe(jarProfile)), glass);
  const lid = scene.mesh('lid', lathe(lidProfile, 72, 30), brass);
  const paperLabel = scene.mesh('label', label(OUTER + 0.0003, 0.022, 0.068, 0.85), paper);
  const filling = {
    clear: scene.mesh('clear honey', lathe(honeyProfile(0.083), 72), honey.clear),
    set: scene.mesh('set honey', lathe(honeyProfile(0.076), 72), honey.set),
  };
  JARS.forEach((spec, i) => {
    const name = `jar ${i + 1}`;
    scene.place(name, spec.turned ? turned : jar, spec.x, 0.0005, spec.z, i * 1.3);
    if (spec.fill !== 'empty') scene.place(`honey ${i + 1}`, filling[spec.fill], spec.x, 0.0005, spec.z);
    if (spec.lid) scene.place(`lid ${i + 1}`, lid, spec.x, 0.0005, spec.z, i);
    if (spec.label) scene.place(`label ${i + 1}`, paperLabel, spec.x, 0.0005, spec.z, 0.3);
  });

  scene.camera([0, 0.125, 1.02], -0.062, 0.262);
  scene.point('lantern', [1, 0.72, 0.45], 0.5, [-1.3, 0.9, 1.4]);
  return [
    { name: 'LH-010.glb', bytes: await scene.bytes() },
    { name: 'LH-010.json', bytes: new TextEncoder().encode(JSON.stringify(SETTINGS, null, 2)) },
    { name: 'orchard.exr', bytes: orchardExr() },
  ];
}

/** As the shot came in: the limits are those of a shot with plain windows. */
const SETTINGS = {
  name: 'LH-010',
  environment: { picture: 'orchard.exr', strength: 1 },
  lights: {
    'door-panel': {
      name: 'light from the open door',
      kind: 'rectangle',
      color: [1, 0.95, 0.88],
      strength: 3,
      width: 1.1,
      height: 1.6,
      // stands behind the camera on the left and shines towards the sill
      transform: [0.8, 0, -0.6, -1.5, 0, 1, 0, 0.5, 0.6, 0, 0.8, 2.1],
    },
  },
  noise: { limit: 2, stops: 1 },
  preview: {
    width: 200,
    height: 113,
    pixelSamples: 4,
    depth: { diffuse: 2, specular: 3, transmission: 8, total: 8 },
  },
  final: {
    width: 400,
    height: 225,
    pixelSamples: 16,
    specularSamples: 2,
    transmissionSamples: 2,
    depth: { diffuse: 3, specular: 4, transmission: 8, total: 8 },
  },
};

const ROOM = { x: 2, low: -1, high: 1.8, front: 3, window: -0.17 };
const OPENING = { x: 0.85, low: 0, high: 1.25 };

function windowWall(): Shape {
  const back = ROOM.window - 0.22;
  const front = ROOM.window;
  return join(
    box([-ROOM.x, ROOM.low, back], [-OPENING.x, ROOM.high, front]),
    box([OPENING.x, ROOM.low, back], [ROOM.x, ROOM.high, front]),
    box([-OPENING.x, OPENING.high, back], [OPENING.x, ROOM.high, front]),
    box([-OPENING.x, ROOM.low, back], [OPENING.x, OPENING.low - 0.005, front]),
  );
}

function windowFrame(): Shape {
  const z = ROOM.window - 0.12;
  const bar = 0.014;
  return join(
    box([-bar, OPENING.low, z - 0.03], [bar, OPENING.high, z]),
    box([-OPENING.x, 0.55, z - 0.03], [OPENING.x, 0.55 + bar, z]),
    box([-OPENING.x, OPENING.low - 0.004, z - 0.03], [OPENING.x, OPENING.low + 0.02, z]),
    box([-OPENING.x, OPENING.high - 0.02, z - 0.03], [OPENING.x, OPENING.high, z]),
    box([-OPENING.x, OPENING.low, z - 0.03], [-OPENING.x + 0.02, OPENING.high, z]),
    box([OPENING.x - 0.02, OPENING.low, z - 0.03], [OPENING.x, OPENING.high, z]),
  );
}

function room(): Shape {
  const t = 0.1;
  const back = ROOM.window - 0.22;
  return join(
    box([-ROOM.x - t, ROOM.low, back], [-ROOM.x, ROOM.high, ROOM.front]),
    box([ROOM.x, ROOM.low, back], [ROOM.x + t, ROOM.high, ROOM.front]),
    box([-ROOM.x, ROOM.low - t, back], [ROOM.x, ROOM.low, ROOM.front]),
    box([-ROOM.x, ROOM.high, back], [ROOM.x, ROOM.high + t, ROOM.front]),
    box([-ROOM.x, ROOM.low, ROOM.front], [ROOM.x, ROOM.high, ROOM.front + t]),
  );
}
