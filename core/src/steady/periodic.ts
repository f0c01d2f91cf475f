import type { Circuit } from '../circuit/elements.js';
import { stateEquations, stateLayout, type StateEquations } from '../circuit/stateEquations.js';
import { dot, multiply, product, solveSquare } from '../linalg/dense.js';
import { propagatorOf } from './propagation.js';
import { instantAt, intervalSpan, type DiodeOutcome, type PhaseSchedule } from './schedule.js';

/** One stretch of the period in which no switch or diode changes. */
export interface Segment {
  /** s from the clock of phase 1. */
  readonly start: number;
  readonly duration: number;
  readonly equations: StateEquations;
  /** Augmented state at the start, after any jump on entry. */
  readonly initial: Float64Array;
  /** Augmented state at the end. */
  readonly final: Float64Array;
  /** ∫ z dt over the segment. */
  readonly integral: Float64Array;
}

/** The exact periodic steady state of a stage. */
export interface PeriodicSolution {
  readonly period: number;
  readonly duty: number;
  readonly segments: readonly Segment[];
  readonly outcomes: readonly DiodeOutcome[];
  readonly iterations: number;
}

/**
 * Interleaved phases are copies of each other, one after another in time: after 1/order of the period the circuit stands
 * as at its start, with every phase in the place of the one before it. Only that share of the period is then solved.
 */
export interface Rotation {
  readonly order: number;
  /** Element and node names of each phase to those of the phase that follows it by period/order; others stay. */
  readonly next: ReadonlyMap<string, string>;
}

