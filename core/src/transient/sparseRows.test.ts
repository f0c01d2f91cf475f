import { expect, test } from '@jest/globals';
import { SparseRows } from './sparseRows.js';

test('rows give what they give with their nothings, empty ones and full ones too', () => {
  const rows = [
    [0, 2, 0],
    [0, 0, 0],
    [1, -1, 3],
    [0, 0, 4],
  ].map((row) => Float64Array.from(row));
  const out = new Float64Array(4).fill(NaN);
  new SparseRows(rows).at(out, Float64Array.from([5, 7, 11]));
  expect([...out]).toEqual([14, 0, 5 - 7 + 33, 44]);
});
