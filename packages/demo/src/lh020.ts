// LH-020: a storm lantern on the workbench of the honey house, at night.
//
// What is wrong with it, on purpose: the flame is small and stands in a glass chimney, so that its light is hit by chance and
// leaves fireflies on wall and bench; somebody set the indirect clamp so low that the flame, which the camera sees through the
// glass, looks dull. The glint on the brass funnel is real and has to stay.
import type { ImportFile } from '@dusting/core/scene';
import { GltfScene } from './gltfScene.ts';
import { woodPng } from './pictures.ts';
import { box, join, lathe, type Shape } from './shapes.ts';

type Profile = [radius: number, height: number][];

/** Where the chimney begins and ends, metres above the bench. */
const FOOT = 0.1;
const TOP = 0.235;
const WALL = 0.0016;

const tank: Profile = [
  [0, 0.002],
  [0.052, 0.002],
  [0.056, 0.006],
  [0.056, 0.04],
  [0.05, 0.05],
  [0.03, 0.056],
  [0.028, 0.07],
  [0.036, 0.076],
  [0.036, FOOT - 0.006],
  [0.03, FOOT - 0.001],
  [0, FOOT - 0.001],
];
const burner: Profile = [
  [0, FOOT],
  [0.016, FOOT],
  [0.013, FOOT + 0.012],
  [0.006, FOOT + 0.016],
  [0, FOOT + 0.016],
];
/** The outline of the chimney, bellied as that of storm lanterns. */
const belly: Profile = [
  [0.028, FOOT + 0.001],
  [0.033, FOOT + 0.012],
  [0.042, FOOT + 0.036],
  [0.044, FOOT + 0.056],
  [0.041, FOOT + 0.078],
  [0.033, FOOT + 0.108],
  [0.029, FOOT + 0.126],
  [0.028, TOP],
];
const chimney: Profile = [...belly, ...belly.map(([r, y]): [number, number] => [r - WALL, y]).reverse(), belly[0]];
const flame: Profile = [
  [0, FOOT + 0.019],
  [0.0024, FOOT + 0.021],
  [0.0042, FOOT + 0.027],
  [0.0036, FOOT + 0.034],
  [0.0018, FOOT + 0.042],
  [0, FOOT + 0.049],
];
const cap: Profile = [
  [0, TOP + 0.004],
  [0.034, TOP + 0.004],
  [0.036, TOP + 0.008],
  [0.03, TOP + 0.02],
  [0.014, TOP + 0.03],
  [0.014, TOP + 0.04],
  [0.008, TOP + 0.045],
  [0, TOP + 0.045],
];
const funnel: Profile = [
  [0.006, 0.001],
  [0.007, 0.001],
  [0.011, 0.03],
  [0.044, 0.078],
  [0.044, 0.086],
  [0.043, 0.086],
  [0.043, 0.079],
  [0.01, 0.031],
  [0.006, 0.001],
];
const knob: Profile = Array.from({ length: 13 }, (_, i) => {
  const angle = (Math.PI * i) / 12;
  return [0.011 * Math.sin(angle), 0.011 - 0.011 * Math.cos(angle)];
});

export async function buildLh020(): Promise<ImportFile[]> {
  const scene = new GltfScene('LH-020');
  const wood = scene.textured('workbench', 'larch', woodPng(), 0.7);
  const wall = scene.matt('limewash', [0.72, 0.69, 0.64]);
  const tin = scene.metal('dark tin', [0.34, 0.35, 0.37], 0.38);
  const brass = scene.metal('brass', [0.82, 0.62, 0.3], 0.22);
  const polished = scene.metal('polished brass', [0.86, 0.68, 0.36], 0.04);
  const wax = scene.matt('beeswax', [0.8, 0.52, 0.14], 0.5);
  const glass = scene.clear('chimney glass', 1.5, 0, [0.93, 0.97, 0.95], 0.02);
  const fire = scene.glow('flame', [1, 0.52, 0.16], 700);

  scene.place('bench top', scene.mesh('bench top', box([-0.8, -0.04, -0.3], [0.8, 0, 0.5]), wood));
  scene.place('back wall', scene.mesh('back wall', box([-1.2, -0.8, -0.36], [1.2, 1.4, -0.3]), wall));
  const lantern: [string, Profile, typeof tin][] = [
    ['tank', tank, tin],
    ['burner', burner, brass],
    ['chimney', chimney, glass],
    ['flame', flame, fire],
    ['cap', cap, tin],
  ];
  for (const [name, profile, material] of lantern)
    scene.place(name, scene.mesh(name, lathe(profile, name === 'flame' ? 16 : 64), material), -0.09);
  scene.place('guard', scene.mesh('guard', guard(), tin), -0.09);
  scene.place('funnel', scene.mesh('funnel', lathe(funnel), brass), 0.12, 0, -0.02);
  scene.place('knob', scene.mesh('knob', lathe(knob, 48), polished), 0.045, 0, 0.12);
  const block = scene.mesh('wax block', box([-0.036, 0, -0.022], [0.036, 0.024, 0.022]), wax);
  scene.place('wax block', block, 0.21, 0, 0.06, 0.4);
  scene.place('wax block above', block, 0.215, 0.024, 0.055, -0.2);

  scene.camera([0.02, 0.22, 0.78], -0.13, 0.47);
  return [
    { name: 'LH-020.glb', bytes: await scene.bytes() },
    { name: 'LH-020.json', bytes: new TextEncoder().encode(JSON.stringify(SETTINGS, null, 2)) },
  ];
}

/** Four wires beside the chimney. */
function guard(): Shape {
  const [far, thick] = [0.05, 0.0011];
  return join(
    ...[0.6, 2.2, 3.8, 5.4].map((angle) => {
      const [x, z] = [far * Math.sin(angle), far * Math.cos(angle)];
      return box([x - thick, 0.05, z - thick], [x + thick, TOP + 0.006, z + thick]);
    }),
  );
}

/** As the shot came in: enough samples for a day shot, and a clamp that somebody set to get rid of the fireflies. */
const SETTINGS = {
  name: 'LH-020',
  environment: { color: [0.012, 0.016, 0.026], strength: 1 },
  lights: {
    'yard-lamp': {
      name: 'lamp over the yard door',
      kind: 'sphere',
      color: [0.8, 0.9, 1],
      strength: 260,
      radius: 0.02,
      transform: [1, 0, 0, 0.9, 0, 1, 0, 1.1, 0, 0, 1, 1.2],
      seenByCamera: false,
    },
  },
  noise: { limit: 2, stops: 1 },
  preview: {
    width: 200,
    height: 113,
    pixelSamples: 8,
    depth: { diffuse: 2, specular: 4, transmission: 12, total: 16 },
    clamp: { direct: 0, indirect: 6 },
  },
  final: {
    width: 400,
    height: 225,
    pixelSamples: 32,
    depth: { diffuse: 3, specular: 6, transmission: 12, total: 20 },
    clamp: { direct: 0, indirect: 6 },
  },
};