export interface PeriodicProblem {
  readonly circuit: Circuit;
  readonly rotation: Rotation;
  readonly phases: readonly PhaseSchedule[];
  /** s */
  readonly period: number;
  /** A fixed duty ratio, or the output node and the average voltage the duty is to reach. */
  readonly control:
    | { readonly kind: 'duty'; readonly duty: number }
    | {
        readonly kind: 'regulated';
        readonly node: string;
        readonly average: number;
        readonly guess: number;
        readonly min: number;
        readonly max: number;
      };
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

/** Something that changes the configuration at an instant of the period. */
interface Event {
  /** Fraction of the period, 0 to 1. */
  readonly tau: number;
  readonly perDuty: number;
  /** Index of the unknown instant, or -1 for a timed event. */
  readonly guard: number;
  readonly phase: number;
  readonly interval: number;
  readonly idle: boolean;
}

/** An unknown instant at which a diode current reaches zero, shared by phases that are copies of each other. */
interface Guard {
  /** First of the phases that share it. */
  readonly phase: number;
  readonly interval: number;
}

const fraction = (value: number): number => value - Math.floor(value);

/** Names conducting in a phase, given its interval and whether its diodes have gone idle. */
function conductingIn(
  phase: PhaseSchedule,
  interval: number,
  idle: boolean,
  outcome: DiodeOutcome | undefined,
): readonly string[] {
  const here = phase.intervals[interval];
  if (!here) return [];
  if (!here.freewheel || idle || outcome === 'idle') return here.closed;
  const diodes =
    outcome === 'reverse' || outcome === 'reverse-then-idle' ? here.freewheel.reverse : here.freewheel.forward;
  return [...here.closed, ...diodes];
}

/** Phases that are not copies of each other: the first of every set of copies. */
const distinctPhases = ({ phases, rotation }: PeriodicProblem): number => phases.length / rotation.order;

/** The unknown instants: one for each distinct phase and each interval whose diodes go idle. */
function guardsOf(problem: PeriodicProblem, outcomes: readonly DiodeOutcome[]): readonly Guard[] {
  return Array.from({ length: distinctPhases(problem) }, (_, phase) => phase).flatMap((phase) =>
    outcomes.flatMap((outcome, interval) => (outcome.endsWith('then-idle') ? [{ phase, interval }] : [])),
  );
}

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

/** Which segments belong to one interval of one phase. */
interface PhaseSpan {
  readonly phase: number;
  readonly interval: number;
  readonly idle: boolean;
  readonly segment: number;
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

interface Pass {
  readonly order: number;
  readonly x: Float64Array;
  readonly residual: Float64Array;
  readonly jacobian: Float64Array;
  readonly segments: readonly Segment[];
  readonly spans: readonly PhaseSpan[];
}

/** The events of a period in order, and the interval each phase is in at its start. */
function eventsOf(
  problem: PeriodicProblem,
  guards: readonly Guard[],
  duty: number,
  instants: readonly number[],
): { readonly events: readonly Event[]; readonly opening: readonly { interval: number; idle: boolean }[] } {
  const events: Event[] = [];
  const opening: { interval: number; idle: boolean }[] = [];
  problem.phases.forEach((phase, p) => {
    const own: (Event & { readonly local: number })[] = [];
    phase.intervals.forEach((interval, i) => {
      const local = instantAt(interval.start, duty);
      own.push({
        local,
        tau: fraction(phase.offset + local),
        perDuty: interval.start.perDuty,
        guard: -1,
        phase: p,
        interval: i,
        idle: false,
      });
    });
    guards.forEach((guard, g) => {
      if (guard.phase !== p % distinctPhases(problem)) return;
      const local = instants[g] ?? 0;
      own.push({
        local,
        tau: fraction(phase.offset + local),
        perDuty: 0,
        guard: g,
        phase: p,
        interval: guard.interval,
        idle: true,
      });
    });
    own.sort((a, b) => a.local - b.local);
    // The interval in force at the start of the period is the last one begun before it, by the phase's own clock.
    const startLocal = fraction(-phase.offset);
    const open = own.findLast((event) => event.local <= startLocal + 1e-15) ?? own.at(-1);
    opening.push({ interval: open?.interval ?? 0, idle: open?.idle ?? false });
    events.push(...own.filter((event) => event.tau > 0 || event.perDuty !== 0 || event.guard >= 0));
  });
  events.sort((a, b) => a.tau - b.tau);
  return { events, opening };
}

/** Follow state and sensitivities through one period. */
function alongPeriod(
  problem: PeriodicProblem,
  outcomes: readonly DiodeOutcome[],
  guards: readonly Guard[],
  duty: number,
  instants: readonly number[],
  start: Float64Array | undefined,
  configurations: Map<string, StateEquations>,
  sensitivities = true,
): Pass {
  const { phases, control, rotation } = problem;
  const period = problem.period;
  const share = period / rotation.order;
  const { events: all, opening } = eventsOf(problem, guards, duty, instants);
  const events = all.filter((event) => event.tau < 1 / rotation.order);
  const state = opening.map((o) => ({ ...o }));

  const configuration = (): StateEquations => {
    const names = phases.flatMap((phase, p) => {
      const here = state[p];
      return here ? conductingIn(phase, here.interval, here.idle, outcomes[here.interval]) : [];
    });
    const key = names.join('|');
    const known = configurations.get(key);
    if (known) return known;
    const made = stateEquations(problem.circuit, new Set(names));
    configurations.set(key, made);
    return made;
  };

  let equations = configuration();
  const { order } = equations;
  const size = order + 1;
  const regulated = control.kind === 'regulated';
  const unknowns = order + guards.length + (regulated ? 1 : 0);
  const dutyColumn = order + guards.length;

  const x = start ?? new Float64Array(order);
  let z: Float64Array = new Float64Array(size);
  z.set(x);
  z[order] = 1;
  // dz/dy, size × unknowns.
  let s: Float64Array = new Float64Array(size * unknowns);
  for (let i = 0; i < order; i += 1) s[i * unknowns + i] = 1;

  const residual = new Float64Array(unknowns);
  const jacobian = new Float64Array(unknowns * unknowns);
  const segments: Segment[] = [];
  const spans: PhaseSpan[] = [];
  const averageGradient = new Float64Array(unknowns);
  let averageSum = 0;

  let time = 0;
  let timeGradient = new Float64Array(unknowns);
  for (let e = 0; e <= events.length; e += 1) {
    const event = events[e];
    if (equations.entry) {
      z = product(equations.entry, z, size, size, 1);
      if (sensitivities) s = product(equations.entry, s, size, size, unknowns);
    }
    const endTime = event ? event.tau * period : share;
    const endGradient = new Float64Array(unknowns);
    if (event) {
      if (event.guard >= 0) endGradient[order + event.guard] = period;
      else if (regulated) endGradient[dutyColumn] = event.perDuty * period;
    }
    const duration = Math.max(0, endTime - time);
    const { phi, gamma } = propagatorOf(equations, duration, !sensitivities);
    const final = product(phi, z, size, size, 1);
    const integral = product(gamma, z, size, size, 1);
    const rate = product(equations.dynamics, final, size, size, 1);
    const sFinal = new Float64Array(size * unknowns);
    if (sensitivities) multiply(sFinal, phi, s, size, size, unknowns);
    for (let j = 0; sensitivities && j < unknowns; j += 1) {
      const stretch = (endGradient[j] ?? 0) - (timeGradient[j] ?? 0);
      if (stretch === 0) continue;
      for (let i = 0; i < size; i += 1)
        sFinal[i * unknowns + j] = (sFinal[i * unknowns + j] ?? 0) + (rate[i] ?? 0) * stretch;
    }
    if (regulated && sensitivities) {
      const row = equations.node.get(control.node);
      if (row) {
        averageSum += dot(row, integral);
        const swept = product(product(row, gamma, 1, size, size), s, 1, size, unknowns);
        const endValue = dot(row, final);
        for (let j = 0; j < unknowns; j += 1) {
          averageGradient[j] =
            (averageGradient[j] ?? 0) + (swept[j] ?? 0) + endValue * ((endGradient[j] ?? 0) - (timeGradient[j] ?? 0));
        }
      }
    }
    state.forEach((here, phase) =>
      spans.push({ phase, interval: here.interval, idle: here.idle, segment: segments.length }),
    );
    segments.push({ start: time, duration, equations, initial: z, final, integral });
    if (event) {
      if (event.guard >= 0) {
        const row = equations.current.get(phases[event.phase]?.inductor ?? '');
        const at = order + event.guard;
        if (row) {
          residual[at] = dot(row, final);
          const gradient = product(row, sFinal, 1, size, unknowns);
          jacobian.set(gradient, at * unknowns);
        }
      }
      state[event.phase] = { interval: event.interval, idle: event.idle };
      equations = configuration();
    }
    z = final;
    s = sFinal;
    time = endTime;
    timeGradient = endGradient;
  }
  const successor = successors(problem);
  for (let i = 0; i < order; i += 1) {
    const to = successor[i] ?? i;
    residual[to] = (z[to] ?? 0) - (x[i] ?? 0);
    for (let j = 0; j < unknowns; j += 1) jacobian[to * unknowns + j] = (s[to * unknowns + j] ?? 0) - (i === j ? 1 : 0);
  }
  if (regulated) {
    residual[dutyColumn] = averageSum / share - control.average;
    for (let j = 0; j < unknowns; j += 1) jacobian[dutyColumn * unknowns + j] = (averageGradient[j] ?? 0) / share;
  }
  return { order, x, residual, jacobian, segments, spans };
}

/** For each state, the state that takes its place after period/order. */
function successors({ circuit, rotation }: PeriodicProblem): readonly number[] {
  const { indexOfCapacitor, indexOfInductor } = stateLayout(circuit);
  const out: number[] = [];
  for (const index of [indexOfCapacitor, indexOfInductor]) {
    for (const [name, at] of index) out[at] = index.get(rotation.next.get(name) ?? name) ?? at;
  }
  return out;
}

/** The solved share of a period, repeated with the phases moved on until the period is whole. */
function expanded({ period, phases, rotation }: PeriodicProblem, pass: Pass): Pass {
  const segments: Segment[] = [];
  const spans: PhaseSpan[] = [];
  const move = phases.length / rotation.order;
  let names: ReadonlyMap<string, string> = new Map();
  const renamed = <T>(rows: ReadonlyMap<string, T>): ReadonlyMap<string, T> =>
    new Map([...rows].map(([name, row]) => [names.get(name) ?? name, row]));
  for (let turn = 0; turn < rotation.order; turn += 1) {
    for (const segment of pass.segments) {
      const { equations } = segment;
      const moved: StateEquations =
        turn === 0
          ? equations
          : {
              ...equations,
              conducting: equations.conducting.map((name) => names.get(name) ?? name),
              voltage: renamed(equations.voltage),
              current: renamed(equations.current),
              node: renamed(equations.node),
            };
      segments.push({ ...segment, start: segment.start + (turn * period) / rotation.order, equations: moved });
    }
    for (const span of pass.spans) {
      spans.push({
        ...span,
        phase: (span.phase + turn * move) % phases.length,
        segment: span.segment + turn * pass.segments.length,
      });
    }
    names = new Map(
      [...rotation.next].map(([name, next]) => [
        name,
        turn === 0 ? next : (rotation.next.get(names.get(name) ?? name) ?? next),
      ]),
    );
  }
  return { ...pass, segments, spans };
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
