import { describe, expect, test } from '@jest/globals';
import { beyond, type Axis, type Curve } from './curves';
import { labelPlaces } from './labelPlaces';
import { pictureAsCsv, pictureInWords, readAt, valueAt, written } from './reading';

const axis = (unit: Axis['unit'], words: string, min: number, max: number, logarithmic = false): Axis => ({
  unit,
  words,
  min,
  max,
  logarithmic,
});
const curve = (words: string, x: readonly number[], y: readonly (number | undefined)[]): Curve => ({
  words,
  x,
  y,
  colour: '--trace-1',
  dash: [],
});

describe('a picture read off', () => {
  const line = curve('gain', [1, 10, 100], [0, 20, 40]);
  test('between points, along a linear and a logarithmic axis', () => {
    expect(valueAt(line, 5.5, false)).toBeCloseTo(10, 12);
    expect(valueAt(line, Math.sqrt(1000), true)).toBeCloseTo(30, 12);
    expect(valueAt(line, 10, true)).toBe(20);
  });
  test('outside it, and in a gap, there is no value', () => {
    expect(valueAt(line, 0.5, true)).toBeUndefined();
    expect(valueAt(line, 200, true)).toBeUndefined();
    expect(valueAt(curve('', [0, 1, 2], [0, undefined, 2]), 1.5, false)).toBeUndefined();
    expect(valueAt(curve('', [0, 1, 2], [0, NaN, 2]), 0.5, false)).toBeUndefined();
  });
  test('every named curve is read; helping lines are not', () => {
    const zero = curve('', [1, 100], [0, 0]);
    expect(readAt([line, zero], 10, true)).toEqual([{ words: 'gain', value: 20 }]);
    expect(readAt([curve('', [0, 1], [0, 2])], 0.5, false)).toEqual([{ words: 'value', value: 1 }]);
  });
  test('values are written by the axis', () => {
    expect(written(12.345, axis('dB', '', 0, 1))).toBe('12.3 dB');
    expect(written(-135, axis('deg', '', 0, 1))).toBe('-135.0°');
    expect(written(0.1234, axis('ratio', '', 0, 1))).toBe('0.123');
    expect(written(4.7e-6, axis('H', '', 0, 1)).replace(/\s/g, ' ')).toBe('4.700 µH');
  });
  test('says in words what it shows: curves, marks and limits', () => {
    const words = pictureInWords('Gain', {
      x: axis('Hz', 'frequency', 1, 100, true),
      y: axis('dB', 'gain', -20, 60),
      curves: [line, curve('', [1, 100], [0, 0])],
      marks: [{ x: 10, y: 20, label: 'crossover' }],
      regions: [beyond(30, 'above', 'not allowed')],
    }).replace(/\s/g, ' ');
    expect(words).toBe(
      'Gain, over frequency from 1.000 Hz to 100.0 Hz; gain from 0.0 dB to 40.0 dB; crossover at 10.00 Hz, 20.0 dB; hatched: not allowed',
    );
  });
  test('goes out as CSV, gaps left out, names quoted', () => {
    const text = pictureAsCsv({
      x: axis('s', 'time', 0, 1),
      y: axis('V', 'output', 0, 1),
      curves: [curve('up "fast"', [0, 1, 2], [1, undefined, 3])],
    });
    expect(text).toBe('curve,"time (s)","output (V)"\n"up ""fast""",0,1\n"up ""fast""",2,3\n');
  });
  test('what lies beyond a limit is hatched on its side', () => {
    expect(beyond(5, 'above', 'w')).toEqual({ fromY: 5, words: 'w', limit: true });
    expect(beyond(5, 'below', 'w')).toEqual({ toY: 5, words: 'w', limit: true });
  });
});

describe('labels', () => {
  const area = { left: 0, right: 200, top: 0, bottom: 100 };
  test('stay where they are free, and give way by whole lines where not', () => {
    const [a, b, c] = labelPlaces(
      [
        { x: 10, y: 50, width: 40 },
        { x: 30, y: 52, width: 40 },
        { x: 120, y: 50, width: 40 },
      ],
      area,
    );
    expect(a).toEqual({ x: 10, y: 50, width: 40 });
    expect(c?.y).toBe(50);
    expect(Math.abs((b?.y ?? 0) - 50)).toBeGreaterThanOrEqual(13 - 2);
  });
  test('never leave the picture', () => {
    for (const { x, y, width } of labelPlaces(
      [
        { x: -20, y: -5, width: 40 },
        { x: 190, y: 130, width: 40 },
      ],
      area,
    )) {
      expect(x).toBeGreaterThanOrEqual(0);
      expect(x + width).toBeLessThanOrEqual(200);
      expect(y).toBeGreaterThan(5);
      expect(y).toBeLessThanOrEqual(100);
    }
  });
});
