// LH-030: the extracting room, closed on all sides but a small window.
//
// What is wrong with it, on purpose: occlusion has no distance limit, so that every ray of it ends on a wall and the
// layer is black; it has 4 samples, and shows it. The light comes in through the window alone and fills the room by its
// walls; samples go to reflections, of which there are few, and not to the walls: the shadows crawl.
import type { ImportFile } from '@dusting/core/scene';
import { GltfScene } from './gltfScene.ts';
import { orchardExr, woodPng } from './pictures.ts';
import { box, join, lathe, type Shape } from './shapes.ts';

/** Inside of the room, metres; the window is in the left wall. */
const ROOM = { left: -1.9, right: 1.9, high: 2.4, back: -2.2, front: 3 };
const WALL = 0.3;
const WINDOW = { low: 1.0, high: 1.75, back: -0.9, front: -0.1 };

export async function buildLh030(): Promise<ImportFile[]> {
  const scene = new GltfScene('LH-030');
  const larch = scene.textured('larch boards', 'larch', woodPng(), 0.8);
  const limewash = scene.matt('limewash', [0.78, 0.76, 0.72]);
  const stone = scene.matt('stone floor', [0.32, 0.31, 0.29], 0.85);
  const beam = scene.matt('smoked beam', [0.16, 0.11, 0.07], 0.8);
  const steel = scene.metal('drum steel', [0.72, 0.72, 0.7], 0.32);
  const iron = scene.metal('iron', [0.25, 0.24, 0.23], 0.5);
  const enamel = scene.matt('cream enamel', [0.82, 0.78, 0.66], 0.35);
  const crock = scene.matt('brown crock', [0.24, 0.11, 0.05], 0.3);
  const wax = scene.matt('comb wax', [0.8, 0.55, 0.18], 0.6);

  const put = (name: string, shape: Shape, material: typeof larch, x = 0, y = 0, z = 0, turn = 0) =>
    scene.place(name, scene.mesh(name, shape, material), x, y, z, turn);
  put('walls', walls(), limewash);
  put('floor', box([ROOM.left, -0.2, ROOM.back], [ROOM.right, 0, ROOM.front]), stone);
  put('beams', beams(), beam);
  put('window frame', windowFrame(), larch);

  put('extractor drum', lathe(DRUM), steel, -0.35, 0.42, -1.05);
  put('extractor legs', legs(0.34, 0.42), iron, -0.35, 0, -1.05);
  put('extractor bridge', join(box([-0.4, 0.66, -0.03], [0.4, 0.69, 0.03]), box([-0.025, 0.62, -0.025], [0.025, 0.8, 0.025]), box([-0.02, 0.78, -0.02], [0.24, 0.81, 0.02]), box([0.2, 0.8, -0.018], [0.236, 0.92, 0.018])), iron, -0.35, 0.42, -1.05, 0.5); // prettier-ignore
  put(
    'tap',
    join(box([-0.03, 0.47, -0.66], [0.03, 0.53, -0.54]), box([-0.015, 0.43, -0.57], [0.015, 0.47, -0.54])),
    iron,
    -0.35,
    0,
    0,
  );
  put('honey pail', lathe(PAIL), enamel, -0.35, 0, -0.52);

  put('uncapping table', table(), larch, 1.0, 0, -1.15, -0.12);
  put('tray', join(box([-0.42, 0.78, -0.22], [0.42, 0.795, 0.22]), box([-0.42, 0.795, -0.22], [-0.4, 0.86, 0.22]), box([0.4, 0.795, -0.22], [0.42, 0.86, 0.22]), box([-0.4, 0.795, 0.2], [0.4, 0.86, 0.22])), steel, 1.0, 0, -1.15, -0.12); // prettier-ignore
  const frame = scene.mesh('frame', combFrame(), larch);
  const comb = scene.mesh('comb', box([-0.19, 0.02, -0.011], [0.19, 0.19, 0.011]), wax);
  for (let i = 0; i < 5; i++) {
    const z = -1.3 + i * 0.075;
    scene.place(`frame ${i + 1}`, frame, 0.98, 0.8, z, -0.12);
    if (i !== 2) scene.place(`comb ${i + 1}`, comb, 0.98, 0.8, z, -0.12);
  }
  put('shelf', join(box([-0.75, 1.42, -0.24], [0.75, 1.46, 0]), box([-0.6, 1.26, -0.03], [-0.56, 1.42, 0]), box([0.56, 1.26, -0.03], [0.6, 1.42, 0])), larch, 0.85, 0, ROOM.back + 0.24); // prettier-ignore
  const pot = scene.mesh('crock', lathe(CROCK), crock);
  [0.3, 0.56, 0.86, 1.2, 1.43].forEach((x, i) => scene.place(`crock ${i + 1}`, pot, x, 1.46, ROOM.back + 0.13, i));
  const bucket = scene.mesh('bucket', lathe(PAIL), enamel);
  [[-1.35, 0, -1.75], [-0.98, 0, -1.9], [-1.2, 0.33, -1.82], [1.6, 0, -0.3]].forEach(([x, y, z], i) => scene.place(`bucket ${i + 1}`, bucket, x, y, z)); // prettier-ignore

  scene.camera([0.62, 1.32, 2.5], -0.14, 0.62, 0.14);
  return [
    { name: 'LH-030.glb', bytes: await scene.bytes() },
    { name: 'LH-030.json', bytes: new TextEncoder().encode(JSON.stringify(SETTINGS, null, 2)) },
    { name: 'orchard.exr', bytes: orchardExr() },
  ];
}

