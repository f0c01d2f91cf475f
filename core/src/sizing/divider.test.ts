import { describe, expect, test } from '@jest/globals';
import { dividers } from './divider.js';

const task = {
  vOut: 3.3,
  reference: 0.6,
  series: ['E96'] as const,
  lower: 10e3,
  resistorTolerance: 0.01,
  referenceTolerance: 0.005,
  bias: 0,
};

describe('feedback divider', () => {
  test('the nearest pairs come first, from the series, about the resistor wanted', () => {
    const found = dividers(task);
    expect(found).toHaveLength(5);
    const errors = found.map(({ error }) => Math.abs(error));
    expect([...errors].sort((a, b) => a - b)).toEqual(errors);
    for (const { lower, upper, output } of found) {
      expect(lower).toBeGreaterThanOrEqual(10e3 / 3);
      expect(lower).toBeLessThanOrEqual(30e3);
      expect(output.value).toBeCloseTo(0.6 * (1 + upper / lower), 12);
    }
    // 10 kΩ with the nearest upper resistor is off by 0.55 % (worked example); a rounding in the series does better.
    expect(errors[0]).toBeLessThan(0.0034);
  });
  test('an exact pair of the coarser series is found beside the finer one', () => {
    // 3.3 V of 0.8 V asks for 3.125 to one: 75 kΩ over 24 kΩ, which E96 does not have.
    const [first] = dividers({ ...task, reference: 0.8, lower: 24e3, series: ['E96', 'E24'] });
    expect(first).toMatchObject({ upper: 75e3, lower: 24e3 });
    expect(first?.error).toBeCloseTo(0, 9);
  });
  test('worst case and root of squares, with the factor 1 − Vref/Vout', () => {
    const [first] = dividers(task);
    expect(first?.worstCase.value).toBeCloseTo(0.005 + 2 * 0.01 * (1 - 0.6 / 3.3), 12);
    expect(first?.likely.value).toBeCloseTo(Math.hypot(0.005, Math.SQRT2 * 0.01 * (1 - 0.6 / 3.3)), 12);
  });
  test('the exact extremes of the tolerances agree with the worst case to first order', () => {
    const [first] = dividers({ ...task, resistorTolerance: 1e-4, referenceTolerance: 1e-4 });
    if (!first) throw new Error('none');
    const high = 0.6 * (1 + 1e-4) * (1 + (first.upper * (1 + 1e-4)) / (first.lower * (1 - 1e-4)));
    expect(high / first.output.value - 1).toBeCloseTo(first.worstCase.value, 6);
  });
  test('a bias current is reckoned with; an output below the reference has no divider', () => {
    const [first] = dividers({ ...task, bias: 1e-6 });
    expect(Math.abs(first?.error ?? 1)).toBeLessThan(0.005);
    expect(dividers({ ...task, vOut: 0.5 })).toEqual([]);
  });
});
