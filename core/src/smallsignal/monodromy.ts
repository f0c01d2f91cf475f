import { EigenvalueDecomposition, Matrix } from 'ml-matrix';
import { magnitude, product as times, type Complex } from '../linalg/complex.js';
import { zeros } from '../linalg/zeros.js';
import { Disturbances, sizeOf } from './disturbances.js';
import type { LinearPeriod } from './linearPeriod.js';

/**
 * How a small disturbance of the orbit goes over from one share of the period to the next, seen with the phases moved on.
 *
 * @param edges `still`: the ends of the commands stay where they are, as if the comparators saw nothing.
 */
export function shareMap(period: LinearPeriod, edges: 'compared' | 'still' = 'compared'): Float64Array {
  const { order, segments, opening } = period;
  const size = sizeOf(period);
  const units = new Disturbances(period, size, edges);
  // Still edges are never late: there is nothing to remember.
  const remembered = edges === 'still' ? order : size;
  for (let i = 0; i < remembered; i += 1) (units.x[i] as Float64Array)[i] = 1;
  const late = zeros(size);
  units.enter(opening);
  for (const { phi, end } of segments) {
    units.stretch(phi);
    if (end) units.event(end, late);
  }
  units.moveOn();
  const out = zeros(size * size);
  units.x.forEach((column, j) => {
    for (let i = 0; i < size; i += 1) out[i * size + j] = column[i] as number;
  });
  return out;
}

/** A Floquet multiplier. */
export type Multiplier = Complex;

/** How disturbances of an orbit fare from period to period. */
export interface Floquet {
  /** By what a small disturbance is multiplied, the largest first; stable where all lie inside the unit circle. */
  readonly multipliers: readonly Multiplier[];
  /**
   * The gain of the sampled loop at half the switching frequency, where consecutive edges move against each other: at −1 the
   * stage begins to alternate between long and short pulses. From 1 + T*(z) = Π(z − λ) / Π(z − λ′), with λ the multipliers and
   * λ′ those with the edges held still, at z = −1. With several phases the product is the determinant of all their loops
   * together; its root stands for one of them. Without a clock the multiplier that alternates says it itself.
   */
  readonly subharmonicGain: number;
  /** The same as a margin, dB: how much the gain may rise until it is −1; undefined where no rise leads there. */
  readonly subharmonicMargin: number | undefined;
}

/** The Floquet multipliers of an orbit, and how near it is to alternating. */
export function floquet(period: LinearPeriod): Floquet {
  const size = sizeOf(period);
  const of = (edges: 'compared' | 'still'): Multiplier[] =>
    eigenvalues(shareMap(period, edges), size).map((value) => power(value, period.shares));
  const all = of('compared');
  const product = (values: readonly Multiplier[]): number =>
    values.reduce<Multiplier>((sofar, { re, im }) => times(sofar, { re: -1 - re, im: -im }), { re: 1, im: 0 }).re;
  const determinant = period.free ? NaN : product(all) / product(of('still'));
  if (period.free) all.splice(nearestToOne(all), 1);
  const multipliers = all.sort((a, b) => magnitude(b) - magnitude(a)).slice(0, period.order);
  const subharmonicGain = period.free
    ? Math.min(...multipliers.map(({ re }) => re))
    : Math.sign(determinant) * Math.abs(determinant) ** (1 / period.phases) - 1;
  const subharmonicMargin = subharmonicGain < 0 ? -20 * Math.log10(-subharmonicGain) : undefined;
  return { multipliers, subharmonicGain, subharmonicMargin };
}

/** Place of the multiplier of a mere delay. */
function nearestToOne(all: readonly Multiplier[]): number {
  const away = all.map(({ re, im }) => Math.hypot(re - 1, im));
  return away.indexOf(Math.min(...away));
}

function eigenvalues(matrix: Float64Array, size: number): readonly Multiplier[] {
  const { realEigenvalues, imaginaryEigenvalues } = new EigenvalueDecomposition(Matrix.from1DArray(size, size, matrix));
  return realEigenvalues.map((re, i) => ({ re, im: imaginaryEigenvalues[i] ?? 0 }));
}

function power(base: Multiplier, exponent: number): Multiplier {
  let out: Multiplier = { re: 1, im: 0 };
  for (let k = 0; k < exponent; k += 1) out = times(out, base);
  return out;
}
