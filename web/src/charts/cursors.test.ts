import { describe, expect, test } from '@jest/globals';
import { cursorWords, withCursor } from './cursors';
import type { Axis, Curve } from './curves';

const x: Axis = { words: 'time', unit: 's', min: 0, max: 1e-3 };
const y: Axis = { words: 'voltage', unit: 'V', min: 0, max: 10 };
const ramp: Curve = { words: 'output', x: [0, 1e-3], y: [0, 10], colour: '--trace-1', dash: [] };

describe('cursors of a picture', () => {
  test('the third takes the place of both', () => {
    expect(withCursor([], 1)).toEqual([1]);
    expect(withCursor([1], 2)).toEqual([1, 2]);
    expect(withCursor([1, 2], 3)).toEqual([3]);
  });
  test('one says where it stands; two say how far apart, at what frequency, and how the curves differ', () => {
    const plain = (text: string): string => text.replace(/\s/g, ' ');
    expect(plain(cursorWords([2e-4], { x, y, curves: [ramp] }))).toBe('A 200.0 µs');
    expect(plain(cursorWords([2e-4, 7e-4], { x, y, curves: [ramp] }))).toBe(
      'A 200.0 µs, B 700.0 µs, from A to B 500.0 µs (2.000 kHz), output 5.000 V',
    );
  });
});
