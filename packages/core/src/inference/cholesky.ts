/**
 * Solves A x = b for a symmetric positive definite A by its Cholesky factor (Golub and Van Loan, Matrix Computations, 4.2).
 * @param matrix row by row, `count` squared; overwritten by the factor
 * @returns the solution, and the natural logarithm of A's determinant
 */
export function solveSymmetric(
  matrix: Float64Array,
  right: Float64Array,
  count: number,
): { readonly solution: Float64Array; readonly logDeterminant: number } {
  let logDeterminant = 0;
  for (let j = 0; j < count; j++) {
    for (let i = j; i < count; i++) {
      let sum = matrix[i * count + j];
      for (let k = 0; k < j; k++) sum -= matrix[i * count + k] * matrix[j * count + k];
      matrix[i * count + j] = i === j ? Math.sqrt(Math.max(sum, Number.EPSILON)) : sum / matrix[j * count + j];
    }
    logDeterminant += 2 * Math.log(matrix[j * count + j]);
  }
  const solution = right.slice();
  for (let i = 0; i < count; i++) {
    for (let k = 0; k < i; k++) solution[i] -= matrix[i * count + k] * solution[k];
    solution[i] /= matrix[i * count + i];
  }
  for (let i = count - 1; i >= 0; i--) {
    for (let k = i + 1; k < count; k++) solution[i] -= matrix[k * count + i] * solution[k];
    solution[i] /= matrix[i * count + i];
  }
  return { solution, logDeterminant };
}
