import { zeros } from './zeros.js';

/** a + factor · b. */
export function combined(a: Float64Array, b: Float64Array, factor: number): Float64Array {
  const out = zeros(a.length);
  for (let i = 0; i < a.length; i += 1) out[i] = (a[i] as number) + factor * (b[i] as number);
  return out;
}

/** a + b, or a + factor · b. */
export const added = (a: Float64Array, b: Float64Array, factor = 1): Float64Array => combined(a, b, factor);

/** [a b], two matrices of the same number of rows side by side. */
export function concatenated(
  a: Float64Array,
  b: Float64Array,
  rows: number,
  aColumns: number,
  bColumns: number,
): Float64Array {
  const out = zeros(rows * (aColumns + bColumns));
  for (let i = 0; i < rows; i += 1) {
    out.set(a.subarray(i * aColumns, (i + 1) * aColumns), i * (aColumns + bColumns));
    out.set(b.subarray(i * bColumns, (i + 1) * bColumns), i * (aColumns + bColumns) + aColumns);
  }
  return out;
}

/** `count` columns of a matrix from column `from`. */
export function sliceColumns(
  a: Float64Array,
  rows: number,
  columns: number,
  from: number,
  count: number,
): Float64Array {
  const out = zeros(rows * count);
  for (let i = 0; i < rows; i += 1) out.set(a.subarray(i * columns + from, i * columns + from + count), i * count);
  return out;
}
