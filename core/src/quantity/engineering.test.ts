import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { problemSentence } from '../stage/problemSentence.js';
import { formatQuantity, parseQuantity, printQuantity, sentenceQuantity } from './engineering.js';
import type { Unit } from './unit.js';

const value = (text: string, unit: Unit): number => {
  const read = parseQuantity(text, unit);
  if (!read.ok) throw new Error(`${text} was refused`);
  return read.value;
};

describe('reading quantities the way engineers type them', () => {
  test.each<[string, Unit, number]>([
    ['4.7u', 'H', 4.7e-6],
    ['4u7', 'H', 4.7e-6],
    ['4µ7', 'F', 4.7e-6],
    ['4μ7', 'F', 4.7e-6],
    ['350k', 'Hz', 350e3],
    ['350 kHz', 'Hz', 350e3],
    ['1M', 'ohm', 1e6],
    ['10m', 'ohm', 0.01],
    ['10 mΩ', 'ohm', 0.01],
    ['10mohm', 'ohm', 0.01],
    ['2R2', 'ohm', 2.2],
    ['3V3', 'V', 3.3],
    ['-15', 'V', -15],
    ['\u221215 V', 'V', -15],
    ['3.3 V', 'V', 3.3],
    ['3.3\u2009V', 'V', 3.3],
    ['.5', 'A', 0.5],
    ['4.7e-6', 'H', 4.7e-6],
    ['1E3', 'Hz', 1e3],
    ['0.35', 'ratio', 0.35],
    ['35%', 'ratio', 0.35],
    ['35 %', 'ratio', 0.35],
    ['45 °C', 'degC', 45],
    ['4', 'count', 4],
    ['2M', 'A/s', 2e6],
    ['0', 'ohm', 0],
    ['6', 'm²', 6e-4],
    ['6 cm²', 'm²', 6e-4],
    ['600 mm²', 'm²', 6e-4],
    ['0.0006 m²', 'm²', 6e-4],
    ['4,7u', 'H', 4.7e-6],
    ['4,7 µH', 'H', 4.7e-6],
    ['0,125', 'ratio', 0.125],
    ['12,5 %', 'ratio', 0.125],
    ['-15,25', 'V', -15.25],
    ['1,0000', 'V', 1],
    ['1000,500', 'V', 1000.5],
    ['1,5e-6', 'H', 1.5e-6],
    ['1,234,567', 'Hz', 1234567],
    ['1,234.5', 'Hz', 1234.5],
    ['1.234,5', 'Hz', 1234.5],
  ])('%s as %s', (text, unit, expected) => {
    expect(value(text, unit)).toBe(expected);
  });

  test.each([
    ['1,000', 'V', '“1” or “1000”'],
    ['4,700 µH', 'H', '“4.7 µH” or “4700 µH”'],
    ['-2,500', 'V', '“-2.5” or “-2500”'],
  ] as const)('%j may mean either, and the sentence names both readings', (text, unit, readings) => {
    const read = parseQuantity(text, unit);
    expect(read.ok ? undefined : read.problems.map(problemSentence)).toEqual([
      `“${text}” may mean either: write ${readings}.`,
    ]);
    expect(parseQuantity(text, unit, 'decimal')).toEqual(parseQuantity(text.replace(',', '.'), unit));
    expect(parseQuantity(text, unit, 'thousands')).toEqual(parseQuantity(text.replace(',', ''), unit));
  });

  test.each<[string, Unit]>([
    ['', 'V'],
    ['1,00,000', 'V'],
    ['1,000 km', 'V'],
    [',5,', 'V'],
    ['twelve', 'V'],
    ['4.7uF', 'H'],
    ['1.2.3', 'V'],
    ['5%', 'V'],
    ['1.5', 'count'],
    ['3k', 'degC'],
    ['Infinity', 'V'],
    ['1e999', 'V'],
    ['4u7u', 'H'],
    ['--3', 'V'],
    ['6 cm', 'm²'],
  ])('%j is refused as %s, and the sentence quotes it', (text, unit) => {
    const read = parseQuantity(text, unit);
    expect(read.ok).toBe(false);
    if (read.ok) return;
    const sentence = read.problems.map(problemSentence).join();
    expect(sentence).toContain(`“${text}”`);
    expect(sentence).toMatch(/type a (whole )?number such as/);
  });
});

describe('printing', () => {
  test.each<[number, Unit, number | undefined, string]>([
    [4.7e-6, 'H', undefined, '4.7\u2009µH'],
    [0.1 + 0.2, 'V', undefined, '300.00000000000004\u2009mV'],
    [999.96, 'ohm', 4, '1.000\u2009kΩ'],
    [0.411, 'ratio', 3, '0.411'],
    [-15, 'V', undefined, '-15\u2009V'],
    [0, 'A', undefined, '0\u2009A'],
    [45, 'degC', undefined, '45\u2009°C'],
    [350000, 'Hz', 3, '350\u2009kHz'],
  ])('%d %s to %s digits', (number, unit, digits, text) => {
    expect(formatQuantity(number, unit, digits)).toBe(text);
  });

  test.each([NaN, Infinity, -Infinity])('%d is said to be not worked, with and without rounding', (value) => {
    expect(printQuantity(value, 'V')).toEqual({ number: 'not worked', unit: '' });
    expect(formatQuantity(value, 'count', 3)).toBe('not worked');
  });

  test.each<[number, Unit, string]>([
    [1e21, 'V', '1e21\u2009V'],
    [1.25e12, 'Hz', '1.25e12\u2009Hz'],
    [-2e-19, 'F', '-2e-19\u2009F'],
    [1e9, 'ratio', '1e9'],
    [5e-7, 'ratio', '5e-7'],
    [123456, 'count', '123456'],
  ])('%d %s beyond the prefixes has its power of ten written out', (number, unit, text) => {
    expect(formatQuantity(number, unit)).toBe(text);
    expect(value(text, unit)).toBe(number);
  });

  test.each<[number, Unit, string]>([
    [4.2, 'V', '4.2\u2009V'],
    [0.1 + 0.2, 'V', '300\u2009mV'],
    [1234567.89, 'Hz', '1.235\u2009MHz'],
    [1e-12, 'H', '1\u2009pH'],
  ])('%d %s in a sentence has four figures at most', (number, unit, text) => {
    expect(sentenceQuantity(number, unit)).toBe(text);
  });

  test('reading back an exact print gives the same double (seed 20260)', () => {
    const units: readonly Unit[] = ['V', 'A', 'Hz', 'H', 'F', 'ohm', 's', 'W', 'ratio', 'degC', 'A/s'];
    fc.assert(
      fc.property(
        fc.double({ min: 1e-22, max: 1e22, noNaN: true }),
        fc.boolean(),
        fc.constantFrom(...units),
        (magnitude, negative, unit) => {
          const number = negative ? -magnitude : magnitude;
          expect(value(formatQuantity(number, unit), unit)).toBe(number);
        },
      ),
      { seed: 20260, numRuns: 3000 },
    );
  });
});
