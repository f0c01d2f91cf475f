import type { StateEquations } from '../circuit/stateEquations.js';
import { solveSquare } from '../linalg/dense.js';
import { copied, zeros } from '../linalg/zeros.js';
import { alongPeriod, guardsOf, type Pass, type Segment } from './alongPeriod.js';
import { clamp, noPhase, type Attempt, type Warm } from './attempt.js';
import { conductsAgain, earlierStops, observedOutcomes, startsReversed, warmStart } from './diodes.js';
import type { DutyProblem, Neighbour, PeriodicProblem } from './periodicProblem.js';
import { expanded } from './rotation.js';
import { intervalSpan, type DiodeOutcome } from './schedule.js';

/** The exact periodic steady state of a stage. */
export interface PeriodicSolution extends Neighbour {
  readonly period: number;
  readonly segments: readonly Segment[];
  readonly iterations: number;
}

export type PeriodicResult =
  | { readonly kind: 'solved'; readonly solution: PeriodicSolution }
  | { readonly kind: 'not-converged'; readonly reason: string; readonly iterations: number; readonly duty: number };

const MAX_ITERATIONS = 40;
const MAX_OUTCOME_CHANGES = 8;
/** Steps taken whole; after them by halves, as Newton may step to and fro across an instant at which two events change places. */
const UNDAMPED = 10;
const DAMPING = 0.5;
/** An instant this close to the start of its interval, in periods, and pushed farther back, will not settle within it. */
const STUCK = 1e-5;
/**
 * Newton stops when instants move by less than this fraction of a period and states by less than it of their size; the step
 * is still taken, and as the method converges quadratically what remains is about its square.
 */
const CONVERGED = 1e-5;
/**
 * Solve for the periodic steady state with Newton's method.
 *
 * Unknowns are the state at the clock, the instants at which a diode current reaches zero, and the duty ratio when the
 * output is regulated; the residuals are periodicity, the diode currents at those instants, and the average output. The
 * instants are unknowns themselves (not found by simulating until they occur), which makes the problem nearly bilinear;
 * the Jacobian is accumulated exactly along the period. What the diodes do is first assumed and then checked, and the
 * problem solved again with what the check found.
 *
 * Theory: T. J. Aprille, T. N. Trick, Steady-State Analysis of Nonlinear Circuits with Periodic Inputs, Proc. IEEE 60
 * (1972), the shooting method, here with event instants as additional unknowns.
 */
export function solvePeriodic(problem: DutyProblem): PeriodicResult {
  const intervals = problem.phases[0]?.intervals ?? [];
  if (problem.near?.outcomes.length === intervals.length) {
    const result = searched(problem, problem.near.outcomes, problem.near);
    if (result.kind === 'solved') return result;
  }
  return searched(
    problem,
    intervals.map(() => 'forward'),
    undefined,
  );
}

function searched(problem: DutyProblem, assumed: readonly DiodeOutcome[], start: Warm | undefined): PeriodicResult {
  const configurations = new Map<string, StateEquations>();
  const intervals = problem.phases[0]?.intervals ?? [];
  let outcomes = assumed;
  let iterations = 0;
  let warm = start;
  for (let change = 0; change < MAX_OUTCOME_CHANGES; change += 1) {
    const attempt = newton(problem, outcomes, configurations, warm);
    iterations += attempt.iterations;
    if (!attempt.converged && attempt.stuck !== undefined) {
      // The diode would have to stop before its turn begins, so the current has the other sign then, or there is none.
      const { stuck } = attempt;
      const path = intervals[stuck]?.freewheel?.reverse.length ?? 0;
      const instead = outcomes[stuck] === 'forward-then-idle' && path > 0 ? 'reverse' : 'idle';
      outcomes = outcomes.map((outcome, i) => (i === stuck ? instead : outcome));
      warm = undefined;
      continue;
    }
    if (!attempt.converged) {
      return { kind: 'not-converged', reason: attempt.reason, iterations, duty: attempt.duty };
    }
    const solution: PeriodicSolution = {
      period: problem.period,
      duty: attempt.duty,
      segments: attempt.segments,
      outcomes,
      instants: instantsByInterval(problem, outcomes, attempt),
      iterations,
    };
    const observed = observedOutcomes(problem, outcomes, attempt);
    const tooLate = earlierStops(problem, outcomes, attempt);
    const same = observed.every((outcome, i) => outcome === outcomes[i]);
    if (same && tooLate.size === 0) {
      const amiss = conductsAgain(problem, solution.segments) ?? startsReversed(problem, outcomes, attempt);
      return amiss === undefined
        ? { kind: 'solved', solution }
        : { kind: 'not-converged', reason: amiss, iterations, duty: solution.duty };
    }
    if (tooLate.size > 0) {
      warm = { duty: attempt.duty, instants: new Map([...solution.instants, ...tooLate]) };
      outcomes = outcomes.map((outcome, i) =>
        tooLate.has(i) ? (outcome.startsWith('reverse') ? 'reverse-then-idle' : 'forward-then-idle') : outcome,
      );
    } else {
      warm = warmStart(problem, attempt, observed);
      outcomes = observed;
    }
  }
  return {
    kind: 'not-converged',
    reason: 'the diodes found no consistent sequence of conduction',
    iterations,
    duty: warm?.duty ?? 0,
  };
}

