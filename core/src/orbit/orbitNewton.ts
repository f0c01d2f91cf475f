import { solveSquare } from '../linalg/dense.js';
import { copied, zeros } from '../linalg/zeros.js';
import { alongPeriod, dutiesOf, type Configurations, type Pass } from './alongPeriod.js';
import type { Courses } from './course.js';
import { guardsOf, type Guard } from './events.js';
import type { PeriodicProblem } from './periodicProblem.js';
import { intervalSpan } from './schedule.js';
import { guardColumn, periodColumn } from './unknowns.js';

/** Where a search starts. */
export interface OrbitStart {
  /** State at the clock; where it is not known, the fixed point of the affine map with the instants held. */
  readonly x?: Float64Array | undefined;
  /** One for all phases, or one for each distinct one. */
  readonly duties: readonly number[];
  /** Of the guards, in their order; the middle of their interval where they are not known. */
  readonly instants: readonly (number | undefined)[];
  /** s */
  readonly period: number;
}

/** Within what a search keeps, and when it ends. */
export interface OrbitLimits {
  readonly duty: { readonly min: number; readonly max: number };
  /** Largest change of a duty ratio in one step: where the steady state is near, and further off lies another. */
  readonly longest?: number;
  /** Newton stops when instants move by less than this fraction of a period and states by less than it of their size. */
  readonly precision: number;
  /** Whether the last step is taken and followed, which squares what remains; or the pass it came from is near enough. */
  readonly polish: boolean;
}

/** A periodic orbit. */
export interface Orbit {
  readonly pass: Pass;
  readonly duties: readonly number[];
  /** Of the guards, as shares of the period. */
  readonly instants: readonly number[];
  /** s */
  readonly period: number;
}

export type OrbitResult =
  | ({ readonly kind: 'found'; readonly iterations: number } & Orbit)
  | {
      readonly kind: 'none';
      readonly reason: string;
      readonly iterations: number;
      readonly duties: readonly number[];
      /** The guard that the search wants to lie before its step begins. */
      readonly stuck?: Guard;
    };

const MAX_ITERATIONS = 40;
/** Steps taken whole; after them by halves, as Newton may step to and fro across an instant at which two events change places. */
const UNDAMPED = 10;
const DAMPING = 0.5;
/** An instant this close to the start of its step, in periods, and pushed farther back, will not settle within it. */
const STUCK = 1e-5;
/** By how much of the period an instant may overshoot the end of its interval on the way. */
const OVERSHOOT = 0.02;
/** The least period over the on-time within it, and the largest factor by which one step may change the period. */
const LEAST_PERIOD = 1.02;
const MOST_STRETCH = 2;

/**
 * Find the orbit that repeats, with Newton's method.
 *
 * Unknowns are the state at the clock, the instants at which diodes start and stop, and what the control leaves open: duty ratios
 * or the period. The instants are unknowns themselves (not found by simulating until they occur), which makes the problem nearly
 * bilinear, and an integrator in the loop, which leaves the state alone undetermined, does no harm.
 *
 * Theory: T. J. Aprille, T. N. Trick, Steady-State Analysis of Nonlinear Circuits with Periodic Inputs, Proc. IEEE 60
 * (1972), the shooting method, here with event instants as additional unknowns.
 */
