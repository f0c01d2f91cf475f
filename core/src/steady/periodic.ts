import type { StateEquations } from '../circuit/stateEquations.js';
import { dot, solveSquare } from '../linalg/dense.js';
import { alongPeriod, guardsOf, type Pass, type PhaseSpan, type Segment } from './alongPeriod.js';
import type { PeriodicProblem } from './periodicProblem.js';
import { expanded } from './rotation.js';
import { fraction, intervalSpan, type DiodeOutcome } from './schedule.js';

/** The exact periodic steady state of a stage. */
export interface PeriodicSolution {
  readonly period: number;
  readonly duty: number;
  readonly segments: readonly Segment[];
  readonly outcomes: readonly DiodeOutcome[];
  readonly iterations: number;
}

export type PeriodicResult =
  | { readonly kind: 'solved'; readonly solution: PeriodicSolution }
  | { readonly kind: 'not-converged'; readonly reason: string; readonly iterations: number; readonly duty: number };

const MAX_ITERATIONS = 40;
const MAX_OUTCOME_CHANGES = 8;
/**
 * Newton stops when instants move by less than this fraction of a period and states by less than it of their size; the step
 * is still taken, and as the method converges quadratically what remains is about its square.
 */
const CONVERGED = 1e-7;
/** A current counts as negative below this fraction of the largest current in the interval. */
const CURRENT_SIGN = 1e-9;

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
export function solvePeriodic(problem: PeriodicProblem): PeriodicResult {
  const configurations = new Map<string, StateEquations>();
  const intervals = problem.phases[0]?.intervals ?? [];
  let outcomes: readonly DiodeOutcome[] = intervals.map(() => 'forward');
  let iterations = 0;
  let warm: Warm | undefined;
  for (let change = 0; change < MAX_OUTCOME_CHANGES; change += 1) {
    const attempt = newton(problem, outcomes, configurations, warm);
    iterations += attempt.iterations;
    if (!attempt.converged) {
      return { kind: 'not-converged', reason: attempt.reason, iterations, duty: attempt.duty };
    }
    const solution: PeriodicSolution = {
      period: problem.period,
      duty: attempt.duty,
      segments: attempt.segments,
      outcomes,
      iterations,
    };
    const observed = observedOutcomes(problem, outcomes, attempt);
    if (observed.every((outcome, i) => outcome === outcomes[i])) return { kind: 'solved', solution };
    warm = warmStart(problem, attempt, observed);
    outcomes = observed;
  }
  return {
    kind: 'not-converged',
    reason: 'the diodes found no consistent sequence of conduction',
    iterations,
    duty: warm?.duty ?? 0,
  };
}

/** Where the next Newton run starts. */
interface Warm {
  readonly duty: number;
  /** Guard instants from the phase's own clock, by interval. */
  readonly instants: ReadonlyMap<number, number>;
}

interface Attempt {
  readonly converged: boolean;
  readonly reason: string;
  readonly iterations: number;
  readonly duty: number;
  readonly instants: readonly number[];
  readonly segments: readonly Segment[];
  readonly spans: readonly PhaseSpan[];
}

