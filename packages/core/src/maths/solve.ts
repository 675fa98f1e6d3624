/**
 * Solves the symmetric positive definite system `a · x = b` in place by Cholesky decomposition.
 * @param a row-major n × n; destroyed
 * @returns x, or `null` when the matrix is singular
 */
export const solveSymmetric = (a: Float64Array, b: Float64Array): Float64Array | null => {
  const n = b.length;
  for (let i = 0; i < n; i++) {
    for (let j = 0; j <= i; j++) {
      let sum = a[i * n + j];
      for (let k = 0; k < j; k++) sum -= a[i * n + k] * a[j * n + k];
      if (i === j) {
        if (sum <= 1e-12) return null;
        a[i * n + i] = Math.sqrt(sum);
      } else a[i * n + j] = sum / a[j * n + j];
    }
  }
  const x = Float64Array.from(b);
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < i; k++) x[i] -= a[i * n + k] * x[k];
    x[i] /= a[i * n + i];
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let k = i + 1; k < n; k++) x[i] -= a[k * n + i] * x[k];
    x[i] /= a[i * n + i];
  }
  return x;
};

/**
 * Solves a symmetric positive definite band system for several right sides, in place, by Cholesky decomposition.
 * @param bands `bands[k][i]` holds the entry of row i and column i − k; destroyed
 * @param rights each is overwritten by its solution
 */
export const solveBanded = (bands: readonly Float64Array[], rights: readonly Float64Array[]): void => {
  const width = bands.length - 1;
  const n = bands[0].length;
  for (let i = 0; i < n; i++)
    for (let j = Math.max(0, i - width); j <= i; j++) {
      let sum = bands[i - j][i];
      for (let k = Math.max(0, i - width); k < j; k++) sum -= bands[i - k][i] * bands[j - k][j];
      bands[i - j][i] = i === j ? Math.sqrt(Math.max(1e-300, sum)) : sum / bands[0][j];
    }
  for (const x of rights) {
    for (let i = 0; i < n; i++) {
      for (let k = Math.max(0, i - width); k < i; k++) x[i] -= bands[i - k][i] * x[k];
      x[i] /= bands[0][i];
    }
    for (let i = n - 1; i >= 0; i--) {
      for (let k = i + 1; k <= Math.min(n - 1, i + width); k++) x[i] -= bands[k - i][k] * x[k];
      x[i] /= bands[0][i];
    }
  }
};
