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
