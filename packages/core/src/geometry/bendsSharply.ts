import { weld } from './weld.ts';

/** Share of the edges that a smooth body may have bent: a lip, a seam. No source. */
const SOME = 0.01;

/** Whether more than a few edges of a mesh bend by more than an angle: smoothing would make another body of it. @param angle degrees */
export function bendsSharply(
  { indices, positions }: { indices: ArrayLike<number>; positions: Float32Array },
  angle: number,
): boolean {
  // prettier-ignore
  const corner = weld(positions);
  const least = Math.cos((angle * Math.PI) / 180);
  const normals = new Map<number, number[]>();
  let [edges, sharp] = [0, 0];
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => corner[indices[t + k]]);
    const from = (p: number, q: number) => [0, 1, 2].map((k) => positions[q * 3 + k] - positions[p * 3 + k]);
    const [d, e] = [from(a, b), from(a, c)];
    const normal = [d[1] * e[2] - d[2] * e[1], d[2] * e[0] - d[0] * e[2], d[0] * e[1] - d[1] * e[0]];
    const size = Math.hypot(...normal);
    if (size === 0) continue;
    for (const [p, q] of [
      [a, b],
      [b, c],
      [c, a],
    ]) {
      // prettier-ignore
      const key = Math.min(p, q) * corner.length + Math.max(p, q);
      const other = normals.get(key);
      if (!other) {
        normals.set(key, normal.map((v) => v / size)); // prettier-ignore
        continue;
      }
      edges++;
      if (other.reduce((sum, v, k) => sum + (v * normal[k]) / size, 0) < least) sharp++;
    }
  }
  return sharp > SOME * edges;
}
