// Affine transforms as 12 numbers, row by row: // 0..3 x row, 4..7 y row, 8..11 z row; the fourth of each row is the translation
export type Affine = ArrayLike<number>;

/** From a column-major 4 x 4 matrix (the order of glTF) to 12 numbers row by row. */
export function affineFromColumns(m: ArrayLike<number>): number[] {
  return [m[0], m[4], m[8], m[12], m[1], m[5], m[9], m[13], m[2], m[6], m[10], m[14]];
}

/** From a translation, a unit quaternion (x, y, z, w) and a scale. */
export function affineFromParts(t: ArrayLike<number>, q: ArrayLike<number>, s: ArrayLike<number>): number[] {
  const [x, y, z, w] = [q[0], q[1], q[2], q[3]];
  const rows = [
    [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)],
    [2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)],
    [2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)],
  ];
  return rows.flatMap((row, i) => [row[0] * s[0], row[1] * s[1], row[2] * s[2], t[i]]);
}

/** The transform that does b first, then a. */
export function multiplyAffine(a: Affine, b: Affine): number[] {
  return [0, 4, 8].flatMap((r) =>
    [0, 1, 2, 3].map((c) => a[r] * b[c] + a[r + 1] * b[c + 4] + a[r + 2] * b[c + 8] + (c === 3 ? a[r + 3] : 0)),
  );
}

export function determinant(a: Affine): number {
  return a[0] * (a[5] * a[10] - a[6] * a[9]) - a[1] * (a[4] * a[10] - a[6] * a[8]) + a[2] * (a[4] * a[9] - a[5] * a[8]);
}

/** Inverse of an affine transform. Throws a RangeError where the matrix is singular. */
export function invertAffine(a: Affine): number[] {
  const det = determinant(a);
  if (!Number.isFinite(1 / det)) throw new RangeError('the transform is singular');
  const i = [
    (a[5] * a[10] - a[6] * a[9]) / det,
    (a[2] * a[9] - a[1] * a[10]) / det,
    (a[1] * a[6] - a[2] * a[5]) / det,
    (a[6] * a[8] - a[4] * a[10]) / det,
    (a[0] * a[10] - a[2] * a[8]) / det,
    (a[2] * a[4] - a[0] * a[6]) / det,
    (a[4] * a[9] - a[5] * a[8]) / det,
    (a[1] * a[8] - a[0] * a[9]) / det,
    (a[0] * a[5] - a[1] * a[4]) / det,
  ];
  const row = (r: number) => [i[r], i[r + 1], i[r + 2], -(i[r] * a[3] + i[r + 1] * a[7] + i[r + 2] * a[11])];
  return [...row(0), ...row(3), ...row(6)];
}

const IDENTITY = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0];

export function isIdentity(a: Affine): boolean {
  return IDENTITY.every((value, i) => a[i] === value);
}

/** Transform at `share` (0..1) of the way through evenly spaced keys, number by number, into out[0..11]. */
export function blendAffine(
  keys: ArrayLike<number>,
  first: number,
  count: number,
  share: number,
  out: Float64Array,
): void {
  const place = Math.min(1, Math.max(0, share)) * (count - 1);
  const key = Math.min(count - 2, Math.floor(place));
  const at = first + key * 12;
  for (let k = 0; k < 12; k++) out[k] = keys[at + k] + (place - key) * (keys[at + 12 + k] - keys[at + k]);
}

/** The inverse of invertAffine's kind, without allocation and without a check, into out[0..11]. */
export function invertAffineInto(a: ArrayLike<number>, out: Float64Array): void {
  const c0 = a[5] * a[10] - a[6] * a[9];
  const c1 = a[6] * a[8] - a[4] * a[10];
  const c2 = a[4] * a[9] - a[5] * a[8];
  const inverse = 1 / (a[0] * c0 + a[1] * c1 + a[2] * c2);
  out[0] = c0 * inverse;
  out[1] = (a[2] * a[9] - a[1] * a[10]) * inverse;
  out[2] = (a[1] * a[6] - a[2] * a[5]) * inverse;
  out[4] = c1 * inverse;
  out[5] = (a[0] * a[10] - a[2] * a[8]) * inverse;
  out[6] = (a[2] * a[4] - a[0] * a[6]) * inverse;
  out[8] = c2 * inverse;
  out[9] = (a[1] * a[8] - a[0] * a[9]) * inverse;
  out[10] = (a[0] * a[5] - a[1] * a[4]) * inverse;
  for (let r = 0; r < 12; r += 4) out[r + 3] = -(out[r] * a[3] + out[r + 1] * a[7] + out[r + 2] * a[11]);
}

export function transformPoint(a: Affine, p: ArrayLike<number>): [number, number, number] {
  const [x, y, z] = [p[0], p[1], p[2]];
  return [
    a[0] * x + a[1] * y + a[2] * z + a[3],
    a[4] * x + a[5] * y + a[6] * z + a[7],
    a[8] * x + a[9] * y + a[10] * z + a[11],
  ];
}

export function transformDirection(a: Affine, d: ArrayLike<number>): [number, number, number] {
  const [x, y, z] = [d[0], d[1], d[2]];
  return [a[0] * x + a[1] * y + a[2] * z, a[4] * x + a[5] * y + a[6] * z, a[8] * x + a[9] * y + a[10] * z];
}

export function normalize(v: ArrayLike<number>): [number, number, number] {
  const length = Math.hypot(v[0], v[1], v[2]) || 1;
  return [v[0] / length, v[1] / length, v[2] / length];
}
