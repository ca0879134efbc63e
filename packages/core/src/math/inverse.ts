/** Inverse of a symmetric positive definite matrix, by elimination. Meant for a handful of unknowns. */
export function inverse(matrix: number[][]): number[][] {
  const n = matrix.length;
  const rows = matrix.map((row, i) => [...row, ...row.map((_, j) => (i === j ? 1 : 0))]);
  for (let k = 0; k < n; k++) {
    const pivot = rows[k][k];
    for (let j = 0; j < 2 * n; j++) rows[k][j] /= pivot;
    for (let i = 0; i < n; i++) {
      const factor = rows[i][k];
      if (i !== k) for (let j = 0; j < 2 * n; j++) rows[i][j] -= factor * rows[k][j];
    }
  }
  return rows.map((row) => row.slice(n));
}
