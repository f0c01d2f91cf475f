/**
 * Small dense linear algebra on row-major Float64Arrays, for the 2 to 30 states of a power stage. Our own because these
 * loops run inside every operating point without allocating; eigenvalues and singular values come from ml-matrix.
 */
import { Matrix, SVD } from 'ml-matrix';
import { zeros } from './zeros.js';

/** out (rows × columns) = a (rows × inner) · b (inner × columns). `out` may not alias an input. */
export function multiply(
  out: Float64Array,
  a: Float64Array,
  b: Float64Array,
  rows: number,
  inner: number,
  columns: number,
): Float64Array {
  // Four columns at a time, their sums in registers: three times as quick as adding up in `out`, by measurement.
  // `as number` instead of a default: every index is in range, and the inner loop runs a million times per stage.
  const inFours = columns - (columns % 4);
  for (let i = 0; i < rows; i += 1) {
    const left = i * inner;
    const to = i * columns;
    for (let j = 0; j < inFours; j += 4) {
      let s0 = 0;
      let s1 = 0;
      let s2 = 0;
      let s3 = 0;
      for (let k = 0, at = j; k < inner; k += 1, at += columns) {
        const factor = a[left + k] as number;
        s0 += factor * (b[at] as number);
        s1 += factor * (b[at + 1] as number);
        s2 += factor * (b[at + 2] as number);
        s3 += factor * (b[at + 3] as number);
      }
      out[to + j] = s0;
      out[to + j + 1] = s1;
      out[to + j + 2] = s2;
      out[to + j + 3] = s3;
    }
    for (let j = inFours; j < columns; j += 1) {
      let sum = 0;
      for (let k = 0, at = j; k < inner; k += 1, at += columns) sum += (a[left + k] as number) * (b[at] as number);
      out[to + j] = sum;
    }
  }
  return out;
}

/** A new matrix a (rows × inner) · b (inner × columns). */
export function product(a: Float64Array, b: Float64Array, rows: number, inner: number, columns: number): Float64Array {
  return multiply(zeros(rows * columns), a, b, rows, inner, columns);
}

/** The scalar product of two vectors of the same length. */
export function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i += 1) sum += (a[i] as number) * (b[i] as number);
  return sum;
}

/** The bilinear form a' W b for a square row-major W. */
export function bilinear(a: Float64Array, w: Float64Array, b: Float64Array): number {
  const n = a.length;
  let sum = 0;
  for (let i = 0; i < n; i += 1) {
    const left = a[i] ?? 0;
    if (left === 0) continue;
    let row = 0;
    for (let j = 0; j < n; j += 1) row += (w[i * n + j] as number) * (b[j] as number);
    sum += left * row;
  }
  return sum;
}

export function identity(n: number): Float64Array {
  const out = zeros(n * n);
  for (let i = 0; i < n; i += 1) out[i * n + i] = 1;
  return out;
}

/** Pivots smaller than this, after rows and columns are scaled to one, count as zero. Double precision leaves about 1e-16. */
const RANK_TOLERANCE = 1e-11;

/** Row and column scales that bring the largest entry of every row and column near one. */
export function equilibration(
  a: Float64Array,
  n: number,
): { readonly rows: Float64Array; readonly columns: Float64Array } {
  const rows = zeros(n).fill(1);
  const columns = zeros(n).fill(1);
  for (let pass = 0; pass < 3; pass += 1) {
    for (let i = 0; i < n; i += 1) {
      let largest = 0;
      for (let j = 0; j < n; j += 1) largest = Math.max(largest, Math.abs(a[i * n + j] ?? 0) * (columns[j] ?? 1));
      if (largest > 0) rows[i] = 1 / largest;
    }
    for (let j = 0; j < n; j += 1) {
      let largest = 0;
      for (let i = 0; i < n; i += 1) largest = Math.max(largest, Math.abs(a[i * n + j] ?? 0) * (rows[i] ?? 1));
      if (largest > 0) columns[j] = 1 / largest;
    }
  }
  return { rows, columns };
}

/**
 * Solve a · x = b for several right-hand sides by elimination with full pivoting on the scaled matrix.
 *
 * @param a square, n × n; b: n × columns.
 * @returns x (n × columns), or undefined when `a` has no full rank.
 */