export function orbitNewton(
  problem: PeriodicProblem,
  courses: Courses,
  start: OrbitStart,
  limits: OrbitLimits,
  configurations: Configurations = new Map(),
): OrbitResult {
  const { control } = problem;
  const guards = guardsOf(problem, courses);
  const duties = [...start.duties];
  let { period } = start;
  const dutyOf = dutiesOf(problem, duties);
  const bounds = boundsOf(problem, guards);
  const instants = guards.map((guard, g) => {
    const { from, to } = bounds(guard, dutyOf(guard.phase), period, []);
    return Math.min(Math.max(start.instants[g] ?? (from + to) / 2, from + 1e-6), Math.max(to - 1e-9, from + 1e-6));
  });
  const along = (x: Float64Array | undefined, sensitivities = true): Pass =>
    alongPeriod(problem, courses, guards, { dutyOf, period, guards: instants }, x, configurations, sensitivities);
  const none = (reason: string, iterations: number, stuck?: Guard): OrbitResult => ({
    kind: 'none',
    reason,
    iterations,
    duties,
    ...(stuck && { stuck }),
  });
  let x = start.x ?? affineStart(along(undefined));
  for (let iteration = 1; iteration <= MAX_ITERATIONS; iteration += 1) {
    const pass = along(x);
    const { unknowns } = pass;
    const { order } = unknowns;
    const step = solveSquare(
      pass.jacobian,
      pass.residual.map((r) => -r),
      unknowns.count,
    );
    if (step.some((value) => !Number.isFinite(value)))
      return none('the equations of the period have no finite solution', iteration);
    const dutySteps = Array.from({ length: unknowns.duties }, (_, p) => step[order + guards.length + p] ?? 0);
    const instantSteps = guards.map((_, g) => step[guardColumn(unknowns, g)] ?? 0);
    const periodStep = unknowns.period ? (step[periodColumn(unknowns)] ?? 0) : 0;
    // Hold back steps that would throw an instant out of its interval or a duty ratio out of its range.
    let held = 1;
    dutySteps.forEach((dutyStep, p) => {
      held = Math.min(held, allowedShare(duties[p] ?? 0, dutyStep, limits.duty.min, limits.duty.max));
      if (limits.longest !== undefined && Math.abs(dutyStep) > limits.longest)
        held = Math.min(held, limits.longest / Math.abs(dutyStep));
    });
    if (unknowns.period) {
      const least = control.kind === 'on-time' ? LEAST_PERIOD * control.onTime : 0;
      const low = Math.max(least, period / MOST_STRETCH);
      held = Math.min(held, allowedShare(period, periodStep, low, period * MOST_STRETCH));
    }
    guards.forEach((guard, g) => {
      const moved = dutyOf(guard.phase) + held * (dutySteps[dutySteps.length > 1 ? guard.phase : 0] ?? 0);
      const { from, to } = bounds(guard, moved, period, instants);
      held = Math.min(held, allowedShare(instants[g] ?? 0, instantSteps[g] ?? 0, from, to + OVERSHOOT));
    });
    const stuck = guards.find((guard, g) => {
      const { from } = bounds(guard, dutyOf(guard.phase), period, instants);
      return (instants[g] ?? 0) - from < STUCK && (instantSteps[g] ?? 0) < 0 && held < 1e-3;
    });
    if (stuck) return none('a diode would stop before it starts', iteration, stuck);
    const size = Math.max(...x.map(Math.abs), 1e-12);
    const moved = Math.max(
      0,
      ...dutySteps.map(Math.abs),
      ...instantSteps.map(Math.abs),
      Math.abs(periodStep) / period,
      ...step.subarray(0, order).map((value) => Math.abs(value) / size),
    );
    const settled = held === 1 && moved < limits.precision;
    if (settled && !limits.polish) return { kind: 'found', pass, duties, instants, period, iterations: iteration };
    if (!settled && iteration > UNDAMPED) held *= DAMPING;
    const next = copied(pass.x);
    for (let i = 0; i < order; i += 1) next[i] = (next[i] as number) + held * (step[i] as number);
    dutySteps.forEach((value, p) => (duties[p] = (duties[p] ?? 0) + held * value));
    instantSteps.forEach((value, g) => (instants[g] = (instants[g] ?? 0) + held * value));
    period += held * periodStep;
    if (control.kind === 'on-time') duties.fill(control.onTime / period);
    x = next;
    if (settled) {
      const early = guards.find(
        (guard, g) => (instants[g] ?? 0) < bounds(guard, dutyOf(guard.phase), period, instants).from,
      );
      if (early) return none('a diode would stop before it starts', iteration, early);
      return { kind: 'found', pass: along(x, false), duties, instants, period, iterations: iteration };
    }
  }
  return none('the search for the steady state did not settle', MAX_ITERATIONS);
}

/** Between which instants a guard may lie: from the one before it in its interval, or the start of that, to the end of it. */
const boundsOf =
  ({ phases }: PeriodicProblem, guards: readonly Guard[]) =>
  (
    guard: Guard,
    duty: number,
    period: number,
    instants: readonly number[],
  ): { readonly from: number; readonly to: number } => {
    const phase = phases[guard.phase];
    if (!phase) throw new Error('A guard has no phase.');
    const { from, to } = intervalSpan(phase, guard.interval, { duty, period });
    const before = guards.findIndex(
      ({ phase: p, interval, step }) => p === guard.phase && interval === guard.interval && step === guard.step - 1,
    );
    return { from: Math.max(from, instants[before] ?? from), to };
  };

/** With the instants held the period is an affine map: its fixed point is where the search starts. */
function affineStart({ unknowns: { order, count }, x, residual, jacobian }: Pass): Float64Array {
  const block = zeros(order * order);
  for (let i = 0; i < order; i += 1) block.set(jacobian.subarray(i * count, i * count + order), i * order);
  const step = solveSquare(
    block,
    residual.slice(0, order).map((r) => -r),
    order,
  );
  return x.map((value, i) => value + (step[i] ?? 0));
}

/** The share of a step that keeps a value inside its range, never closing more than 80 % of the way to the border. */
function allowedShare(value: number, step: number, low: number, high: number): number {
  if (step === 0) return 1;
  const room = step > 0 ? high - value : value - low;
  if (Math.abs(step) <= room) return 1;
  return Math.max(0.8 * Math.max(room, 0), 1e-12) / Math.abs(step);
}
