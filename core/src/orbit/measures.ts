import { bilinear, dot } from '../linalg/dense.js';
import { copied } from '../linalg/zeros.js';
import { secondMoment } from '../linalg/propagator.js';
import type { Segment } from './segment.js';
import { gridOf } from './inside.js';
import type { PeriodicSolution } from './periodic.js';
import { propagatorOf } from './propagation.js';
import type { Signal } from './signal.js';

/** ∫ z zᵀ dt over a segment, worked out once however many figures are measured; keyed by the state at its start. */
const moments = new WeakMap<Float64Array, Float64Array>();

function momentOf({ equations, duration, initial }: Segment): Float64Array {
  const known = moments.get(initial);
  if (known) return known;
  const { excess } = propagatorOf(equations, duration, true);
  const made = secondMoment(equations.dynamics, equations.order + 1, duration, initial, excess);
  moments.set(initial, made);
  return made;
}

/** What each segment adds to the average of a waveform. */
export function averageShares(solution: PeriodicSolution, signal: Signal): readonly number[] {
  return solution.segments.map((s) => dot(signal(s.equations), s.integral) / solution.period);
}

/** What each segment adds to the average of the product of two waveforms. */
export function productShares(solution: PeriodicSolution, a: Signal, b: Signal): readonly number[] {
  return solution.segments.map((s) => bilinear(a(s.equations), momentOf(s), b(s.equations)) / solution.period);
}

const total = (shares: readonly number[]): number => shares.reduce((sum, share) => sum + share, 0);

/** Average over the period. */
export function average(solution: PeriodicSolution, signal: Signal): number {
  return total(averageShares(solution, signal));
}

/** Average over the period of the product of two waveforms: a power, when they are a voltage and a current. */
export function averageProduct(solution: PeriodicSolution, a: Signal, b: Signal): number {
  return total(productShares(solution, a, b));
}

/** Root mean square over the period. */
export function rms(solution: PeriodicSolution, signal: Signal): number {
  return Math.sqrt(Math.max(0, averageProduct(solution, signal, signal)));
}

/** Root mean square of what is left when the average is taken away. */
export function alternatingRms(solution: PeriodicSolution, signal: Signal): number {
  return rms(solution, withoutMean(solution, signal));
}

/** The waveform less its average: taken away in the row, not from the square, so that a small ripple keeps its digits. */
export function withoutMean(solution: PeriodicSolution, signal: Signal): Signal {
  const mean = average(solution, signal);
  return (equations) => {
    const row = copied(signal(equations));
    row[equations.order] = (row[equations.order] ?? 0) - mean;
    return row;
  };
}

export interface Extremes {
  readonly max: number;
  readonly min: number;
  /** s from the clock of phase 1 at which they occur. */
  readonly maxAt: number;
  readonly minAt: number;
  /** max − min. */
  readonly peakToPeak: number;
}

/** Peak, valley and ripple of one waveform are read one after another. */
const knownExtremes = new WeakMap<PeriodicSolution, Map<Signal, Extremes>>();

/** Largest and smallest value over the period, both sides of every edge included. */
export function extremes(solution: PeriodicSolution, signal: Signal): Extremes {
  let known = knownExtremes.get(solution);
  if (!known) {
    known = new Map();
    knownExtremes.set(solution, known);
  }
  const before = known.get(signal);
  if (before) return before;
  const found = searchExtremes(solution, signal);
  known.set(signal, found);
  return found;
}

function searchExtremes(solution: PeriodicSolution, signal: Signal): Extremes {
  let max = -Infinity;
  let min = Infinity;
  let maxAt = 0;
  let minAt = 0;
  const consider = (value: number, time: number): void => {
    if (value > max) {
      max = value;
      maxAt = time;
    }
    if (value < min) {
      min = value;
      minAt = time;
    }
  };
  // What is common to all phases repeats from phase to phase: the same row on the same states need not be searched again.
  const searched = new Map<Float64Array, Float64Array>();
  for (const segment of solution.segments) {
    if (segment.duration === 0 || searched.get(segment.initial) === signal(segment.equations)) continue;
    const row = signal(segment.equations);
    searched.set(segment.initial, row);
    for (const { at, step, cubic } of cellsOf(segment, row)) {
      const time = segment.start + at;
      consider(cubic.y0, time);
      consider(cubicAt(cubic, 1), time + step);
      if (cubic.m0 * slopeAtEnd(cubic) >= 0) continue;
      const turning = cubicExtreme(cubic);
      if (turning) consider(turning.value, time + turning.u * step);
    }
  }
  return { max, min, maxAt, minAt, peakToPeak: max - min };
}

