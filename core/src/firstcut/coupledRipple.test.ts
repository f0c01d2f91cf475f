import { describe, expect, test } from '@jest/globals';
import { modeInductances, steadyInductance, windingRipple, type CoupledWindings } from './coupledRipple.js';

const pair = (coefficient: number, kind: 'inverse' | 'direct' = 'inverse', inductance = 500e-9): CoupledWindings => ({
  inductance,
  kind,
  coefficient,
  windings: 2,
});

describe('the ripple of coupled windings', () => {
  // P.-L. Wong et al. (2001): L = 500 nH, k = 0.6, D = 0.2, 12 V, 500 kHz.
  test('two inverse windings: 10.2 A, 376 nH in the steady state, 200 nH to a load step', () => {
    expect(windingRipple(pair(0.6), 12, 0.2, 2e-6)).toBeCloseTo(10.2, 9);
    expect(steadyInductance(pair(0.6), 0.2)).toBeCloseTo(3.7647059e-7, 13);
    expect(modeInductances(pair(0.6)).common).toBeCloseTo(200e-9, 15);
  });
  // The same: L_eq1 = (L² − M²)/(L + (D/D′) M) for D < ½, and with D and D′ exchanged above.
  test.each([0.05, 0.2, 0.35, 0.49, 0.51, 0.7, 0.95])('the published equivalent inductance at D = %f', (duty) => {
    const short = Math.min(duty, 1 - duty);
    for (const coefficient of [0, 0.3, 0.6, 0.9])
      for (const kind of ['inverse', 'direct'] as const) {
        const m = (kind === 'inverse' ? -1 : 1) * coefficient * 500e-9;
        const published = (500e-9 ** 2 - m ** 2) / (500e-9 + (short / (1 - short)) * m);
        expect(steadyInductance(pair(coefficient, kind), duty) / published).toBeCloseTo(1, 9);
      }
  });
  // Worked by hand from those formulas: 470 nH, 12 V, D = 0.2, 500 kHz.
  test.each([
    ['inverse', 0.2, 8.085],
    ['inverse', 0.8, 18.156],
    ['direct', 0.2, 8.936],
    ['direct', 0.8, 27.234],
  ] as const)('470 nH, %s, k = %f: %f A in the winding', (kind, coefficient, expected) => {
    expect(windingRipple(pair(coefficient, kind, 470e-9), 12, 0.2, 2e-6)).toBeCloseTo(expected, 2);
  });
  test('uncoupled, it is V D (1 − D) T / L whatever the number of windings', () => {
    for (const windings of [1, 2, 3, 5])
      expect(windingRipple({ inductance: 1e-6, kind: 'none', coefficient: 0.5, windings }, 10, 0.3, 1e-6)).toBeCloseTo(
        10 * 0.3 * 0.7,
        9,
      );
  });
  test('however many are on the core, the leakage to a load step is (1 − k) L inversely', () => {
    for (const windings of [2, 3, 4, 6]) {
      const found = modeInductances({ inductance: 1e-6, kind: 'inverse', coefficient: 0.7, windings });
      expect(found.common).toBeCloseTo(0.3e-6, 15);
      expect(found.difference).toBeCloseTo(1e-6 * (1 + 0.7 / (windings - 1)), 15);
    }
  });
  test('at a duty ratio at which the mean stands still only the difference mode ripples', () => {
    // Four windings, D = ½: two are on at any time. v̄ is constant, and the ripple that of L_difference alone.
    const four: CoupledWindings = { inductance: 1e-6, kind: 'inverse', coefficient: 0.6, windings: 4 };
    expect(windingRipple(four, 10, 0.5, 1e-6)).toBeCloseTo((10 * 0.25) / (1 + 0.2), 9);
  });
});
