import { describe, expect, test } from '@jest/globals';
import { inlineReading, inlineText } from './inlineReading';

describe('the field of a tool', () => {
  test('takes a quantity with its prefix, within its range to the last digit', () => {
    expect(inlineReading('1 mm', 'm', [1e-5, 0.02])).toEqual({ value: 1e-3 });
    expect(inlineReading('20 mm', 'm', [1e-5, 0.02])).toEqual({ value: 0.02 });
  });
  test('what lies outside is refused with the value, the range and their unit, not bent into it', () => {
    expect(inlineReading('1 m', 'm', [1e-5, 0.02])).toEqual({
      fault: expect.stringMatching(/^1\.000.m is outside 10\.00.µm to 20\.00.mm\.$/),
    });
    expect(inlineReading('-3', 'count', [1, 1000])).toEqual({ fault: '-3 is outside 1 to 1000.' });
  });
  test('half a turn is no turn', () => {
    const read = inlineReading('7.5', 'count', [1, 1000]);
    expect('fault' in read && read.fault).toContain('a whole number');
    expect(inlineReading('8', 'count', [1, 1000])).toEqual({ value: 8 });
  });
  test('what is no quantity is told as everywhere', () => {
    const read = inlineReading('soon', 's');
    expect('fault' in read && read.fault.length).toBeGreaterThan(10);
  });
  test('numbers of things stand as they are, quantities with four digits', () => {
    expect(inlineText(12, 'count')).toBe('12');
    expect(inlineText(0.0123456, 'A')).toMatch(/^12\.35.mA$/);
  });
});
