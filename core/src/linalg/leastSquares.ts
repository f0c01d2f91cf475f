import { Matrix, QrDecomposition } from 'ml-matrix';

/**
 * The x that comes nearest to A x = b, with at least as many rows as columns, by QR.
 *
 * @param a rows × columns, of full rank.
 */
export function leastSquares(a: Float64Array, b: Float64Array, rows: number, columns: number): Float64Array {
  // Columns of one size, so that volts and amperes count alike.
  const scale = new Float64Array(columns);
  for (let j = 0; j < columns; j += 1) {
    let sum = 0;
    for (let i = 0; i < rows; i += 1) sum += (a[i * columns + j] as number) ** 2;
    scale[j] = sum > 0 ? 1 / Math.sqrt(sum) : 1;
  }
  const scaled = a.map((value, at) => value * (scale[at % columns] as number));
  const solved = new QrDecomposition(Matrix.from1DArray(rows, columns, scaled)).solve(Matrix.columnVector(b));
  return Float64Array.from(scale, (value, j) => value * solved.get(j, 0));
}
