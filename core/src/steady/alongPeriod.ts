import { stateEquations, type StateEquations } from '../circuit/stateEquations.js';
import { dot, multiply, product } from '../linalg/dense.js';
import { zeros } from '../linalg/zeros.js';
import type { Comparator, PeriodicProblem, Update } from './periodicProblem.js';
import { propagatorOf } from './propagation.js';
import { successors } from './rotation.js';
import { updateMap } from './updates.js';
import { fraction, instantAt, type DiodeOutcome, type PhaseSchedule } from './schedule.js';

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

/** Something that changes the configuration at an instant of the period. */
export interface Event {
  /** Fraction of the period, 0 to 1. */
  readonly tau: number;
  readonly perDuty: number;
  /** Index of the unknown instant, or -1 for a timed event. */
  readonly guard: number;
  readonly phase: number;
  readonly interval: number;
  readonly idle: boolean;
  /** The end of the phase's command, which a comparator decides where there is one. */
  readonly endsCommand: boolean;
  /** From the phase's own clock, as a share of the period. */
  readonly local: number;
  /** Set where nothing switches and registers are set. */
  readonly update?: Update;
}

/** An unknown instant at which a diode current reaches zero, shared by phases that are copies of each other. */
export interface Guard {
  /** First of the phases that share it. */
  readonly phase: number;
  readonly interval: number;
}

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
export function guardsOf(problem: PeriodicProblem, outcomes: readonly DiodeOutcome[]): readonly Guard[] {
  return Array.from({ length: distinctPhases(problem) }, (_, phase) => phase).flatMap((phase) =>
    outcomes.flatMap((outcome, interval) => (outcome.endsWith('then-idle') ? [{ phase, interval }] : [])),
  );
}

/** Which segments belong to one interval of one phase. */
export interface PhaseSpan {
  readonly phase: number;
  readonly interval: number;
  readonly idle: boolean;
  readonly segment: number;
}

/** What one run along the period yields. */
export interface Pass {
  readonly order: number;
  readonly x: Float64Array;
  readonly residual: Float64Array;
  readonly jacobian: Float64Array;
  readonly segments: readonly Segment[];
  readonly spans: readonly PhaseSpan[];
  /** What ends each segment but the last. */
  readonly events: readonly Event[];
}

/** The events of a period in order, and the interval each phase is in at its start. */
function eventsOf(
  problem: PeriodicProblem,
  guards: readonly Guard[],
  dutyOf: (phase: number) => number,
  instants: readonly number[],
): { readonly events: readonly Event[]; readonly opening: readonly { interval: number; idle: boolean }[] } {
  const events: Event[] = [];
  const opening: { interval: number; idle: boolean }[] = [];
  problem.phases.forEach((phase, p) => {
    const own: Event[] = [];
    phase.intervals.forEach((interval, i) => {
      const local = instantAt(interval.start, dutyOf(p));
      own.push({
        local,
        tau: fraction(phase.offset + local),
        perDuty: interval.start.perDuty,
        guard: -1,
        phase: p,
        interval: i,
        idle: false,
        endsCommand: interval.start.base === 0 && interval.start.perDuty === 1,
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
        endsCommand: false,
      });
    });
    own.sort((a, b) => a.local - b.local);
    // The interval in force at the start of the period is the last one begun before it, by the phase's own clock.
    const startLocal = fraction(-phase.offset);
    const open = own.findLast((event) => event.local <= startLocal + 1e-15) ?? own.at(-1);
    opening.push({ interval: open?.interval ?? 0, idle: open?.idle ?? false });
    events.push(...own.filter((event) => event.tau > 0 || event.perDuty !== 0 || event.guard >= 0));
  });
  for (const update of problem.updates ?? []) {
    if (update.at === 0) continue;
    events.push({
      local: 0,
      tau: update.at / problem.rotation.order,
      perDuty: 0,
      guard: -1,
      phase: 0,
      interval: 0,
      idle: false,
      endsCommand: false,
      update,
    });
  }
  events.sort((a, b) => a.tau - b.tau);
  return { events, opening };
}

