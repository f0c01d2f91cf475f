import { describe, expect, test } from '@jest/globals';
import type { Corner } from './corners.js';
import { worstVerdict, type Actual, type Judged } from './worstVerdict.js';

const corner = (inputVoltage: number): Corner => ({ inputVoltage, outputCurrent: 1, temperature: 25 });
const AT_MOST: Judged = {
  target: 'outputRipple',
  quantity: 'output ripple',
  unit: 'V',
  sense: 'at-most',
  required: 10,
  figure: 'outputRipple',
};
const at = (...actuals: readonly Actual['actual'][]): readonly Actual[] =>
  actuals.map((actual, k) => ({ corner: corner(k), actual }));
const judged = (...actuals: readonly Actual['actual'][]) => worstVerdict(AT_MOST, at(...actuals));

describe('the verdict of the worst corner', () => {
  test('is that of the smallest margin, whichever corner comes first', () => {
    expect(judged(5, 9, 7)).toMatchObject({ worst: 9, pass: true, corner: corner(1) });
    expect(judged(9, 5, 7)).toMatchObject({ worst: 9, corner: corner(0) });
    expect(judged(5, 7, 9)).toMatchObject({ worst: 9, corner: corner(2) });
    expect(judged(5, 7, 9)?.margin).toBeCloseTo(0.1, 12);
  });
  test('is of the first of corners that are equal but for rounding', () => {
    expect(judged(9, 9, 5)?.corner).toEqual(corner(0));
    expect(judged(9, 9 * (1 + 1e-12))?.corner).toEqual(corner(0));
    expect(judged(9, 9 * (1 + 1e-6))?.corner).toEqual(corner(1));
  });
  test('holds at the limit itself, and fails beyond it', () => {
    expect(judged(10)?.pass).toBe(true);
    expect(judged(10.001)?.pass).toBe(false);
  });
  test('passes over corners at which the target says nothing, and is none where all say nothing', () => {
    expect(judged(undefined, 4, undefined)).toMatchObject({ worst: 4, corner: corner(1) });
    expect(judged(undefined, undefined)).toBeUndefined();
    expect(judged()).toBeUndefined();
  });
  test('fails where a corner has no figure, with its reason, whatever the others say', () => {
    expect(judged(5, { reason: 'runs away' }, 20)).toEqual({
      target: 'outputRipple',
      quantity: 'output ripple',
      unit: 'V',
      sense: 'at-most',
      required: 10,
      figure: 'outputRipple',
      worst: null,
      margin: null,
      pass: false,
      corner: corner(1),
      reason: 'runs away',
    });
  });
});
