import { dot, product } from '../linalg/dense.js';
import { propagator } from '../linalg/propagator.js';
import { zeros } from '../linalg/zeros.js';
import type { LinearPeriod, LinearSegment } from './linearPeriod.js';
import type { Segment } from '../orbit/segment.js';
import { Disturbances } from './disturbances.js';
import type { Probe } from './response.js';

/** A signal after a source has stepped, at the clock, from the periodic steady state. */
export interface StepResponse {
  /** s after the step. */
  readonly time: Float64Array;
  /** The signal less its average in the steady state before the step, ripple and all. */
  readonly signal: Float64Array;
  /** The same without the ripple of the steady state. */
  readonly change: Float64Array;
  /** Largest and least duty ratio that the linear response asks of the first phase, less the one at rest. */
  readonly dutyRise: number;
  readonly dutyFall: number;
}

/** Points in a share of the period. */
const POINTS = 12;

/** A stretch cut into equal parts: what one part does to the states, and what the stepped source adds. */
interface Cut {
  readonly parts: number;
  readonly phi: Float64Array;
  readonly forced: Float64Array;
}

function cut({ equations, duration }: LinearSegment, { order, columns, share }: LinearPeriod, column: number): Cut {
  const parts = Math.max(1, Math.ceil((POINTS * duration) / share));
  // [A b; 0 0], whose exponential has the forced response of a constant source in its last column.
  const size = order + 1;
  const k = zeros(size * size);
  for (let i = 0; i < order; i += 1) {
    for (let j = 0; j < order; j += 1) k[i * size + j] = equations.dynamics[i * (columns + 1) + j] as number;
    k[i * size + order] = equations.dynamics[i * (columns + 1) + column] as number;
  }
  const { phi: whole } = propagator(k, size, duration / parts);
  const phi = zeros(order * order);
  const forced = zeros(order);
  for (let i = 0; i < order; i += 1) {
    for (let j = 0; j < order; j += 1) phi[i * order + j] = whole[i * size + j] as number;
    forced[i] = whole[i * size + order] as number;
  }
  return { parts, phi, forced };
}

/**
 * The response of an orbit to a step of a source, linear about the orbit: exact for small steps, within some percent for steps
 * that keep the duty ratio within its limits (each instant moves in proportion, and no pulse is skipped).
 *
 * @param source stepped by `step` (V or A) at the clock of the first phase.
 * @param probe the signal; its ripple comes from the orbit itself.
 * @param shares of the period that are followed.
 */
export function stepResponse(
  period: LinearPeriod,
  orbit: readonly Segment[],
  probe: Probe,
  source: string,
  step: number,
  shares: number,
): StepResponse {
  const { order, segments, opening } = period;
  const column = period.sourceColumn.get(source);
  if (column === undefined) throw new Error(`The circuit has no source ${source}.`);
  const cuts = segments.map((segment) => cut(segment, period, column));
  const rows = segments.map(({ equations }) => probe(equations));
  const perShare = cuts.reduce((sum, { parts }) => sum + parts, 0);
  const ripple = rippleOf(period, orbit, cuts, rows);
  const time = zeros(shares * perShare);
  const signal = zeros(shares * perShare);
  const change = zeros(shares * perShare);
  const disturbed = new Disturbances(period, 1);
  const [x = zeros(0)] = disturbed.x;
  const drive = { column, values: Float64Array.of(step) };
  const late = zeros(1);
  let at = 0;
  let dutyRise = 0;
  let dutyFall = 0;
  for (let k = 0; k < shares; k += 1) {
    disturbed.enter(opening, drive);
    segments.forEach(({ start, duration, end }, s) => {
      const { parts, phi, forced } = cuts[s] as Cut;
      const row = rows[s] as Float64Array;
      // Not at its start: an edge that moves jumps there in no time, and so does a stepped current.
      for (let p = 1; p <= parts; p += 1) {
        disturbed.stretch(phi);
        for (let i = 0; i < order; i += 1) x[i] = (x[i] as number) + (forced[i] as number) * step;
        let moved = (row[column] as number) * step;
        for (let i = 0; i < order; i += 1) moved += (row[i] as number) * (x[i] as number);
        time[at] = k * period.share + start + (duration * p) / parts;
        change[at] = moved;
        signal[at] = moved + (ripple[at % perShare] as number);
        at += 1;
      }
      if (!end) return;
      disturbed.event(end, late, drive);
      const { moves } = end;
      if (moves?.kind !== 'itself' || !moves.instant.compared || moves.phase !== 0) return;
      const share = (late[0] as number) / (period.share * period.shares);
      dutyRise = Math.max(dutyRise, share);
      dutyFall = Math.min(dutyFall, share);
    });
    disturbed.moveOn();
  }
  return { time, signal, change, dutyRise, dutyFall };
}

/** The signal over a share of the undisturbed orbit, less its average, at the points of the cuts. */
function rippleOf(
  { order, columns, sources, share }: LinearPeriod,
  orbit: readonly Segment[],
  cuts: readonly Cut[],
  rows: readonly Float64Array[],
): Float64Array {
  const values: number[] = [];
  let average = 0;
  cuts.forEach(({ parts }, s) => {
    const { initial, equations, duration } = orbit[s] as Segment;
    const row = rows[s] as Float64Array;
    const constant = row[columns] as number;
    const fixed = sources.reduce((sum, value, k) => sum + value * (row[order + k] as number), constant);
    const { phi } = propagator(equations.dynamics, order + 1, duration / parts);
    let z = initial;
    for (let p = 0; p <= parts; p += 1) {
      if (p > 0) z = product(phi, z, order + 1, order + 1, 1);
      const value = dot(row.subarray(0, order), z.subarray(0, order)) + fixed;
      if (p > 0) values.push(value);
      // The trapezoidal rule is enough for an average: what it misses is far below the ripple.
      average += ((p === 0 || p === parts ? 0.5 : 1) * value * duration) / parts / share;
    }
  });
  return Float64Array.from(values, (value) => value - average);
}