function newton(
  problem: PeriodicProblem,
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
  let x: Float64Array | undefined = affineStart(
    alongPeriod(problem, outcomes, guards, duty, instants, undefined, configurations),
  );
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
    const next = pass.x.slice();
    for (let i = 0; i < order; i += 1) next[i] = (next[i] ?? 0) + held * (step[i] ?? 0);
    duty += held * dutyStep;
    instantSteps.forEach((value, g) => (instants[g] = (instants[g] ?? 0) + held * value));
    x = next;
    const size = Math.max(...next.subarray(0, order).map(Math.abs), 1e-12);
    const moved = Math.max(
      Math.abs(dutyStep),
      ...instantSteps.map(Math.abs),
      ...step.subarray(0, order).map((value) => Math.abs(value) / size),
    );
    if (held === 1 && moved < CONVERGED) {
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
  const block = new Float64Array(order * order);
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

function noPhase(): never {
  throw new Error('A stage has at least one phase.');
}

const clamp = (value: number, low: number, high: number): number => Math.min(Math.max(value, low), Math.max(low, high));

/** The share of a step that keeps a value inside its range, never closing more than 80 % of the way to the border. */
function allowedShare(value: number, step: number, low: number, high: number): number {
  if (step === 0) return 1;
  const room = step > 0 ? high - value : value - low;
  if (Math.abs(step) <= room) return 1;
  return Math.max(0.8 * Math.max(room, 0), 1e-12) / Math.abs(step);
}

/** The inductor current over one freewheel interval of one phase: first and last value, extremes. */
function currentOver(problem: PeriodicProblem, attempt: Attempt, phase: number, interval: number) {
  const schedule = problem.phases[phase] ?? noPhase();
  const values = attempt.spans
    .filter((span) => span.phase === phase && span.interval === interval && !span.idle)
    .map((span) => attempt.segments[span.segment])
    .flatMap((segment) => {
      const row = segment?.equations.current.get(schedule.inductor);
      return segment && row && segment.duration > 0
        ? [{ from: dot(row, segment.initial), to: dot(row, segment.final), start: segment.start }]
        : [];
    });
  // In a phase whose interval wraps round the end of the period the later part comes first in time.
  const clock = schedule.offset * problem.period;
  const local = (t: number): number => fraction((t - clock) / problem.period + 1e-12);
  values.sort((a, b) => local(a.start) - local(b.start));
  return { first: values[0]?.from ?? 0, last: values.at(-1)?.to ?? 0 };
}

/** What the diodes really do in the solution found, to compare with what was assumed. */
function observedOutcomes(
  problem: PeriodicProblem,
  assumed: readonly DiodeOutcome[],
  attempt: Attempt,
): readonly DiodeOutcome[] {
  const intervals = problem.phases[0]?.intervals ?? [];
  const guards = guardsOf(problem, assumed);
  const scale = Math.max(
    ...attempt.segments.map((segment) =>
      Math.abs(
        dot(segment.equations.current.get(problem.phases[0]?.inductor ?? '') ?? segment.initial, segment.initial),
      ),
    ),
    1e-12,
  );
  const tolerance = CURRENT_SIGN * scale;
  let idleBefore = false;
  return intervals.map((interval, i) => {
    const outcome = assumed[i] ?? 'forward';
    if (!interval.freewheel) {
      idleBefore = false;
      return 'forward';
    }
    if (idleBefore) return 'idle';
    const { first, last } = currentOver(problem, attempt, 0, i);
    let found: DiodeOutcome;
    if (outcome.endsWith('then-idle')) {
      const guard = guards.findIndex((g) => g.phase === 0 && g.interval === i);
      const end = intervalSpan(problem.phases[0] ?? noPhase(), i, attempt.duty).to;
      const within = (attempt.instants[guard] ?? 0) < end;
      found = within ? outcome : outcome === 'forward-then-idle' ? 'forward' : 'reverse';
    } else if (
      first > tolerance ||
      (Math.abs(first) <= tolerance && last > tolerance) ||
      interval.freewheel.reverse.length === 0
    ) {
      found = last < -tolerance ? 'forward-then-idle' : 'forward';
    } else {
      found = last > tolerance ? 'reverse-then-idle' : 'reverse';
    }
    idleBefore = found.endsWith('then-idle');
    return found;
  });
}

/**
 * A start for the next run when diodes turn out to stop early. In discontinuous conduction the load current goes with the
 * square of the on-time, so the boundary solution is scaled by √(I / I at the boundary).
 */
function warmStart(problem: PeriodicProblem, attempt: Attempt, outcomes: readonly DiodeOutcome[]): Warm {
  const phase = problem.phases[0] ?? noPhase();
  const instants = new Map<number, number>();
  let duty = attempt.duty;
  outcomes.forEach((outcome, i) => {
    if (!outcome.endsWith('then-idle')) return;
    const span = intervalSpan(phase, i, attempt.duty);
    const { first, last } = currentOver(problem, attempt, 0, i);
    const swing = Math.abs(first - last);
    const mean = Math.abs(first + last) / 2;
    const share = swing > 0 ? Math.min(1, Math.max(0.02, Math.sqrt((2 * mean) / swing))) : 0.5;
    const whole = intervalSpan(phase, i, 0).from === 0 || span.to - span.from > 0.5 * (1 - attempt.duty);
    if (whole && problem.control.kind === 'regulated') {
      duty = clamp(attempt.duty * share, problem.control.min, problem.control.max);
      instants.set(i, intervalSpan(phase, i, duty).from + (span.to - span.from) * share);
    } else {
      const crossing = first === last ? 0.5 : first / (first - last);
      instants.set(i, span.from + (span.to - span.from) * clamp(crossing, 0.02, 0.98));
    }
  });
  return { duty, instants };
}
