import { expect, test } from '@jest/globals';
import { coverageHalfWidth } from './coverageInterval.js';
import { propagate } from './propagate.js';
import { meanOf } from './typeA.js';

// The worked examples of the guide (JCGM 100:2008, H.1, H.2; JCGM 101:2008, 9.2) are in core/validation/uncertainty.ts.

test('a mean of readings: s over the root of their number (JCGM 100:2008, 4.2.3)', () => {
  const { value, standard, degrees } = meanOf([9, 11, 10, 12, 8]);
  expect(value).toBe(10);
  expect(standard).toBeCloseTo(Math.sqrt(2.5 / 5), 12);
  expect(degrees).toBe(4);
});

test('a product of independent quantities: relative uncertainties add as squares (JCGM 100:2008, 5.1.6)', () => {
  const { values, standard, sensitivities } = propagate(
    [
      { value: 12, standard: 0.12 },
      { value: 2, standard: 0.06 },
    ],
    ([v = 0, i = 0]) => [v * i],
  );
  expect(values[0]).toBe(24);
  expect((standard[0] ?? 0) / 24).toBeCloseTo(Math.hypot(0.01, 0.03), 9);
  expect(sensitivities[0]?.[0]).toBeCloseTo(2, 9);
});

test('two quantities that err together: errors add or cancel (JCGM 100:2008, 5.2.2, note 1)', () => {
  const inputs = [
    { value: 5, standard: 0.1 },
    { value: 3, standard: 0.1 },
  ];
  const together = [
    [1, 1],
    [1, 1],
  ];
  const { standard } = propagate(inputs, ([a = 0, b = 0]) => [a + b, a - b], together);
  expect(standard[0]).toBeCloseTo(0.2, 9);
  expect(standard[1]).toBeCloseTo(0, 9);
});

test('a quantity without uncertainty adds none, and its derivative is found all the same', () => {
  const { standard, sensitivities, degrees } = propagate([{ value: 4, standard: 0 }], ([a = 0]) => [a * a]);
  expect(standard[0]).toBe(0);
  expect(sensitivities[0]?.[0]).toBeCloseTo(8, 5);
  expect(degrees[0]).toBe(Infinity);
});

test('normal errors alone are covered by 1.96 u, one rectangular alone by 1.65 u (JCGM 100:2008, 4.3.9, note 1)', () => {
  const half = (shape: 'normal' | 'rectangular'): number => coverageHalfWidth([{ words: '', standard: 1, shape }]);
  expect(Math.abs(half('normal') - 1.96)).toBeLessThan(0.03);
  expect(Math.abs(half('rectangular') - 0.95 * Math.sqrt(3))).toBeLessThan(0.01);
  expect(coverageHalfWidth([])).toBe(0);
});
