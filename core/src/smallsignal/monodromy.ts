import { EigenvalueDecomposition, Matrix } from 'ml-matrix';
import { magnitude, product as times, type Complex } from '../linalg/complex.js';
import { product } from '../linalg/dense.js';
import { zeros } from '../linalg/zeros.js';
import type { LinearEvent, LinearPeriod } from './linearPeriod.js';

/** States and remembered instants: what a disturbance consists of. */
export const sizeOf = ({ order, phases, remembers }: LinearPeriod): number => order + (remembers ? phases : 0);

/** The state that holds how late the command of a phase ended. */
export const memoryOf = ({ order }: LinearPeriod, phase: number): number => order + phase;

/** Put the disturbance of the states, `columns` of them side by side, through the entry into a configuration. */
export function entered(
  entry: Float64Array | undefined,
  s: Float64Array,
  { order, columns: width }: LinearPeriod,
  size: number,
  columns: number,
): Float64Array {
  if (!entry) return s;
  const out = Float64Array.from(s);
  for (let i = 0; i < order; i += 1) {
    for (let c = 0; c < columns; c += 1) {
      let sum = 0;
      for (let j = 0; j < order; j += 1) sum += (entry[i * (width + 1) + j] as number) * (s[j * columns + c] as number);
      out[i * columns + c] = sum;
    }
  }
  if (out.length !== size * columns) throw new Error('The disturbance has another size.');
  return out;
}

/** How much a column of disturbances delays the event that ends a segment, s: one value for each column. */
export function delays(
  period: LinearPeriod,
  { moves }: LinearEvent,
  s: Float64Array,
  columns: number,
): Float64Array | undefined {
  if (!moves) return undefined;
  if (moves.kind === 'with') {
    const at = memoryOf(period, moves.phase) * columns;
    return s.slice(at, at + columns);
  }
  const { row, rate } = moves.instant;
  const out = zeros(columns);
  for (let c = 0; c < columns; c += 1) {
    let sum = 0;
    for (let j = 0; j < period.order; j += 1) sum += (row[j] as number) * (s[j * columns + c] as number);
    out[c] = -sum / rate;
  }
  return out;
}

/**
 * How a small disturbance of the orbit goes over from one share of the period to the next, seen with the phases moved on:
 * between the events by the propagators, at an instant that moves by P + (P f⁻ − f⁺) dt/dx (saltation).
 *
 * @param edges `still`: the ends of the commands stay where they are, as if the comparators saw nothing.
 *
 * Source: R. I. Leine, H. Nijmeijer, Dynamics and Bifurcations of Non-Smooth Mechanical Systems (2004), ch. 7 (fundamental
 * solution matrix with jumps).
 */
export function shareMap(period: LinearPeriod, edges: 'compared' | 'still' = 'compared'): Float64Array {
  const { order, segments, opening, phases, shares } = period;
  const size = sizeOf(period);
  let s = zeros(size * size);
  // Still edges are never late: there is nothing to remember.
  const remembered = edges === 'still' ? order : size;
  for (let i = 0; i < remembered; i += 1) s[i * size + i] = 1;
  s = entered(opening, s, period, size, size);
  for (const { phi, end } of segments) {
    const top = product(phi, s.subarray(0, order * size), order, order, size);
    const next = Float64Array.from(s);
    next.set(top);
    if (!end) {
      s = next;
      continue;
    }
    const follows = end.moves?.kind === 'with' || end.moves?.instant.compared === true;
    const late = edges === 'still' && follows ? undefined : delays(period, end, next, size);
    s = entered(end.entry, next, period, size, size);
    if (!late) continue;
    if (end.moves?.kind === 'itself' && end.moves.instant.compared && period.remembers)
      s.set(late, memoryOf(period, end.moves.phase) * size);
    for (let i = 0; i < order; i += 1)
      for (let c = 0; c < size; c += 1)
        s[i * size + c] = (s[i * size + c] as number) + (end.jump[i] as number) * (late[c] as number);
  }
  // The phase that follows takes the place of each.
  const out = zeros(size * size);
  for (let i = 0; i < size; i += 1) {
    const to = i < order ? (period.successors[i] ?? i) : order + ((i - order + phases / shares) % phases);
    out.set(s.subarray(to * size, (to + 1) * size), i * size);
  }
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