/** As the shot came in: counts and occlusion are those of a shot under the open sky. */
const SETTINGS = {
  name: 'LH-030',
  environment: { picture: 'orchard.exr', strength: 1 },
  lights: {
    window: {
      name: 'light from the window',
      kind: 'rectangle',
      color: [0.93, 0.97, 1],
      strength: 26,
      width: 0.8,
      height: 0.75,
      seenByCamera: false,
      // fills the opening and shines into the room, along +X
      transform: [0, 0, -1, -1.9, 0, 1, 0, 1.375, 1, 0, 0, -0.5],
    },
  },
  noise: { limit: 1.2, stops: 1 },
  preview: { width: 200, height: 113, pixelSamples: 4, depth: { diffuse: 2, specular: 2, total: 4 } },
  final: {
    width: 320,
    height: 180,
    pixelSamples: 16,
    specularSamples: 4,
    depth: { diffuse: 4, specular: 3, transmission: 8, total: 8 },
    occlusion: { samples: 4, distance: 0, falloff: 0, cone: 90, clearSurfaces: true },
  },
};

const DRUM: [number, number][] = [
  [0, 0],
  [0.3, 0],
  [0.335, 0.012],
  [0.345, 0.05],
  [0.345, 0.2],
  [0.353, 0.21],
  [0.345, 0.22],
  [0.345, 0.44],
  [0.353, 0.45],
  [0.345, 0.46],
  [0.345, 0.64],
  [0.356, 0.65],
  [0.34, 0.652],
  [0.337, 0.64],
  [0.337, 0.06],
  [0.3, 0.02],
  [0, 0.015],
];
const PAIL: [number, number][] = [
  [0, 0],
  [0.13, 0],
  [0.136, 0.006],
  [0.158, 0.29],
  [0.166, 0.292],
  [0.166, 0.302],
  [0.153, 0.302],
  [0.131, 0.012],
  [0, 0.008],
];
const CROCK: [number, number][] = [
  [0, 0],
  [0.07, 0],
  [0.095, 0.04],
  [0.1, 0.1],
  [0.08, 0.16],
  [0.07, 0.18],
  [0.076, 0.2],
  [0.066, 0.2],
  [0.06, 0.18],
  [0.07, 0.16],
  [0.088, 0.1],
  [0.06, 0.012],
  [0, 0.01],
];

function walls(): Shape {
  const { left, right, high, back, front } = ROOM;
  const { low, high: top } = WINDOW;
  return join(
    box([left - WALL, -0.2, back], [left, low, front]),
    box([left - WALL, top, back], [left, high, front]),
    box([left - WALL, low, back], [left, top, WINDOW.back]),
    box([left - WALL, low, WINDOW.front], [left, top, front]),
    box([right, -0.2, back], [right + WALL, high, front]),
    box([left - WALL, -0.2, back - WALL], [right + WALL, high, back]),
    box([left - WALL, -0.2, front], [right + WALL, high, front + WALL]),
    box([left - WALL, high, back - WALL], [right + WALL, high + WALL, front + WALL]),
  );
}

function beams(): Shape {
  return join(
    ...[-1.4, -0.2, 1, 2.2].map((z) => box([ROOM.left, ROOM.high - 0.16, z], [ROOM.right, ROOM.high, z + 0.14])),
  );
}

function windowFrame(): Shape {
  const x = ROOM.left - 0.16;
  const { low, high, back, front } = WINDOW;
  const middle = (back + front) / 2;
  return join(
    box([x, low, back], [x + 0.05, low + 0.04, front]),
    box([x, high - 0.04, back], [x + 0.05, high, front]),
    box([x, low, back], [x + 0.05, high, back + 0.04]),
    box([x, low, front - 0.04], [x + 0.05, high, front]),
    box([x, low, middle - 0.015], [x + 0.05, high, middle + 0.015]),
    box([ROOM.left - WALL, low - 0.03, back - 0.04], [ROOM.left + 0.06, low, front + 0.04]),
  );
}

function legs(radius: number, height: number): Shape {
  return join(
    ...[0.3, 2.4, 4.5].map((angle) => {
      const [x, z] = [radius * Math.cos(angle), radius * Math.sin(angle)];
      return box([x - 0.02, 0, z - 0.02], [x + 0.02, height + 0.1, z + 0.02]);
    }),
  );
}

function table(): Shape {
  const leg = (x: number, z: number) => box([x - 0.03, 0, z - 0.03], [x + 0.03, 0.74, z + 0.03]);
  return join(box([-0.55, 0.74, -0.33], [0.55, 0.78, 0.33]), leg(-0.48, -0.26), leg(0.48, -0.26), leg(-0.48, 0.26), leg(0.48, 0.26)); // prettier-ignore
}

/** Top bar with its lugs, side bars, bottom bar. */
function combFrame(): Shape {
  return join(
    box([-0.24, 0.2, -0.013], [0.24, 0.22, 0.013]),
    box([-0.21, 0, -0.013], [-0.2, 0.2, 0.013]),
    box([0.2, 0, -0.013], [0.21, 0.2, 0.013]),
    box([-0.21, 0, -0.01], [0.21, 0.012, 0.01]),
  );
}