/**
 * Follow state and sensitivities through one period.
 *
 * @param duty of every phase, or one for each distinct phase where comparators decide.
 */
export function alongPeriod(
  problem: PeriodicProblem,
  outcomes: readonly DiodeOutcome[],
  guards: readonly Guard[],
  duty: number | readonly number[],
  instants: readonly number[],
  start: Float64Array | undefined,
  configurations: Map<string, StateEquations>,
  sensitivities = true,
): Pass {
  const { phases, control, rotation } = problem;
  const period = problem.period;
  const share = period / rotation.order;
  const distinct = distinctPhases(problem);
  const dutyOf = typeof duty === 'number' ? (): number => duty : (p: number): number => duty[p % distinct] ?? 0;
  const { events: all, opening } = eventsOf(problem, guards, dutyOf, instants);
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
  const compared = control.kind === 'compared' ? control.comparator : undefined;
  const unknowns = order + guards.length + (compared ? distinct : regulated ? 1 : 0);
  const dutyColumn = order + guards.length;

  const x = start ?? zeros(order);
  let z: Float64Array = zeros(size);
  z.set(x);
  z[order] = 1;
  // dz/dy, size × unknowns.
  let s: Float64Array = zeros(size * unknowns);
  for (let i = 0; i < order; i += 1) s[i * unknowns + i] = 1;

  const residual = zeros(unknowns);
  const jacobian = zeros(unknowns * unknowns);
  const segments: Segment[] = [];
  const spans: PhaseSpan[] = [];
  const averageGradient = zeros(unknowns);
  let averageSum = 0;

  const updated = (update: Update): void => {
    const map = updateMap(problem, update, equations.node, size);
    z = product(map, z, size, size, 1);
    if (sensitivities) s = product(map, s, size, size, unknowns);
  };
  for (const update of problem.updates ?? []) if (update.at === 0) updated(update);

  let time = 0;
  let timeGradient = zeros(unknowns);
  for (let e = 0; e <= events.length; e += 1) {
    const event = events[e];
    if (equations.entry) {
      z = product(equations.entry, z, size, size, 1);
      if (sensitivities) s = product(equations.entry, s, size, size, unknowns);
    }
    const endTime = event ? event.tau * period : share;
    const endGradient = zeros(unknowns);
    if (event) {
      if (event.guard >= 0) endGradient[order + event.guard] = period;
      else if (regulated) endGradient[dutyColumn] = event.perDuty * period;
      else if (compared) endGradient[dutyColumn + (event.phase % distinct)] = event.perDuty * period;
    }
    const duration = Math.max(0, endTime - time);
    const { phi, gamma } = propagatorOf(equations, duration, !sensitivities);
    const final = product(phi, z, size, size, 1);
    const integral = product(gamma, z, size, size, 1);
    const rate = product(equations.dynamics, final, size, size, 1);
    const sFinal = zeros(size * unknowns);
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
      if (compared && event.endsCommand) {
        const at = dutyColumn + (event.phase % distinct);
        const row = comparedRow(compared, equations, event.phase, phases[event.phase]?.inductor ?? '');
        residual[at] = dot(row, final) + compared.ramp * event.local;
        const gradient = product(row, sFinal, 1, size, unknowns);
        gradient[at] = (gradient[at] ?? 0) + compared.ramp;
        jacobian.set(gradient, at * unknowns);
      }
      if (!event.update) {
        state[event.phase] = { interval: event.interval, idle: event.idle };
        equations = configuration();
      }
    }
    z = final;
    s = sFinal;
    if (event?.update) updated(event.update);
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
  return { order, x, residual, jacobian, segments, spans, events };
}

/** What a comparator sees without its ramp, as a row over the augmented state. */
function comparedRow(
  { sense, nodes, sign }: Comparator,
  equations: StateEquations,
  phase: number,
  inductor: string,
): Float64Array {
  const control = equations.node.get(nodes[phase] ?? '');
  const current = equations.current.get(inductor);
  const row = zeros(equations.order + 1);
  for (let i = 0; i < row.length; i += 1) row[i] = sense * (current?.[i] ?? 0) - sign * (control?.[i] ?? 0);
  return row;
}
