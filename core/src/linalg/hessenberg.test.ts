import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { ComplexSystem } from './complexDense.js';
import { ShiftedSystem } from './hessenberg.js';

/** The largest residual of (s − A) x = b, as a share of the largest solution. */
function residual(
  a: Float64Array,
  n: number,
  sr: number,
  si: number,
  br: readonly number[],
  bi: readonly number[],
): number {
  const xr = Float64Array.from(br);
  const xi = Float64Array.from(bi);
  new ShiftedSystem(a, n).solve(sr, si, xr, xi);
  let worst = 0;
  for (let i = 0; i < n; i += 1) {
    let re = sr * (xr[i] ?? 0) - si * (xi[i] ?? 0) - (br[i] ?? 0);
    let im = sr * (xi[i] ?? 0) + si * (xr[i] ?? 0) - (bi[i] ?? 0);
    for (let j = 0; j < n; j += 1) {
      re -= (a[i * n + j] ?? 0) * (xr[j] ?? 0);
      im -= (a[i * n + j] ?? 0) * (xi[j] ?? 0);
    }
    worst = Math.max(worst, Math.hypot(re, im));
  }
  return worst / Math.max(1, ...xr.map(Math.abs), ...xi.map(Math.abs));
}

describe('a matrix reduced once, solved at any shift', () => {
  test('random matrices of every order (200, seed 5)', () => {
    const order = fc.integer({ min: 1, max: 12 });
    const value = fc.double({ min: -2, max: 2, noNaN: true });
    fc.assert(
      fc.property(
        order.chain((n) =>
          fc.tuple(
            fc.constant(n),
            fc.array(value, { minLength: n * n, maxLength: n * n }),
            fc.array(value, { minLength: n, maxLength: n }),
            fc.array(value, { minLength: n, maxLength: n }),
          ),
        ),
        ([n, a, br, bi]) => residual(Float64Array.from(a), n, 3 * n, 1.5, br, bi) < 1e-12,
      ),
      { seed: 5, numRuns: 200 },
    );
  });
  test('a defective matrix, which has no full set of eigenvectors, is as good as any', () => {
    const chain = Float64Array.from([2, 1, 0, 0, 2, 1, 0, 0, 2]);
    expect(residual(chain, 3, 0.3, 4, [1, 2, 3], [0, -1, 1])).toBeLessThan(1e-14);
    expect(residual(new Float64Array(9), 3, 1, 0, [1, 2, 3], [0, 0, 0])).toBeLessThan(1e-15);
  });
  test('agrees with elimination of the whole, and leaves its matrix as it was', () => {
    const a = Float64Array.from([1, 2, 3, 4, -1, 0.5, 2, 0, 0, 1, 1, 1, 3, 0, 0, 2]);
    const before = a.slice();
    const shifted = new ShiftedSystem(a, 4);
    const whole = new ComplexSystem(4);
    for (let k = 0; k < 16; k += 1) {
      whole.re[k] = -(a[k] ?? 0) + (k % 5 === 0 ? 0.7 : 0);
      whole.im[k] = k % 5 === 0 ? 2 : 0;
    }
    whole.factorise();
    const [xr, xi] = [Float64Array.of(1, 0, 2, -1), Float64Array.of(0, 1, 0, 1)];
    const [yr, yi] = [xr.slice(), xi.slice()];
    whole.solve(xr, xi);
    // Twice, as for a further frequency.
    shifted.solve(5, 1, yr.slice(), yi.slice());
    shifted.solve(0.7, 2, yr, yi);
    expect([...yr].map((value, i) => value - (xr[i] ?? 0)).every((d) => Math.abs(d) < 1e-13)).toBe(true);
    expect([...yi].map((value, i) => value - (xi[i] ?? 0)).every((d) => Math.abs(d) < 1e-13)).toBe(true);
    expect(a).toEqual(before);
  });
  test('the transposed system of the whole', () => {
    const whole = new ComplexSystem(3);
    whole.re.set([0, 2, 1, 1, 0, 3, 4, 1, 0.5]);
    whole.im.set([1, 0, -1, 0, 2, 0, 0, 0, 1]);
    const [re, im] = [whole.re.slice(), whole.im.slice()];
    whole.factorise();
    const [xr, xi] = [Float64Array.of(1, -2, 0.5), Float64Array.of(0, 1, 3)];
    const [br, bi] = [xr.slice(), xi.slice()];
    whole.solveTransposed(xr, xi);
    for (let j = 0; j < 3; j += 1) {
      let sumR = 0;
      let sumI = 0;
      for (let i = 0; i < 3; i += 1) {
        const [ar, ai] = [re[i * 3 + j] ?? 0, im[i * 3 + j] ?? 0];
        sumR += ar * (xr[i] ?? 0) - ai * (xi[i] ?? 0);
        sumI += ar * (xi[i] ?? 0) + ai * (xr[i] ?? 0);
      }
      expect(sumR).toBeCloseTo(br[j] ?? NaN, 12);
      expect(sumI).toBeCloseTo(bi[j] ?? NaN, 12);
    }
  });
});