/** A waveform between two instants of a segment's grid. */
interface Cell {
  /** s from the start of the segment. */
  readonly at: number;
  readonly step: number;
  readonly cubic: Cubic;
}

/** A waveform over a segment, cell by cell of its grid: values and slopes are exact at both ends of each. */
function cellsOf(segment: Segment, row: Float64Array): readonly Cell[] {
  const { times, states, rates } = gridOf(segment);
  const values = states.map((state) => dot(row, state));
  const slopes = rates.map((rate) => dot(row, rate));
  return times.slice(1).map((time, k) => {
    const at = times[k] ?? 0;
    const step = time - at;
    const [y0, y1] = [values[k] ?? 0, values[k + 1] ?? 0];
    return { at, step, cubic: cubicOf(y0, y1, (slopes[k] ?? 0) * step, (slopes[k + 1] ?? 0) * step) };
  });
}

/** y0 + m0 u + b u² + a u³, the Hermite cubic on [0, 1]. */
interface Cubic {
  readonly y0: number;
  readonly m0: number;
  readonly a: number;
  readonly b: number;
}

/** The cubic with given end values and end slopes. */
const cubicOf = (y0: number, y1: number, m0: number, m1: number): Cubic => ({
  y0,
  m0,
  a: 2 * y0 - 2 * y1 + m0 + m1,
  b: -3 * y0 + 3 * y1 - 2 * m0 - m1,
});

const slopeAtEnd = ({ m0, a, b }: Cubic): number => m0 + 2 * b + 3 * a;

const cubicAt = ({ y0, m0, a, b }: Cubic, u: number): number => ((a * u + b) * u + m0) * u + y0;

/** ∫ of the positive part of a cubic over [0, 1], with at most one change of sign between its ends. */
function positiveArea(piece: Cubic): number {
  const { y0, m0, a, b } = piece;
  const area = (u: number): number => (((a / 4) * u + b / 3) * u + m0 / 2) * u * u + y0 * u;
  const y1 = cubicAt(piece, 1);
  if (y0 >= 0 && y1 >= 0) return area(1);
  if (y0 <= 0 && y1 <= 0) return 0;
  let low = 0;
  let high = 1;
  for (let halving = 0; halving < 52; halving += 1) {
    const middle = (low + high) / 2;
    if (cubicAt(piece, middle) > 0 === y0 > 0) low = middle;
    else high = middle;
  }
  return y0 > 0 ? area(low) : area(1) - area(low);
}

/** The extreme value on [0, 1] of a cubic whose end slopes have opposite signs. */
function cubicExtreme(piece: Cubic): { readonly u: number; readonly value: number } | undefined {
  const { a, b, m0 } = piece;
  // Slope 3a u² + 2b u + m0 = 0; the root in (0, 1), in the form that keeps its digits when a vanishes.
  const discriminant = b * b - 3 * a * m0;
  if (discriminant < 0) return undefined;
  const q = -(b + Math.sign(b === 0 ? 1 : b) * Math.sqrt(discriminant));
  const u = [q / (3 * a), m0 / q].find((root) => root >= 0 && root <= 1);
  return u === undefined ? undefined : { u, value: cubicAt(piece, u) };
}

/**
 * Charge (or flux) that a waveform moves in its positive direction in one period: the integral of its positive part. For the
 * current of a capacitor this is what it takes up and gives back.
 */
export function charge(solution: PeriodicSolution, signal: Signal): number {
  let sum = 0;
  for (const segment of solution.segments) {
    if (segment.duration === 0) continue;
    for (const { step, cubic } of cellsOf(segment, signal(segment.equations))) sum += step * positiveArea(cubic);
  }
  return sum;
}

/** A waveform as points for drawing: both sides of every edge are kept. @public */
export interface Points {
  /** s from the clock of phase 1. */
  readonly time: readonly number[];
  readonly value: readonly number[];
}

/** Points drawn to a segment, at least. */
const DRAWN = 16;

/** Points of a waveform over one period, both sides of every edge among them: exact states, joined by cubics. @public */
export function points(solution: PeriodicSolution, signal: Signal): Points {
  const time: number[] = [];
  const value: number[] = [];
  for (const segment of solution.segments) {
    if (segment.duration === 0) continue;
    cellsOf(segment, signal(segment.equations)).forEach(({ at, step, cubic }, k) => {
      if (k === 0) {
        time.push(segment.start);
        value.push(cubic.y0);
      }
      const within = Math.max(1, Math.ceil((DRAWN * step) / segment.duration));
      for (let u = 1; u <= within; u += 1) {
        time.push(segment.start + at + (u / within) * step);
        value.push(cubicAt(cubic, u / within));
      }
    });
  }
  return { time, value };
}
