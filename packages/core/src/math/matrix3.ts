// 3 x 3 matrices as 9 numbers, row by row.

export function multiplyMatrix3(a: ArrayLike<number>, b: ArrayLike<number>): number[] {
  return [0, 3, 6].flatMap((r) => [0, 1, 2].map((c) => a[r] * b[c] + a[r + 1] * b[c + 3] + a[r + 2] * b[c + 6]));
}

/** @throws RangeError where the matrix is singular */
export function invertMatrix3(m: ArrayLike<number>): number[] {
  const minor = (r: number, c: number) => {
    const [r1, r2] = [(r + 1) % 3, (r + 2) % 3];
    const [c1, c2] = [(c + 1) % 3, (c + 2) % 3];
    return m[r1 * 3 + c1] * m[r2 * 3 + c2] - m[r1 * 3 + c2] * m[r2 * 3 + c1];
  };
  const det = m[0] * minor(0, 0) + m[1] * minor(0, 1) + m[2] * minor(0, 2);
  if (!Number.isFinite(1 / det)) throw new RangeError('the matrix is singular');
  return [0, 1, 2].flatMap((r) => [0, 1, 2].map((c) => minor(c, r) / det));
}
