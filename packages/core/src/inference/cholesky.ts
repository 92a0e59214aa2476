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
    const above = j * count;
    for (let i = j; i < count; i++) {
      const line = i * count;
      let sum = matrix[line + j];
      for (let k = 0; k < j; k++) sum -= matrix[line + k] * matrix[above + k];
      matrix[line + j] = i === j ? Math.sqrt(Math.max(sum, Number.EPSILON)) : sum / matrix[above + j];
    }
    logDeterminant += 2 * Math.log(matrix[above + j]);
  }
  const solution = right.slice();
  for (let i = 0; i < count; i++) {
    const line = i * count;
    let sum = solution[i];
    for (let k = 0; k < i; k++) sum -= matrix[line + k] * solution[k];
    solution[i] = sum / matrix[line + i];
  }
  for (let i = count - 1; i >= 0; i--) {
    let sum = solution[i];
    for (let k = i + 1; k < count; k++) sum -= matrix[k * count + i] * solution[k];
    solution[i] = sum / matrix[i * count + i];
  }
  return { solution, logDeterminant };
}
