import { bilinear, dot, product } from '../linalg/dense.js';
import { secondMoment, statesWithin } from '../linalg/propagator.js';
import type { Segment } from './alongPeriod.js';
import type { PeriodicSolution } from './periodic.js';
import { LEVELS, propagatorOf } from './propagation.js';
import type { Signal } from './signal.js';

/** Steps of a segment on which extremes are first looked for; each is then refined on its own cubic. */
const GRID = 2 ** LEVELS;

/** What is worked out once per segment, however many figures are measured on it. */
interface SegmentDetail {
  /** ∫ z zᵀ dt over the segment. */
  readonly moment: Float64Array;
  /** Exact states at GRID + 1 equally spaced instants. */
  readonly grid: readonly Float64Array[];
}

/** Keyed by the state at the start: phases that are copies of each other share it. */
const details = new WeakMap<Float64Array, SegmentDetail>();

function detailOf({ equations, duration, initial }: Segment): SegmentDetail {
  const known = details.get(initial);
  if (known) return known;
  const size = equations.order + 1;
  const { excess } = propagatorOf(equations, duration, true);
  const made = {
    moment: secondMoment(equations.dynamics, size, duration, initial, excess),
    grid: statesWithin(initial, size, LEVELS, excess),
  };
  details.set(initial, made);
  return made;
}

/** What each segment adds to the average of a waveform. */
export function averageShares(solution: PeriodicSolution, signal: Signal): readonly number[] {
  return solution.segments.map((s) => dot(signal(s.equations), s.integral) / solution.period);
}

/** What each segment adds to the average of the product of two waveforms. */
export function productShares(solution: PeriodicSolution, a: Signal, b: Signal): readonly number[] {
  return solution.segments.map((s) => bilinear(a(s.equations), detailOf(s).moment, b(s.equations)) / solution.period);
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
    const row = signal(equations).slice();
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

/** Largest and smallest value over the period, both sides of every edge included. */
export function extremes(solution: PeriodicSolution, signal: Signal): Extremes {
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
  for (const segment of solution.segments) {
    if (segment.duration === 0) continue;
    const row = signal(segment.equations);
    const size = segment.equations.order + 1;
    const slopeRow = product(row, segment.equations.dynamics, 1, size, size);
    const step = segment.duration / GRID;
    const states = detailOf(segment).grid;
    for (let k = 0; k < states.length; k += 1) {
      const state = states[k];
      if (!state) continue;
      const value = dot(row, state);
      const time = segment.start + k * step;
      consider(value, time);
      const next = states[k + 1];
      if (!next) continue;
      const m0 = dot(slopeRow, state) * step;
      const m1 = dot(slopeRow, next) * step;
      if (m0 * m1 >= 0) continue;
      const turning = cubicExtreme(value, dot(row, next), m0, m1);
      if (turning) consider(turning.value, time + turning.u * step);
    }
  }
  return { max, min, maxAt, minAt, peakToPeak: max - min };
}

/** The extreme value of the Hermite cubic on [0, 1] with end values and end slopes of opposite sign. */
function cubicExtreme(
  y0: number,
  y1: number,
  m0: number,
  m1: number,
): { readonly u: number; readonly value: number } | undefined {
  const a = 2 * y0 - 2 * y1 + m0 + m1;
  const b = -3 * y0 + 3 * y1 - 2 * m0 - m1;
  // Slope 3a u² + 2b u + m0 = 0; the root in (0, 1), in the form that keeps its digits when a vanishes.
  const discriminant = b * b - 3 * a * m0;
  if (discriminant < 0) return undefined;
  const q = -(b + Math.sign(b === 0 ? 1 : b) * Math.sqrt(discriminant));
  const u = [q / (3 * a), m0 / q].find((root) => root >= 0 && root <= 1);
  if (u === undefined) return undefined;
  return { u, value: ((a * u + b) * u + m0) * u + y0 };
}

/** A waveform as points for drawing: both sides of every edge are kept. */
export interface Points {
  /** s from the clock of phase 1. */
  readonly time: readonly number[];
  readonly value: readonly number[];
}

/** Exact points of a waveform over one period, `GRID` to a segment. */
export function points(solution: PeriodicSolution, signal: Signal): Points {
  const time: number[] = [];
  const value: number[] = [];
  for (const segment of solution.segments) {
    if (segment.duration === 0) continue;
    const row = signal(segment.equations);
    detailOf(segment).grid.forEach((state, k) => {
      time.push(segment.start + (segment.duration * k) / GRID);
      value.push(dot(row, state));
    });
  }
  return { time, value };
}
