import { expect, test } from '@jest/globals';
import { meritOf, takenBy, type Figures, type Objective } from './merit.js';

const figures = (more: Partial<Figures> = {}): Figures => ({ loss: 4, area: 1e-3, price: 10, ...more });
/** Whether one design is better than another by an objective. */
const better = (one: Partial<Figures>, objective: Objective): boolean =>
  meritOf(figures(one), objective) < meritOf(figures(), objective);

test('less of each is better by every objective', () => {
  for (const objective of ['balanced', 'efficiency', 'size', 'cost'] as const)
    for (const less of [{ loss: 3.9 }, { area: 0.9e-3 }, { price: 9.5 }]) expect(better(less, objective)).toBe(true);
});
test('what an objective asks for outweighs twice as much of the others', () => {
  expect(better({ loss: 3, area: 2e-3, price: 20 }, 'efficiency')).toBe(true);
  expect(better({ loss: 8, area: 0.7e-3, price: 20 }, 'size')).toBe(true);
  expect(better({ loss: 8, area: 2e-3, price: 7 }, 'cost')).toBe(true);
});
test('balanced, a tenth more loss must save about a fifth of the board', () => {
  expect(better({ loss: 4.4, area: 0.75e-3 }, 'balanced')).toBe(true);
  expect(better({ loss: 4.4, area: 0.9e-3 }, 'balanced')).toBe(false);
});
test('equal parts count each, and what a record does not state is no advantage', () => {
  const part = { name: 'M1', onResistance: 0.01, length: 5e-3, width: 4e-3, price: 0.5 };
  // (5 + 0.5) mm · (4 + 0.5) mm; 0.02 to place it.
  expect(takenBy(part).area).toBeCloseTo(24.75e-6, 12);
  expect(takenBy(part).price).toBeCloseTo(0.52, 12);
  expect(takenBy({ ...part, count: 2 }, 3).area).toBeCloseTo(6 * 24.75e-6, 12);
  const { length, price, ...silent } = part;
  expect(takenBy(silent).area).toBeGreaterThan(takenBy({ ...silent, length }).area);
  expect(takenBy(silent).price).toBeGreaterThan(takenBy({ ...silent, price }).price);
});
