// LH-040: a block of comb, a woven straw skep and a cake of wax on a board, close up. All three are modelled roughly; their relief
// comes from height maps.
//
// What is wrong with it, on purpose: the skep is displaced around a neutral value of 0 and its UV borders are pulled in by their
// rule, so that it swells and cracks along its seam; the comb has too few faces, and its map is painted no further than its UVs,
// so that grooves run along its edges; the cake is displaced ten times too far, by a map of 32 values.
import type { ImportFile } from '@dusting/core/scene';
import { GltfScene } from './gltfScene.ts';
import { heightPng, woodPng } from './pictures.ts';
import { box, grid, join, type Shape } from './shapes.ts';

/** Outline of the skep: radius and height. */
const SKEP: [number, number][] = [[0.19, 0], [0.2, 0.03], [0.205, 0.06], [0.205, 0.09], [0.2, 0.12], [0.193, 0.15], [0.182, 0.18], [0.166, 0.21], [0.143, 0.24], [0.112, 0.265], [0.074, 0.284], [0.03, 0.293]]; // prettier-ignore
const AROUND = 32;
const CAKE: [number, number][] = [[0.02, 0], [0.09, 0], [0.1, 0.008], [0.1, 0.03], [0.09, 0.038], [0.06, 0.04], [0.03, 0.04], [0, 0.04]]; // prettier-ignore

export async function buildLh040(): Promise<ImportFile[]> {
  const scene = new GltfScene('LH-040');
  const put = (name: string, shape: Shape, material: ReturnType<GltfScene['matt']>, x = 0, y = 0, z = 0, turn = 0) => scene.place(name, scene.mesh(name, shape, material), x, y, z, turn); // prettier-ignore
  put('board', box([-1.2, -0.03, -0.9], [1.2, 0, 0.6]), scene.textured('larch boards', 'larch', woodPng(), 0.7));
  put('wall', box([-3, -1, -1.3], [3, 3, -1.25]), scene.matt('limed wall', [0.55, 0.52, 0.46], 0.95));
  put('skep', skep(), scene.matt('straw', [0.62, 0.45, 0.17], 0.8), -0.17, 0.012, 0, 0.35);
  put('comb', comb(), scene.matt('comb wax', [0.72, 0.48, 0.14], 0.55), 0.17, 0.005, 0.02, -0.3);
  put('cake', turned(CAKE), scene.matt('cake wax', [0.68, 0.47, 0.16], 0.5), 0.06, 0.004, 0.24);
  scene.camera([0.02, 0.34, 0.86], -0.24, 0.62, 0);
  return [
    { name: 'LH-040.glb', bytes: await scene.bytes() },
    { name: 'skep-height.png', bytes: heightPng(1024, 512, skepHeight) },
    { name: 'comb-height.png', bytes: heightPng(1024, 1024, combHeight) },
    { name: 'cake-height.png', bytes: heightPng(256, 256, cakeHeight) },
    { name: 'LH-040.json', bytes: new TextEncoder().encode(JSON.stringify(SETTINGS, null, 2)) },
  ];
}

/** Of the skep's layout: where U begins and ends, V likewise. */
const SKEP_UV = { left: 0.05, right: 0.93, top: 0.06, bottom: 0.945 };
/** Whoever unwrapped it cut along the stitches: every other row of the border at the end of U stands out. */
const TOOTH = 0.035;

function skep(): Shape {
  const { bottom, left, right, top } = SKEP_UV;
  return grid(
    AROUND,
    SKEP.length - 1,
    (i, j) => around(SKEP[j], i),
    (i, j) => [left + ((right - left) * i) / AROUND + (i === AROUND && j % 2 === 1 ? TOOTH : 0), bottom + ((top - bottom) * j) / (SKEP.length - 1)], // prettier-ignore
  );
}

/** A turned body whose layout is a disc: the first row is its rim. */
function turned(profile: [number, number][]): Shape {
  const out = (j: number) => 0.46 * (1 - j / (profile.length - 1));
  const angle = (i: number) => (2 * Math.PI * i) / AROUND;
  return grid(AROUND, profile.length - 1, (i, j) => around(profile[j], i), (i, j) => [0.5 + out(j) * Math.cos(angle(i)), 0.5 + out(j) * Math.sin(angle(i))]); // prettier-ignore
}

function around([r, y]: [number, number], i: number): [number, number, number] {
  const angle = (2 * Math.PI * (i % AROUND)) / AROUND;
  return [r * Math.sin(angle), y, r * Math.cos(angle)];
}

/** Sides of the block: which axes they run along, and where their islands lie in the map. */
const BLOCK = { x: 0.13, y: 0.1, z: 0.035 };
const ISLANDS = [
  { u: 0.04, v: 0.04, width: 0.52, height: 0.4 }, // front
  { u: 0.04, v: 0.52, width: 0.52, height: 0.4 }, // back
  { u: 0.62, v: 0.04, width: 0.14, height: 0.4 }, // right
  { u: 0.82, v: 0.04, width: 0.14, height: 0.4 }, // left
  { u: 0.62, v: 0.52, width: 0.14, height: 0.4 }, // top, turned
  { u: 0.82, v: 0.52, width: 0.14, height: 0.4 }, // bottom, turned
];

