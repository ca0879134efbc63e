// Lights that stand in for a glowing mesh: a sphere, and pairs of rectangles back to back across its axes, with strengths
// so that they send into every direction what the mesh does.
//
// Intensity of the lights over that of the mesh, by direction, with a sphere alone: ball 1.00 to 1.01, sheet 0.5 to 34, slab
// of 5 : 5 : 1 0.7 to 2.8, rod of 6 : 1 0.8 to 3.2, flame of LH-020 0.8 to 2.3. A row of spheres along a rod is the same from
// afar. With the pairs, by least squares of the relative difference: 0.98 to 1.02 on the sheet, 0.97 to 1.04 on the slab; with
// pairs across the two short axes alone 0.82 to 1.13 on the rod and 0.82 to 1.15 on the flame, with three of them 60 degrees
// apart 0.92 to 1.10 and 0.88 to 1.08. The fewest lights are taken that are as good.
import { luminance } from '../../color/index.ts';
import type { EmitterShine } from '../../render/index.ts';
import { LIGHT_DEFAULTS, type Light } from '../../scene/index.ts';

export interface StandIn {
  lights: Light[];
  /** Intensity of the lights over that of the mesh, in the direction where it is least and where it is most. */
  least: number;
  most: number;
}

/** A difference in intensity that counts as none: a tenth of a stop is 7 %. No source. */
const ALIKE = 0.05;
const ROUNDS = 500;

/** A pair of rectangles back to back: unit vectors, right-handed, and what the object measures along them. */
interface Pair {
  axes: number[][];
  extents: number[];
}

/** @param name of the object */
export function standInLights({ axes, directions, extents, intensities, middle }: EmitterShine, name: string): StandIn {
  const wanted = intensities.map(([r, g, b]) => luminance(r, g, b));
  const pairs = pairsOf(axes, extents);
  // by direction: a sphere, and the faces of each pair
  const all = directions.map((d) => [1, ...pairs.map(({ axes: [n] }) => Math.abs(d[0] * n[0] + d[1] * n[1] + d[2] * n[2]))]); // prettier-ignore
  const fits = SETS.map((set) => fit(all, wanted, set));
  const best = fits.find(({ worst }) => worst <= ALIKE) ?? fits.reduce((a, b) => (b.worst < 0.9 * a.worst ? b : a));
  const common = { ...structuredClone(LIGHT_DEFAULTS), color: colourOf(intensities), group: 'surfaces', seenByCamera: false }; // prettier-ignore
  const lights: Light[] = [];
  const [sphere, ...faces] = best.strengths;
  if (sphere > 0) {
    const radius = Math.max(LEAST, extents[1] / 2);
    lights.push({ ...common, name, kind: 'sphere', radius, strength: sphere / (Math.PI * radius ** 2), transform: placed(IDENTITY, middle) }); // prettier-ignore
  }
  faces.forEach((strength, i) => {
    if (strength === 0) return;
    const [n, x, y] = pairs[i].axes;
    const [depth, width, height] = pairs[i].extents.map((e) => Math.max(LEAST, e));
    for (const side of [1, -1]) {
      // it shines along -Z, so its Z axis points inwards
      const basis = [0, 1, 2].map((k) => [-side * x[k], y[k], -side * n[k]]);
      const at = middle.map((c, k) => c + (side * depth * n[k]) / 2);
      lights.push({ ...common, name, kind: 'rectangle', width, height, strength: strength / (width * height), transform: placed(basis, at) }); // prettier-ignore
    }
  });
  if (lights.length > 1) lights.forEach((light, i) => (light.name = `${name} ${i + 1}`));
  return { lights, least: best.least, most: best.most };
}

/** Lights have a size. */
const LEAST = 1e-6;

/** Across each axis, and two more about the longest: with the second axis they are 60 degrees apart, for what is round. */
function pairsOf(axes: number[][], [long, wide, thin]: number[]): Pair[] {
  const [a, b, c] = axes;
  const turned = [1, 2].map((step) => {
    const [cos, sin] = [Math.cos((step * Math.PI) / 3), Math.sin((step * Math.PI) / 3)];
    return [b.map((v, k) => cos * v + sin * c[k]), b.map((v, k) => cos * c[k] - sin * v)];
  });
  return [
    { axes: [a, b, c], extents: [long, wide, thin] },
    { axes: [b, c, a], extents: [wide, thin, long] },
    { axes: [c, a, b], extents: [thin, long, wide] },
    ...turned.map(([p, q]) => ({ axes: [p, q, a], extents: [thin, thin, long] })),
  ];
}

/** The sphere is 0, the pairs are 1 to 5. Fewest lights first. */
const SETS = [[0], [3], [2], [1], [0, 3], [0, 2, 3], [0, 1, 2, 3], [2, 4, 5], [0, 2, 4, 5]];

interface Fit {
  /** Intensity of the sphere, and of each pair straight on, W/sr. */
  strengths: number[];
  worst: number;
  least: number;
  most: number;
}

/** Non-negative least squares by multiplicative updates (Lee & Seung 2001), scaled to the same power. */
function fit(all: number[][], wanted: number[], set: number[]): Fit {
  const strengths = all[0].map((_, j) => (set.includes(j) ? 1 : 0));
  const peak = Math.max(...wanted);
  // relative differences count, but not where the mesh shows its edge
  const weights = wanted.map((v) => 1 / (v ** 2 + (0.1 * peak) ** 2));
  const made = () => all.map((row) => row.reduce((sum, v, j) => sum + v * strengths[j], 0));
  for (let round = 0; round < ROUNDS; round++) {
    const now = made();
    for (const j of set) {
      let [up, down] = [0, 0];
      all.forEach((row, i) => {
        up += weights[i] * row[j] * wanted[i];
        down += weights[i] * row[j] * now[i];
      });
      strengths[j] *= down > 0 ? up / down : 0;
    }
  }
  const most = Math.max(...strengths);
  strengths.forEach((s, j) => s < 0.02 * most && (strengths[j] = 0));
  const total = (values: number[]) => values.reduce((sum, v) => sum + v, 0);
  const scale = total(wanted) / total(made());
  for (const j of set) strengths[j] *= scale;
  const ratios = made().flatMap((v, i) => (wanted[i] > 0.1 * peak ? [v / wanted[i]] : []));
  const [least, greatest] = [Math.min(...ratios), Math.max(...ratios)];
  return { strengths, least, most: greatest, worst: Math.max(1 - least, greatest - 1) };
}

/** Of luminance 1. */
function colourOf(intensities: number[][]): number[] {
  const sum = intensities.reduce((a, b) => a.map((v, k) => v + b[k]));
  const y = luminance(sum[0], sum[1], sum[2]);
  return sum.map((v) => v / y);
}

const IDENTITY = [[1, 0, 0], [0, 1, 0], [0, 0, 1]]; // prettier-ignore
const placed = (basis: number[][], at: number[]) => basis.flatMap((row, k) => [...row, at[k]]);
