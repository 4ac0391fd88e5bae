// Of a pivot, the share of its own that may be left before it counts as nothing.
const NOTHING_LEFT = 1e-14;

/**
 * Solves the normal equations of least squares by Cholesky's way, in place: `a` is symmetric and positive, n by n, packed by rows, of which the upper half is looked at; `b` becomes the
 * solution. False where the unknowns are not told apart. (A fit is a few of these of four to seven unknowns, hundreds of thousands in a mesh: a library's matrices, made anew for
 * each, took a fifth of reading it.)
 */
export function solveNormal(a: Float64Array, b: Float64Array, n: number): boolean {
  for (let j = 0; j < n; j++) {
    const own = a[j * n + j];
    let pivot = own;
    for (let i = 0; i < j; i++) {
      let sum = a[i * n + j];
      for (let k = 0; k < i; k++) sum -= a[k * n + i] * a[k * n + j];
      sum /= a[i * n + i];
      a[i * n + j] = sum;
      pivot -= sum * sum;
    }
    if (!(pivot > NOTHING_LEFT * own)) return false;
    a[j * n + j] = Math.sqrt(pivot);
  }
  for (let j = 0; j < n; j++) {
    let sum = b[j];
    for (let k = 0; k < j; k++) sum -= a[k * n + j] * b[k];
    b[j] = sum / a[j * n + j];
  }
  for (let j = n - 1; j >= 0; j--) {
    let sum = b[j];
    for (let k = j + 1; k < n; k++) sum -= a[j * n + k] * b[k];
    b[j] = sum / a[j * n + j];
  }
  return true;
}