function comb(): Shape {
  const { x, y, z } = BLOCK;
  const sides: ((s: number, t: number) => [number, number, number])[] = [
    (s, t) => [-x + 2 * x * s, 2 * y * t, z],
    (s, t) => [x - 2 * x * s, 2 * y * t, -z],
    (s, t) => [x, 2 * y * t, z - 2 * z * s],
    (s, t) => [-x, 2 * y * t, -z + 2 * z * s],
    (s, t) => [x - 2 * x * t, 2 * y, z - 2 * z * s],
    (s, t) => [x - 2 * x * t, 0, -z + 2 * z * s],
  ];
  return join(
    ...sides.map((place, side) => {
      const { height, u, v, width } = ISLANDS[side];
      const [across, up] = side < 2 ? [12, 10] : side < 4 ? [3, 10] : [3, 12];
      return grid(across, up, (i, j) => place(i / across, j / up), (i, j) => [u + (width * i) / across, v + height - (height * j) / up]); // prettier-ignore
    }),
  );
}

/** Coils of straw, bound by slanted stitches, around a half; the layout's last column follows its teeth. */
function skepHeight(u: number, v: number): number {
  const { bottom, left, right, top } = SKEP_UV;
  const rows = SKEP.length - 1;
  const y = (v - bottom) / (top - bottom);
  const row = Math.min(rows, Math.max(0, y * rows));
  const odd = 1 - Math.abs((row % 2) - 1);
  const last = left + ((right - left) * (AROUND - 1)) / AROUND;
  const a = u < last ? (u - left) / (right - left) : (AROUND - 1 + (u - last) / (right + TOOTH * odd - last)) / AROUND;
  const coil = Math.cos(2 * Math.PI * 11 * y);
  const stitch = Math.cos(2 * Math.PI * (36 * a + 11 * 0.5 * y));
  return 0.5 - 0.3 * coil - 0.16 * Math.max(0, stitch) ** 3;
}

/** Cells of comb on both large sides: open in the middle, capped around; 0 beyond the islands. */
function combHeight(u: number, v: number): number {
  const side = ISLANDS.findIndex((i) => u >= i.u && v >= i.v && u <= i.u + i.width && v <= i.v + i.height);
  if (side < 0) return 0;
  const { height, u: left, v: top, width } = ISLANDS[side];
  if (side > 1) return 0.5;
  const [s, t] = [(u - left) / width, (v - top) / height];
  const edge = Math.min(s, 1 - s, (t * BLOCK.y) / BLOCK.x, ((1 - t) * BLOCK.y) / BLOCK.x) * 2 * BLOCK.x;
  if (edge < 0.012) return 0.5;
  const { distance, x, y } = cell(s * 2 * BLOCK.x, t * 2 * BLOCK.y);
  const isOpen = Math.hypot(x - BLOCK.x, (y - BLOCK.y) * 1.3) < 0.07;
  const inside = Math.min(1, Math.max(0, (0.86 - distance) / 0.16));
  return isOpen ? 0.5 - 0.4 * inside : 0.5 + 0.13 * inside * (1 - distance ** 2);
}

/** Cells of a hexagonal lattice 14 mm apart: how far a place is from the middle of its cell (1 at its wall), and that middle. */
function cell(x: number, y: number): { distance: number; x: number; y: number } {
  const size = 0.014;
  const row = size * Math.sqrt(3);
  let best = { distance: Infinity, x: 0, y: 0 };
  for (const shift of [0, 1]) {
    const cx = Math.round((x - (shift * size) / 2) / size) * size + (shift * size) / 2;
    const cy = Math.round((y - (shift * row) / 2) / row) * row + (shift * row) / 2;
    const [dx, dy] = [Math.abs(x - cx), Math.abs(y - cy)];
    const distance = Math.max(dx, dx / 2 + (dy * Math.sqrt(3)) / 2) / (size / 2);
    if (distance < best.distance) best = { distance, x: cx, y: cy };
  }
  return best;
}

/** A gentle swirl, in 32 values. */
function cakeHeight(u: number, v: number): number {
  const [r, angle] = [Math.hypot(u - 0.5, v - 0.5) / 0.5, Math.atan2(v - 0.5, u - 0.5)];
  const swirl = 0.5 + 0.4 * Math.sin(3 * angle + 6 * r) * Math.max(0, 1 - r * r) * Math.min(1, 3 * r);
  return Math.round(swirl * 31) / 31;
}

const straight = { encoding: 'linear', filter: 'bilinear', wrapU: 'clamp', wrapV: 'clamp' };
const SETTINGS = {
  name: 'LH-040',
  environment: { strength: 0.5, gradient: { zenith: [0.5, 0.6, 0.8], horizon: [0.8, 0.76, 0.7], ground: [0.3, 0.25, 0.2] } },
  textures: {
    'skep-height': { ...straight, file: 'skep-height.png' },
    'comb-height': { ...straight, file: 'comb-height.png' },
    'cake-height': { ...straight, file: 'cake-height.png' },
  },
  surfaces: {
    straw: { displacement_scale: 0.022, displacement_neutral: 0, maps: { displacement: 'skep-height' } },
    'comb-wax': { displacement_scale: 0.02, maps: { displacement: 'comb-height' } },
    'cake-wax': { displacement_scale: 0.06, maps: { displacement: 'cake-height' } },
  },
  objects: {
    skep: { subdivisionLevels: 4, uvRule: 'none' },
    comb: { subdivisionLevels: 1, creaseAngle: 60 },
    cake: { subdivisionLevels: 3 },
  },
  lights: {
    'door-light': { name: 'door light', kind: 'rectangle', color: [1, 0.93, 0.82], strength: 11, width: 0.9, height: 1.4, group: 'door', transform: [0.64, 0.2, -0.74, -1.6, 0, 0.965, 0.26, 1.1, 0.77, -0.17, 0.62, 0.9] },
  },
  noise: { limit: 1.5, stops: 1 },
  preview: { width: 200, height: 113, pixelSamples: 4, depth: { diffuse: 1, specular: 1, total: 2 } },
  final: { width: 320, height: 180, pixelSamples: 16, depth: { diffuse: 2, specular: 1, transmission: 2, total: 3 } },
}; // prettier-ignore
