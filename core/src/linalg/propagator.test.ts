import { describe, expect, test } from '@jest/globals';
import { Matrix, solve } from 'ml-matrix';
import { product } from './dense.js';
import { propagator, secondMoment, statesWithin } from './propagator.js';

/** e^{Kh} by the (3,3) Padé approximant on 2^20 steps: slow, and independent of the series and doubling under test. */
function reference(k: readonly number[], n: number, h: number): number[] {
  const squarings = 20;
  const x = new Matrix(Array.from({ length: n }, (_, i) => k.slice(i * n, (i + 1) * n))).mul(h / 2 ** squarings);
  const x2 = x.mmul(x);
  const even = Matrix.eye(n).add(x2.clone().mul(0.1));
  const odd = x
    .clone()
    .mul(0.5)
    .add(x2.mmul(x).mul(1 / 120));
  let result = solve(Matrix.sub(even, odd), Matrix.add(even, odd));
  for (let i = 0; i < squarings; i += 1) result = result.mmul(result);
  return result.to1DArray();
}

const stiff = [-2e5, 3e8, 4e4, -5e2, -6e6, 0, 0, 0, 0];
const cases: readonly [string, readonly number[], number][] = [
  ['a damped ring', [0, 1e6, 0, -1e6, -3e5, 2e6, 0, 0, 0], 2e-6],
  ['an integrator', [0, 1e6, 0, 0, 0, 2, 0, 0, 0], 3e-6],
  ['volts beside amperes through little inductance', stiff, 2.5e-6],
];

describe('matrix exponential', () => {
  test.each(cases)('%s', (_, k, h) => {
    const { phi } = propagator(Float64Array.from(k), 3, h);
    const expected = reference(k, 3, h);
    const scale = Math.max(...expected.map(Math.abs));
    phi.forEach((value, i) => expect(Math.abs(value - (expected[i] ?? NaN)) / scale).toBeLessThan(1e-8));
  });
  test('a small step keeps its digits beside one', () => {
    const { excess } = propagator(Float64Array.from([-1e-9]), 1, 1, true);
    expect(excess[0]?.[0]).toBeCloseTo(Math.expm1(-1e-9), 23);
  });
  test('the integral of a constant rate is time, and states within lie on the exact solution', () => {
    const k = Float64Array.from([-1e5, 1, 0, 0]);
    const { gamma, excess } = propagator(k, 2, 1e-5, true);
    expect(gamma[3]).toBeCloseTo(1e-5, 18);
    statesWithin(Float64Array.from([2, 0]), 2, 3, excess).forEach((z, i) =>
      expect(z[0]).toBeCloseTo(2 * Math.exp(-i / 8), 12),
    );
  });
});

describe('second moment', () => {
  test('∫ e^(−2at) dt for a decay', () => {
    const k = Float64Array.from([-3e5]);
    const { excess } = propagator(k, 1, 1e-5, true);
    const w = secondMoment(k, 1, 1e-5, Float64Array.from([2]), excess);
    expect((w[0] ?? NaN) / ((4 * (1 - Math.exp(-6))) / 6e5)).toBeCloseTo(1, 12);
  });
  test('agrees with a fine Simpson sum on a stiff pair', () => {
    const k = Float64Array.from(stiff);
    const z0 = Float64Array.from([0.3, 0.01, 1]);
    const h = 2.5e-6;
    const w = secondMoment(k, 3, h, z0, propagator(k, 3, h, true).excess);
    const steps = 40000;
    const { phi } = propagator(k, 3, h / steps);
    let z: Float64Array = z0;
    let sum = 0;
    for (let i = 0; i <= steps; i += 1) {
      sum += (i === 0 || i === steps ? 1 : i % 2 === 1 ? 4 : 2) * (z[0] ?? 0) ** 2;
      z = product(phi, z, 3, 3, 1);
    }
    expect((w[0] ?? NaN) / ((sum * h) / steps / 3)).toBeCloseTo(1, 6);
  });
});
