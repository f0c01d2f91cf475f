import { describe, expect, test } from '@jest/globals';
import { coverageHalfWidth } from './coverageInterval.js';
import { propagate } from './propagate.js';
import { coverageFactor } from './studentT.js';
import { correlationOf, meanOf } from './typeA.js';

/** JCGM 100:2008 (GUM), annex H.2: simultaneous resistance and reactance measurement, table H.2. */
const VOLTS = [5.007, 4.994, 5.005, 4.99, 4.999];
const AMPERES = [19.663, 19.639, 19.64, 19.685, 19.678].map((milli) => milli / 1000);
const RADIANS = [1.0456, 1.0438, 1.0468, 1.0428, 1.0433];

describe('JCGM 100:2008, H.2', () => {
  const inputs = [VOLTS, AMPERES, RADIANS];
  const estimates = inputs.map(meanOf);
  const correlation = inputs.map((a) => inputs.map((b) => correlationOf(a, b)));
  const found = propagate(
    estimates,
    ([v = 0, i = 1, angle = 0]) => [(v / i) * Math.cos(angle), (v / i) * Math.sin(angle), v / i],
    correlation,
  );

  test('means, their uncertainties and correlations (table H.2)', () => {
    const [v, i, angle] = estimates;
    expect(v?.value).toBeCloseTo(4.999, 6);
    expect(v?.standard).toBeCloseTo(0.0032, 4);
    expect((i?.value ?? 0) * 1e3).toBeCloseTo(19.661, 4);
    expect((i?.standard ?? 0) * 1e3).toBeCloseTo(0.0095, 4);
    expect(angle?.value).toBeCloseTo(1.04446, 6);
    expect(angle?.standard).toBeCloseTo(0.00075, 5);
    expect(correlation[0]?.[1]).toBeCloseTo(-0.36, 2);
    expect(correlation[0]?.[2]).toBeCloseTo(0.86, 2);
    expect(correlation[1]?.[2]).toBeCloseTo(-0.65, 2);
  });

  test('resistance, reactance and impedance with their uncertainties and correlations (table H.3)', () => {
    const [r, x, z] = found.values;
    expect(r).toBeCloseTo(127.732, 3);
    expect(x).toBeCloseTo(219.847, 3);
    expect(z).toBeCloseTo(254.26, 2);
    expect(found.standard[0]).toBeCloseTo(0.071, 3);
    // 0.2956 from the readings; the guide works on from rounded deviations.
    expect(found.standard[1]).toBeCloseTo(0.2956, 4);
    expect(found.standard[2]).toBeCloseTo(0.236, 3);
    expect(found.correlation[0]?.[1]).toBeCloseTo(-0.588, 3);
    expect(found.correlation[0]?.[2]).toBeCloseTo(-0.485, 2);
    expect(found.correlation[1]?.[2]).toBeCloseTo(0.993, 3);
  });
});

describe('degrees of freedom and coverage', () => {
  /** JCGM 100:2008, H.1 (end-gauge calibration), table H.1: contributions in nm with their degrees of freedom. */
  const GAUGE = [
    { standard: 25, degrees: 18 },
    { standard: 9.7, degrees: 25.6 },
    { standard: 2.9, degrees: 50 },
    { standard: 16.6, degrees: 2 },
  ];

  test('the end gauge of H.1: 32 nm, 16 effective degrees, 2.92 times at 99 %, 93 nm', () => {
    const found = propagate(
      GAUGE.map((one) => ({ value: 0, ...one })),
      (values) => [values.reduce((sum, one) => sum + one, 0)],
    );
    const [standard = 0] = found.standard;
    expect(Math.round(standard)).toBe(32);
    // The guide has 16.7 from the rounded 32, and takes 16.
    expect(Math.trunc(found.degrees[0] ?? 0)).toBe(16);
    const k = coverageFactor(0.99, 16);
    expect(k).toBeCloseTo(2.92, 2);
    expect(Math.round(k * 32)).toBe(93);
  });

  test.each([
    [1, 0.95, 12.71],
    [5, 0.95, 2.57],
    [10, 0.99, 3.17],
    [50, 0.95, 2.01],
    [Infinity, 0.95, 1.96],
    [Infinity, 0.9973, 3.0],
  ])('table G.2: %p degrees of freedom, share %p', (degrees, share, factor) => {
    expect(coverageFactor(share, degrees)).toBeCloseTo(factor, 2);
  });
});

describe('propagation of distributions (JCGM 101:2008, 9.2)', () => {
  const even = (standard: number) => ({ words: '', standard, shape: 'rectangular' as const });
  test('four equal rectangular errors: ± 3.88, where the law of propagation has 3.92', () => {
    expect(coverageHalfWidth([even(1), even(1), even(1), even(1)])).toBeCloseTo(3.88, 1);
  });
  test('one of them ten times as wide: ± 17.0, where the law of propagation has 19.9', () => {
    expect(Math.abs(coverageHalfWidth([even(1), even(1), even(1), even(10)]) - 17)).toBeLessThan(0.15);
  });
  test('normal errors alone: 1.96 u', () => {
    const width = coverageHalfWidth([{ words: '', standard: 3, shape: 'normal' }]);
    expect(Math.abs(width - 1.96 * 3)).toBeLessThan(0.1);
  });
});
