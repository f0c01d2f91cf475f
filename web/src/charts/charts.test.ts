import { describe, expect, test } from '@jest/globals';
import { niceTicks } from './niceTicks';
import { changeBetween, repeated, valueAtTime } from './traces';

describe('ticks', () => {
  test.each([
    [13.09, 18.49, 4, [14, 16, 18]],
    [-9.8e-4, 1.01e-3, 4, [-5e-4, 0, 5e-4]],
    [-1.2, 12.6, 4, [0, 5, 10]],
    [5, 5, 4, []],
  ])('%d to %d, at most %d', (min, max, most, expected) => {
    expect(niceTicks(min, max, most)).toEqual(expected);
  });
});

describe('traces', () => {
  const saw = { time: [0, 1, 1, 2], value: [0, 10, 4, 0] };
  test('repeat over periods', () => {
    expect(repeated(saw, 2, 2).map(({ x }) => x)).toEqual([0, 1, 1, 2, 2, 3, 3, 4]);
  });
  test('values between points, at an edge and in a later period', () => {
    expect(valueAtTime(saw, 2, 0.25)).toBe(2.5);
    expect(valueAtTime(saw, 2, 1.5)).toBe(2);
    expect(valueAtTime(saw, 2, 4.25)).toBe(2.5);
    expect(valueAtTime(saw, 2, 1)).toBe(4);
  });
  test('rounding is no change', () => {
    const flat = { time: [0, 1], value: [12, 12.000000000001] };
    expect(changeBetween(flat, 1, 0, 0.9)).toBe(0);
    expect(changeBetween(saw, 2, 0, 0.5)).toBe(5);
  });
});
