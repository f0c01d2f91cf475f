import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { ComplexSystem } from './complexDense.js';

const entry = fc.integer({ min: -1000, max: 1000 }).map((x) => x / 100);

describe('complex systems', () => {
  test('a solution put back gives the right-hand side, whatever rows had to change places (seed 51)', () => {
    let compared = 0;
    const list = (length: number) => fc.array(entry, { minLength: length, maxLength: length });
    fc.assert(
      fc.property(
        fc
          .integer({ min: 1, max: 7 })
          .chain((n) => fc.tuple(fc.constant(n), list(n * n), list(n * n), list(n), list(n))),
        ([n, re, im, br, bi]) => {
          const system = new ComplexSystem(n);
          // A small diagonal: nearly every column needs an exchange.
          const a = re.map((value, k) => (k % (n + 1) === 0 ? 1e-3 * value : value));
          system.re.set(a);
          system.im.set(im);
          system.factorise();
          const xr = Float64Array.from(br);
          const xi = Float64Array.from(bi);
          system.solve(xr, xi);
          const size = Math.max(...xr.map(Math.abs), ...xi.map(Math.abs));
          // Next to singular there is nothing to compare.
          if (!(size < 1e6)) return;
          compared += 1;
          for (let i = 0; i < n; i += 1) {
            let sr = 0;
            let si = 0;
            for (let j = 0; j < n; j += 1) {
              const [ar, ai] = [a[i * n + j] ?? 0, im[i * n + j] ?? 0];
              sr += ar * (xr[j] ?? 0) - ai * (xi[j] ?? 0);
              si += ar * (xi[j] ?? 0) + ai * (xr[j] ?? 0);
            }
            expect(Math.abs(sr - (br[i] ?? 0))).toBeLessThan(1e-9 * (1 + size) * 10);
            expect(Math.abs(si - (bi[i] ?? 0))).toBeLessThan(1e-9 * (1 + size) * 10);
          }
        },
      ),
      { seed: 51, numRuns: 300 },
    );
    expect(compared).toBeGreaterThan(200);
  });
});