/** The instants found, those of the first phase standing for all. */
function instantsByInterval(
  problem: PeriodicProblem,
  outcomes: readonly DiodeOutcome[],
  { instants }: Attempt,
): ReadonlyMap<number, number> {
  return new Map(
    guardsOf(problem, outcomes).flatMap(({ phase, interval }, g) =>
      phase === 0 ? [[interval, instants[g] ?? 0]] : [],
    ),
  );
}

function newton(
  problem: DutyProblem,
  outcomes: readonly DiodeOutcome[],
  configurations: Map<string, StateEquations>,
  warm: Warm | undefined,
): Attempt {
  const { phases, control } = problem;
  const guards = guardsOf(problem, outcomes);
  const regulated = control.kind === 'regulated';
  let duty = control.kind === 'duty' ? control.duty : (warm?.duty ?? control.guess);
  const instants = guards.map(({ phase, interval }) => {
    const span = intervalSpan(phases[phase] ?? noPhase(), interval, duty);
    const known = warm?.instants.get(interval);
    return clamp(known ?? (span.from + span.to) / 2, span.from + 1e-6, span.to - 1e-9);
  });
  // With the instants held the period is an affine map: its fixed point is where the search starts.
  let x = affineStart(alongPeriod(problem, outcomes, guards, duty, instants, undefined, configurations));
  for (let iteration = 1; iteration <= MAX_ITERATIONS; iteration += 1) {
    const pass = alongPeriod(problem, outcomes, guards, duty, instants, x, configurations);
    const { order } = pass;
    const unknowns = order + guards.length + (regulated ? 1 : 0);
    const step = solveSquare(
      pass.jacobian,
      pass.residual.map((r) => -r),
      unknowns,
    );
    if (step.some((value) => !Number.isFinite(value))) {
      return failed('the equations of the period have no finite solution', iteration, duty);
    }
    // Hold back steps that would throw an instant out of its interval or the duty out of its range.
    const instantSteps = guards.map((_, g) => step[order + g] ?? 0);
    const dutyStep = regulated ? (step[order + guards.length] ?? 0) : 0;
    let held = 1;
    if (regulated) held = Math.min(held, allowedShare(duty, dutyStep, control.min, control.max));
    guards.forEach(({ phase, interval }, g) => {
      const span = intervalSpan(phases[phase] ?? noPhase(), interval, duty + held * dutyStep);
      held = Math.min(held, allowedShare(instants[g] ?? 0, instantSteps[g] ?? 0, span.from, span.to + 0.02));
    });
    const stuck = guards.find(({ phase, interval }, g) => {
      const { from } = intervalSpan(phases[phase] ?? noPhase(), interval, duty);
      return (instants[g] ?? 0) - from < STUCK && (instantSteps[g] ?? 0) < 0 && held < 1e-3;
    });
    if (stuck) return { ...failed('a diode would stop before it starts', iteration, duty), stuck: stuck.interval };
    const clear = held === 1;
    const size = Math.max(...x.map(Math.abs), 1e-12);
    const moved = Math.max(
      Math.abs(dutyStep),
      ...instantSteps.map(Math.abs),
      ...step.subarray(0, order).map((value) => Math.abs(value) / size),
    );
    const settled = clear && moved < CONVERGED;
    if (!settled && iteration > UNDAMPED) held *= DAMPING;
    const next = copied(pass.x);
    for (let i = 0; i < order; i += 1) next[i] = (next[i] ?? 0) + held * (step[i] ?? 0);
    duty += held * dutyStep;
    instantSteps.forEach((value, g) => (instants[g] = (instants[g] ?? 0) + held * value));
    x = next;
    if (settled) {
      const last = expanded(problem, alongPeriod(problem, outcomes, guards, duty, instants, x, configurations, false));
      const outside = guards.some(
        ({ phase, interval }, g) => (instants[g] ?? 0) < intervalSpan(phases[phase] ?? noPhase(), interval, duty).from,
      );
      if (outside) return failed('a diode would stop before it starts', iteration, duty);
      return {
        converged: true,
        reason: '',
        iterations: iteration,
        duty,
        instants,
        segments: last.segments,
        spans: last.spans,
      };
    }
  }
  return failed('the search for the steady state did not settle', MAX_ITERATIONS, duty);
}

function affineStart({ order, x, residual, jacobian }: Pass): Float64Array {
  const unknowns = residual.length;
  const block = zeros(order * order);
  for (let i = 0; i < order; i += 1) block.set(jacobian.subarray(i * unknowns, i * unknowns + order), i * order);
  const step = solveSquare(
    block,
    residual.slice(0, order).map((r) => -r),
    order,
  );
  return x.map((value, i) => value + (step[i] ?? 0));
}

function failed(reason: string, iterations: number, duty: number): Attempt {
  return { converged: false, reason, iterations, duty, instants: [], segments: [], spans: [] };
}

/** The share of a step that keeps a value inside its range, never closing more than 80 % of the way to the border. */
function allowedShare(value: number, step: number, low: number, high: number): number {
  if (step === 0) return 1;
  const room = step > 0 ? high - value : value - low;
  if (Math.abs(step) <= room) return 1;
  return Math.max(0.8 * Math.max(room, 0), 1e-12) / Math.abs(step);
}
