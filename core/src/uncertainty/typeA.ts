import type { Estimate } from './propagate.js';

/**
 * What repeated readings of one quantity say: their mean, and its standard uncertainty s/√n with n − 1 degrees of freedom.
 *
 * Source: JCGM 100:2008, 4.2.1 to 4.2.3.
 *
 * @param readings two at least.
 * @public
 */
export function meanOf(readings: readonly number[]): Estimate {
  const n = readings.length;
  const value = readings.reduce((sum, one) => sum + one, 0) / n;
  const squares = readings.reduce((sum, one) => sum + (one - value) ** 2, 0);
  return { value, standard: Math.sqrt(squares / (n - 1) / n), degrees: n - 1 };
}

/** The correlation coefficient of two means of readings that were taken together (JCGM 100:2008, 5.2.3 and C.3.6). */
export function correlationOf(a: readonly number[], b: readonly number[]): number {
  const mean = (of: readonly number[]): number => of.reduce((sum, one) => sum + one, 0) / of.length;
  const ma = mean(a);
  const mb = mean(b);
  let ab = 0;
  let aa = 0;
  let bb = 0;
  a.forEach((one, k) => {
    const da = one - ma;
    const db = (b[k] ?? mb) - mb;
    ab += da * db;
    aa += da * da;
    bb += db * db;
  });
  return ab / Math.sqrt(aa * bb);
}
