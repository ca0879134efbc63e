// Points of a light that shadow rays are aimed at: its middle first, then eight towards its edge.
import { normalize, transformDirection } from '../../math/index.ts';
import type { Light } from '../../scene/index.ts';

/** The nine points of a unit square, and of a unit disc, the middle first. */
const SQUARE = [[0, 0], [-0.8, -0.8], [0, -0.8], [0.8, -0.8], [-0.8, 0], [0.8, 0], [-0.8, 0.8], [0, 0.8], [0.8, 0.8]]; // prettier-ignore
const DISC = [[0, 0], ...Array.from({ length: 8 }, (_, i) => [0.85 * Math.cos((Math.PI * i) / 4), 0.85 * Math.sin((Math.PI * i) / 4)])]; // prettier-ignore
const POINTS = SQUARE.length;

/** How many points of a light are aimed at: its middle alone where it has no size. */
export function pointsOf({ angle, kind }: Light): number {
  return kind === 'rectangle' || kind === 'disc' || kind === 'sphere' || (kind === 'sun' && (angle ?? 0) > 0) ? POINTS : 1; // prettier-ignore
}

/** A direction of length 1 to a point of a light, and how far that is, metres; Infinity for a sun. */
export interface Toward {
  direction: [number, number, number];
  distance: number;
}

/** @param from place in world space @param index of the point; lights without a size have one */
export function towardLight(light: Light, from: readonly number[], index: number): Toward {
  const { kind, transform } = light;
  const axis = (x: number, y: number, z: number) => transformDirection(transform, [x, y, z]);
  if (kind === 'sun') {
    const along = normalize(axis(0, 0, 1));
    const radius = Math.tan((((light.angle ?? 0) / 2) * Math.PI) / 180);
    const [u, v] = DISC[index];
    const [x, y] = [normalize(axis(1, 0, 0)), normalize(axis(0, 1, 0))];
    const aimed = along.map((a, k) => a + radius * (u * x[k] + v * y[k]));
    return { direction: normalize(aimed) as Toward['direction'], distance: Infinity };
  }
  const middle = [transform[3], transform[7], transform[11]];
  const to = middle.map((m, k) => m - from[k]);
  if (kind === 'rectangle' || kind === 'disc') {
    const disc = kind === 'disc';
    const [u, v] = disc ? DISC[index] : SQUARE[index];
    const side = disc ? (light.radius ?? 0.5) : 0.5;
    const offset = axis(u * side * (disc ? 1 : (light.width ?? 1)), v * side * (disc ? 1 : (light.height ?? 1)), 0);
    to.forEach((_, k) => (to[k] += offset[k]));
  } else if (kind === 'sphere') {
    // the disc that the place sees of it
    const [u, v] = DISC[index];
    const [x, y] = acrossOf(normalize(to));
    to.forEach((_, k) => (to[k] += (light.radius ?? 0) * (u * x[k] + v * y[k])));
  }
  const distance = Math.hypot(...to);
  // a light may stand in the place itself: there is no way to it, and any will do
  const direction = distance > 0 ? to.map((c) => c / distance) : [0, 0, 1];
  return { direction: direction as Toward['direction'], distance };
}

/** Two directions across one, of length 1. */
function acrossOf([x, y, z]: number[]): [number[], number[]] {
  const first = normalize(Math.abs(z) < 0.9 ? [-y, x, 0] : [0, -z, y]);
  return [first, [y * first[2] - z * first[1], z * first[0] - x * first[2], x * first[1] - y * first[0]]];
}

/** Cosine between where a light shines and the way from it to a place; suns and points shine everywhere: 1. */
export function shineCosine(light: Light, { direction }: Toward): number {
  if (light.kind === 'sun' || light.kind === 'point' || light.kind === 'sphere') return 1;
  const axis = normalize(transformDirection(light.transform, [0, 0, -1]));
  return -(axis[0] * direction[0] + axis[1] * direction[1] + axis[2] * direction[2]);
}
