import type { Light } from '../../scene/index.ts';

/** Closer than this share of their distance from the origin two lights stand at one place. */
const SAME_PLACE = 1e-3;
/** Cosine of the angle, 0.5 degrees, below which two suns shine the same way. */
const SAME_WAY = Math.cos((0.5 * Math.PI) / 180);

/** Pairs of lights of one kind that stand at one place and shine the same way: each after the first of its kind there. */
export function doubledLights(lights: Record<string, Light>): { id: string; of: string }[] {
  const shining = Object.entries(lights).filter(([, { strength }]) => strength > 0);
  return shining.flatMap(([id, light], i) => {
    const first = shining.slice(0, i).find(([, other]) => isSame(light, other));
    return first ? [{ id, of: first[0] }] : [];
  });
}

function isSame(a: Light, b: Light): boolean {
  if (a.kind !== b.kind) return false;
  const axis = ({ transform: m }: Light) => [m[2], m[6], m[10]];
  const [p, q] = [axis(a), axis(b)];
  const cosine = p.reduce((sum, v, k) => sum + v * q[k], 0) / (Math.hypot(...p) * Math.hypot(...q));
  if (a.kind === 'sun') return cosine >= SAME_WAY;
  const place = ({ transform: m }: Light) => [m[3], m[7], m[11]];
  const [from, to] = [place(a), place(b)];
  const apart = Math.hypot(...from.map((v, k) => v - to[k]));
  const isRound = a.kind === 'point' || a.kind === 'sphere';
  return apart <= SAME_PLACE * Math.max(1, Math.hypot(...from)) && (isRound || cosine >= SAME_WAY);
}
