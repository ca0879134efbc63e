// Affine transforms as 12 numbers, row by row: // 0..3 x row, 4..7 y row, 8..11 z row; the fourth of each row is the translation
export type Affine = ArrayLike<number>;

/** From a column-major 4 x 4 matrix (the order of glTF) to 12 numbers row by row. */
export function affineFromColumns(m: ArrayLike<number>): number[] {
  return [m[0], m[4], m[8], m[12], m[1], m[5], m[9], m[13], m[2], m[6], m[10], m[14]];
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
