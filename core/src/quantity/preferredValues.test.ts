import { describe, expect, test } from '@jest/globals';
import {
  nearestPreferred,
  nextPreferredDown,
  nextPreferredUp,
  preferredAtLeast,
  preferredAtMost,
  PREFERRED_SERIES,
  type PreferredSeries,
} from './preferredValues.js';

// IEC 60063, Preferred number series for resistors and capacitors: the tables in full (from memory, with checksums).
const PRINTED: Readonly<Record<'E3' | 'E6' | 'E12' | 'E24', string>> = {
  E3: '10 22 47',
  E6: '10 15 22 33 47 68',
  E12: '10 12 15 18 22 27 33 39 47 56 68 82',
  E24: '10 11 12 13 15 16 18 20 22 24 27 30 33 36 39 43 47 51 56 62 68 75 82 91',
};
const E48 =
  '100 105 110 115 121 127 133 140 147 154 162 169 178 187 196 205 215 226 237 249 261 274 287 301 316 332 348 365 383 402 422 442 464 487 511 536 562 590 619 649 681 715 750 787 825 866 909 953';
const E96 =
  '100 102 105 107 110 113 115 118 121 124 127 130 133 137 140 143 147 150 154 158 162 165 169 174 178 182 187 191 196 200 205 210 215 221 226 232 237 243 249 255 261 267 274 280 287 294 301 309 316 324 332 340 348 357 365 374 383 392 402 412 422 432 442 453 464 475 487 499 511 523 536 549 562 576 590 604 619 634 649 665 681 698 715 732 750 768 787 806 825 845 866 887 909 931 953 976';

const numbers = (text: string): number[] => text.split(' ').map(Number);
const sum = (list: readonly number[]): number => list.reduce((a, b) => a + b, 0);

describe('IEC 60063 preferred number series', () => {
  test.each(Object.entries(PRINTED))('%s as printed', (series, text) => {
    expect(PREFERRED_SERIES[series as PreferredSeries]).toEqual(numbers(text));
  });
  test('E48 and E96 as printed', () => {
    expect(PREFERRED_SERIES.E48).toEqual(numbers(E48));
    expect(PREFERRED_SERIES.E96).toEqual(numbers(E96));
  });
  test('decade checksums of E48, E96, E192', () => {
    expect([sum(PREFERRED_SERIES.E48), sum(PREFERRED_SERIES.E96), sum(PREFERRED_SERIES.E192)]).toEqual([
      18313, 37070, 74599,
    ]);
  });
  test('E192 follows the rounded geometric series except for 920', () => {
    const departures = PREFERRED_SERIES.E192.filter((member, n) => member !== Math.round(100 * 10 ** (n / 192)));
    expect(departures).toEqual([920]);
    expect(PREFERRED_SERIES.E192).toHaveLength(192);
  });
  test('E24 departs from the formula at eight members', () => {
    const departures = PREFERRED_SERIES.E24.filter((member, n) => member !== Math.round(10 * 10 ** (n / 24)));
    expect(departures).toEqual([27, 30, 33, 36, 39, 43, 47, 82]);
  });
});

describe('choosing members', () => {
  // Nearest by ratio; figures worked by hand from the tables.
  const targets = [4530, 10000, 52300, 1234, 8765, 30000, 919];
  test.each<[PreferredSeries, number[]]>([
    ['E48', [4640, 10000, 51100, 1210, 8660, 30100, 909]],
    ['E96', [4530, 10000, 52300, 1240, 8870, 30100, 909]],
    ['E192', [4530, 10000, 52300, 1230, 8760, 30100, 920]],
  ])('nearest in %s', (series, expected) => {
    expect(targets.map((target) => nearestPreferred(target, series))).toEqual(expected);
  });

  test('members are exact decimals over the decades', () => {
    expect(preferredAtLeast(6.31e-6, 'E12')).toBe(6.8e-6);
    expect(preferredAtMost(6.31e-6, 'E12')).toBe(5.6e-6);
    expect(preferredAtLeast(8.3e-6, 'E12')).toBe(1e-5);
    expect(preferredAtMost(0.99e3, 'E12')).toBe(820);
  });
  test('a member is its own "at least" and "at most", and steps move off it', () => {
    expect(preferredAtLeast(4.7e-6, 'E12')).toBe(4.7e-6);
    expect(preferredAtMost(4.7e-6, 'E12')).toBe(4.7e-6);
    expect(nextPreferredUp(4.7e-6, 'E12')).toBe(5.6e-6);
    expect(nextPreferredDown(4.7e-6, 'E12')).toBe(3.9e-6);
    expect(nextPreferredUp(8.2, 'E12')).toBe(10);
    expect(nextPreferredDown(1, 'E12')).toBe(0.82);
  });
  test.each([0, -1, NaN, Infinity])('%d has no preferred value', (bad) => {
    expect(() => nearestPreferred(bad, 'E12')).toThrow(RangeError);
  });
});
