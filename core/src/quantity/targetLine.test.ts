import { describe, expect, test } from '@jest/globals';
import { targetLine } from './targetLine.js';

describe('a line that says what a stage is for', () => {
  test.each([
    ['20-29.2 V to 12 V 8 A', 20, 29.2, 12, 8],
    ['20 to 29.2 V to 12 V, 8 A', 20, 29.2, 12, 8],
    ['20..29,2 V -> 12 V @ 8A', 20, 29.2, 12, 8],
    ['12V → 3.3V 500 mA', 12, 12, 3.3, 0.5],
    ['11.4 – 12.6 V into -15 V at 0.6 A', 11.4, 12.6, -15, 0.6],
    ['29.2-20 to 12, 8 A', 20, 29.2, 12, 8],
  ])('%s', (text, min, max, outputVoltage, outputCurrent) => {
    const read = targetLine(text);
    expect(read).toEqual({ inputVoltage: { min, max }, outputVoltage, outputCurrent });
  });
  test('what it does not say is left out', () => {
    expect(targetLine('9-18 V to 5 V')).toEqual({ inputVoltage: { min: 9, max: 18 }, outputVoltage: 5 });
  });
  test.each(['', 'a buck for the buoy', '12 V', '8 A', 'to 5 V', '12 V to'])('“%s” is no such line', (text) => {
    expect(targetLine(text)).toBeUndefined();
  });
});