export function solveRegular(a: Float64Array, b: Float64Array, n: number, columns: number): Float64Array | undefined {
  const scale = equilibration(a, n);
  const m = zeros(n * n);
  const x = zeros(n * columns);
  for (let i = 0; i < n; i += 1) {
    const r = scale.rows[i] ?? 1;
    for (let j = 0; j < n; j += 1) m[i * n + j] = (a[i * n + j] ?? 0) * r * (scale.columns[j] ?? 1);
    for (let j = 0; j < columns; j += 1) x[i * columns + j] = (b[i * columns + j] ?? 0) * r;
  }
  const order = Array.from({ length: n }, (_, i) => i);
  const at = (i: number, j: number): number => m[i * n + j] ?? 0;
  for (let k = 0; k < n; k += 1) {
    let pivotRow = k;
    let pivotColumn = k;
    for (let i = k; i < n; i += 1) {
      for (let j = k; j < n; j += 1) {
        if (Math.abs(at(i, j)) > Math.abs(at(pivotRow, pivotColumn))) {
          pivotRow = i;
          pivotColumn = j;
        }
      }
    }
    if (!(Math.abs(at(pivotRow, pivotColumn)) > RANK_TOLERANCE)) return undefined;
    swapRows(m, n, k, pivotRow);
    swapRows(x, columns, k, pivotRow);
    if (pivotColumn !== k) {
      for (let i = 0; i < n; i += 1) {
        const held = at(i, k);
        m[i * n + k] = at(i, pivotColumn);
        m[i * n + pivotColumn] = held;
      }
      const held = order[k] ?? k;
      order[k] = order[pivotColumn] ?? pivotColumn;
      order[pivotColumn] = held;
    }
    for (let i = k + 1; i < n; i += 1) {
      const factor = at(i, k) / at(k, k);
      if (factor === 0) continue;
      for (let j = k; j < n; j += 1) m[i * n + j] = at(i, j) - factor * at(k, j);
      for (let j = 0; j < columns; j += 1)
        x[i * columns + j] = (x[i * columns + j] ?? 0) - factor * (x[k * columns + j] ?? 0);
    }
  }
  const out = zeros(n * columns);
  for (let c = 0; c < columns; c += 1) {
    for (let i = n - 1; i >= 0; i -= 1) {
      let sum = x[i * columns + c] ?? 0;
      for (let j = i + 1; j < n; j += 1) sum -= at(i, j) * (x[j * columns + c] ?? 0);
      x[i * columns + c] = sum / at(i, i);
    }
    for (let i = 0; i < n; i += 1) {
      const target = order[i] ?? i;
      out[target * columns + c] = (x[i * columns + c] ?? 0) * (scale.columns[target] ?? 1);
    }
  }
  return out;
}

function swapRows(a: Float64Array, width: number, i: number, j: number): void {
  if (i === j) return;
  for (let k = 0; k < width; k += 1) {
    const held = a[i * width + k] ?? 0;
    a[i * width + k] = a[j * width + k] ?? 0;
    a[j * width + k] = held;
  }
}

/** A singular matrix taken apart: its pseudo-inverse and the vectors it cannot see, all n × something, row-major. */
export interface SingularParts {
  readonly pseudoInverse: Float64Array;
  /** Left null vectors, one per row (nullity × n). */
  readonly left: Float64Array;
  /** Right null vectors, one per column (n × nullity). */
  readonly right: Float64Array;
  readonly nullity: number;
}

/** Singular value decomposition of a rows × columns matrix, split at {@link RANK_TOLERANCE} of the largest value. */
export function singularParts(a: Float64Array, rows: number, columns: number): SingularParts {
  // ml-matrix wants at least as many rows as columns; padding with zero rows changes nothing that is used.
  const tall = Math.max(rows, columns);
  const matrix = Matrix.zeros(tall, columns);
  for (let i = 0; i < rows; i += 1) for (let j = 0; j < columns; j += 1) matrix.set(i, j, a[i * columns + j] ?? 0);
  const svd = new SVD(matrix);
  const u = svd.leftSingularVectors;
  const v = svd.rightSingularVectors;
  const s = svd.diagonal;
  const cut = RANK_TOLERANCE * Math.max(...s, Number.MIN_VALUE);
  const pseudoInverse = new Float64Array(columns * rows);
  const zero: number[] = [];
  s.forEach((value, k) => {
    if (value <= cut) {
      zero.push(k);
      return;
    }
    for (let i = 0; i < columns; i += 1) {
      for (let j = 0; j < rows; j += 1) {
        pseudoInverse[i * rows + j] = (pseudoInverse[i * rows + j] ?? 0) + (v.get(i, k) * u.get(j, k)) / value;
      }
    }
  });
  const nullity = zero.length;
  const left = new Float64Array(nullity * rows);
  const right = new Float64Array(columns * nullity);
  zero.forEach((k, row) => {
    for (let j = 0; j < rows; j += 1) left[row * rows + j] = u.get(j, k);
    for (let i = 0; i < columns; i += 1) right[i * nullity + row] = v.get(i, k);
  });
  return { pseudoInverse, left, right, nullity };
}

/** Solve a · x = b, falling back to the least-squares solution of smallest norm when `a` has no full rank. */
export function solveSquare(a: Float64Array, b: Float64Array, n: number): Float64Array {
  return solveRegular(a, b, n, 1) ?? product(singularParts(a, n, n).pseudoInverse, b, n, n, 1);
}
