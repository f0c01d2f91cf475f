import { currentSource, GROUND, resistor, voltageSource, type Circuit, type Element } from '../circuit/elements.js';
import type { StateEquations } from '../circuit/stateEquations.js';
import { stateLayout } from '../circuit/stateLayout.js';
import {
  compensatorElements,
  compensatorRest,
  completeCompensator,
  LOOP,
  type CompleteCompensator,
} from '../compensator/compensatorCircuit.js';
import { dot, solveSquare } from '../linalg/dense.js';
import { copied, zeros } from '../linalg/zeros.js';
import { nominalInput } from '../corners/corners.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { alongPeriod, guardsOf, type Pass } from '../steady/alongPeriod.js';
import { solvePeriodic } from '../steady/periodic.js';
import type { SolvedCircuit } from '../steady/solveCircuit.js';
import type { Comparator, PeriodicProblem } from '../steady/periodicProblem.js';
import type { OperatingCondition } from '../topology/powerStage.js';
import { FEED } from '../topology/surroundings.js';

/** A source of no current at the output, whose disturbance shows the output impedance. */
export const LOAD_TEST = 'loadTest';

/** A stage with its loop closed, in its periodic steady state. */
export interface ClosedLoop {
  readonly problem: PeriodicProblem;
  readonly comparator: Comparator;
  /** What the comparator decides: when each phase turns off; or when it turns on, for a constant time, whenever that is. */
  readonly decides: 'turn-off' | 'turn-on';
  readonly outputNode: string;
  /** Of the source, V: the ramp goes with it under feed-forward. */
  readonly feedforwardFrom: number | undefined;
  readonly pass: Pass;
  readonly duties: readonly number[];
  readonly iterations: number;
}

export type ClosedLoopResult =
  | { readonly kind: 'closed'; readonly loop: ClosedLoop }
  /** The stage says too little of its control for a loop. */
  | { readonly kind: 'incomplete'; readonly reason: string }
  | { readonly kind: 'not-converged'; readonly reason: string };

const MAX_ITERATIONS = 30;
/** As in `solvePeriodic`: the last step is still taken, and what remains is about its square. */
const CONVERGED = 1e-6;
/** Largest share of the way to the ends of the period that a duty ratio may go in one step. */
const HELD = 0.5;

/** What turns the phases off under the stage's scheme, or the words for what is missing. */
function comparatorOf(
  { stage, switchingFrequency }: CompleteStage,
  inputVoltage: number,
  sign: 1 | -1,
): Comparator | string {
  const { scheme, rampAmplitude, currentSenseGain, slopeCompensation } = stage.control;
  const node = LOOP.control;
  switch (scheme) {
    case 'voltage-mode':
      return rampAmplitude === undefined
        ? 'the ramp amplitude is not given'
        : { ramp: rampAmplitude, sense: 0, node, sign };
    case 'voltage-mode-feedforward':
      return rampAmplitude === undefined
        ? 'the ramp amplitude is not given'
        : { ramp: (rampAmplitude * inputVoltage) / nominalInput(stage), sense: 0, node, sign };
    case 'peak-current-mode':
      return currentSenseGain === undefined
        ? 'the gain of the current sense is not given'
        : { ramp: slopeCompensation / switchingFrequency, sense: currentSenseGain, node, sign };
    case 'constant-on-time':
      return { ramp: 0, sense: 0, node: LOOP.feedback, sign };
    case 'open-loop':
      return 'the stage runs open loop';
  }
}

/**
 * The power stage as the loop sees it. Where no source impedance is stated the steady state feeds the input capacitors through a
 * choke of its own making, so that they carry the whole alternating current; a loop must not answer to a choke that nobody
 * built, so there the source is stiff and the input capacitors beside it do nothing.
 */
function fedStiffly({ circuit, elements }: SolvedCircuit['powerStage']): readonly Element[] {
  if (!circuit.elements.some(({ name }) => name === FEED)) return circuit.elements;
  const idle = new Set([FEED, ...elements.inputBanks]);
  return circuit.elements.flatMap((e) =>
    idle.has(e.name) ? [] : e.name === elements.source ? [{ ...e, a: 'in' }] : [e],
  );
}

/** A load of constant power answers a change of voltage with a negative resistance. */
function loadElements(
  elements: readonly Element[],
  { load }: OperatingCondition,
  outputVoltage: number,
): readonly Element[] {
  if (load.kind !== 'power') return elements;
  return elements.flatMap((e) =>
    e.name === 'load'
      ? [
          currentSource('load', e.a, GROUND, (2 * load.power) / outputVoltage),
          resistor('loadSlope', e.a, GROUND, -(outputVoltage ** 2) / load.power),
        ]
      : [e],
  );
}

/**
 * Close the loop round a solved stage: its circuit with the compensator drawn in, the comparators deciding when each phase turns
 * off, and the steady state that the whole settles at.
 *
 * Unknowns are the state at the clock, the instants at which diodes stop, and the duty ratio of every phase that is no copy of
 * another. The instants are unknowns themselves: the integrator of the compensator leaves the state alone undetermined, and only
 * with the comparators' equations is the system regular.
 *
 * @param solved the stage at the same condition, regulated to its target: where the search starts.
 */
export function closeLoop(
  complete: CompleteStage,
  condition: OperatingCondition,
  { powerStage, solution }: SolvedCircuit,
): ClosedLoopResult {
  const { stage } = complete;
  const sign = stage.targets.outputVoltage < 0 ? -1 : 1;
  const comparator = comparatorOf(complete, condition.inputVoltage, sign);
  if (typeof comparator === 'string') return { kind: 'incomplete', reason: comparator };
  if (stage.control.scheme === 'constant-on-time')
    return onTimeLoop(complete, condition, { powerStage, solution }, comparator);
  const compensator = completeCompensator(stage.control);
  if (!compensator.ok) return { kind: 'incomplete', reason: `what is missing is ${compensator.lacks.join(', ')}` };
  const { outputNode } = powerStage;
  const circuit: Circuit = {
    ...powerStage.circuit,
    elements: [
      ...loadElements(fedStiffly(powerStage), condition, stage.targets.outputVoltage),
      currentSource(LOAD_TEST, outputNode, GROUND, 0),
      ...compensatorElements(compensator.value, outputNode, sign),
    ],
  };
  const problem = {
    circuit,
    phases: powerStage.phases,
    rotation: powerStage.rotation,
    period: solution.period,
    control: { kind: 'compared', comparator } as const,
  };
  const start = startOf(
    circuit,
    comparator,
    { powerStage, solution },
    compensator.value,
    stage.targets.outputVoltage,
    sign,
  );
  const found = settled(problem, solution, start);
  return found
    ? {
        kind: 'closed',
        loop: {
          ...found,
          problem,
          comparator,
          decides: 'turn-off',
          outputNode,
          feedforwardFrom: stage.control.scheme === 'voltage-mode-feedforward' ? condition.inputVoltage : undefined,
        },
      }
    : { kind: 'not-converged', reason: 'no steady state of the closed loop was found' };
}

/** Lower resistor of a divider that the stage does not give, ohm: its impedance does not matter beside the load. */
const DIVIDER = 100e3;
/** Times a period is tried, and the feedback voltage at the valley, as a share of the reference, that counts as met. */
const MOST_PERIODS = 40;
const VALLEY_MET = 1e-12;

/**
 * Constant on-time: the comparator turns the switch on for a fixed time whenever the divided output falls to the reference, so
 * the period is what the orbit makes it. It is sought by the secant rule; the rest is the open-loop orbit of that period.
 */
function onTimeLoop(
  complete: CompleteStage,
  condition: OperatingCondition,
  { powerStage, solution }: SolvedCircuit,
  comparator: Comparator,
): ClosedLoopResult {
  const { control, targets, phases: count } = complete.stage;
  if (count > 1) return { kind: 'incomplete', reason: 'constant on-time control is worked for a single phase' };
  const { outputNode, phases, rotation } = powerStage;
  const output = Math.abs(targets.outputVoltage);
  const reference = control.reference ?? output;
  const { rUpper, rLower } = control.compensator?.components ?? {};
  const lower = rLower ?? DIVIDER;
  const upper = rUpper ?? lower * Math.max(0, output / reference - 1);
  const circuit: Circuit = {
    ...powerStage.circuit,
    elements: [
      ...loadElements(fedStiffly(powerStage), condition, targets.outputVoltage),
      currentSource(LOAD_TEST, outputNode, GROUND, 0),
      voltageSource(LOOP.injection, outputNode, LOOP.dividerTop, 0),
      resistor('rUpper', LOOP.dividerTop, LOOP.feedback, Math.max(upper, 1e-3)),
      resistor('rLower', LOOP.feedback, GROUND, lower),
    ],
  };
  const onTime = control.onTime > 0 ? control.onTime : solution.duty * solution.period;
  const orbitAt = (period: number) => {
    const duty = onTime / period;
    const found = solvePeriodic({ circuit, phases, rotation, period, near: solution, control: { kind: 'duty', duty } });
    if (found.kind !== 'solved') return undefined;
    const last = found.solution.segments.at(-1);
    const row = last?.equations.node.get(LOOP.feedback);
    const valley = row && last ? comparator.sign * dot(row, last.final) : NaN;
    return { solution: found.solution, miss: valley / reference - 1 };
  };
  let earlier = solution.period;
  let before = orbitAt(earlier);
  let period = earlier * 1.01;
  for (let step = 0; step < MOST_PERIODS; step += 1) {
    const now = orbitAt(period);
    if (!now || !before) return { kind: 'not-converged', reason: 'no steady state at constant on-time was found' };
    if (Math.abs(now.miss) < VALLEY_MET || period === earlier) {
      const problem = { circuit, phases, rotation, period, control: { kind: 'duty', duty: onTime / period } as const };
      const { outcomes, instants, segments } = now.solution;
      const guards = guardsOf(problem, outcomes);
      const at = guards.map(({ interval }) => instants.get(interval) ?? 0);
      const start = segments[0]?.initial.slice(0, -1);
      const pass = alongPeriod(problem, outcomes, guards, onTime / period, at, start, new Map(), false);
      return {
        kind: 'closed',
        loop: {
          problem,
          comparator,
          decides: 'turn-on',
          outputNode,
          feedforwardFrom: undefined,
          pass,
          duties: [onTime / period],
          iterations: step,
        },
      };
    }
    const slope = (now.miss - before.miss) / (period - earlier);
    const next = slope === 0 ? period : period - now.miss / slope;
    earlier = period;
    before = now;
    // The off time stays positive.
    period = Math.max(next, onTime * 1.02, period / 2);
  }
  return { kind: 'not-converged', reason: 'no period was found at which the valley meets the reference' };
}

/**
 * The stage with nothing but its comparators, at the duty ratio it is regulated to: what a compensator has to work on, before
 * there is one.
 */
export function openOrbit(
  complete: CompleteStage,
  condition: OperatingCondition,
  { powerStage, solution }: SolvedCircuit,
): ClosedLoop | string {
  const { outputVoltage } = complete.stage.targets;
  const comparator = comparatorOf(complete, condition.inputVoltage, outputVoltage < 0 ? -1 : 1);
  if (typeof comparator === 'string') return comparator;
  if (complete.stage.control.scheme === 'constant-on-time')
    return 'constant on-time control has no compensator to propose';
  const circuit = {
    ...powerStage.circuit,
    elements: loadElements(fedStiffly(powerStage), condition, outputVoltage),
  };
  const { phases, rotation } = powerStage;
  const { period, duty } = solution;
  const found = solvePeriodic({ circuit, phases, rotation, period, near: solution, control: { kind: 'duty', duty } });
  if (found.kind !== 'solved') return found.reason;
  const { outcomes, instants, segments } = found.solution;
  const problem = { circuit, phases, rotation, period, control: { kind: 'compared', comparator } as const };
  const guards = guardsOf(problem, outcomes);
  const duties = Array.from({ length: phases.length / rotation.order }, () => duty);
  const at = guards.map(({ interval }) => instants.get(interval) ?? 0);
  const pass = alongPeriod(problem, outcomes, guards, duties, at, segments[0]?.initial.slice(0, -1), new Map(), false);
  return {
    problem,
    comparator,
    decides: 'turn-off',
    outputNode: powerStage.outputNode,
    feedforwardFrom: undefined,
    pass,
    duties,
    iterations: 0,
  };
}

/** The state at the clock: that of the stage, with the compensator at rest at the control voltage its comparator needs. */
function startOf(
  circuit: Circuit,
  comparator: Comparator,
  { powerStage, solution }: SolvedCircuit,
  compensator: CompleteCompensator,
  outputVoltage: number,
  sign: 1 | -1,
): Float64Array {
  const known = stateLayout(powerStage.circuit);
  const layout = stateLayout(circuit);
  const first = solution.segments[0]?.initial ?? zeros(0);
  const peak = Math.max(...solution.segments.map(({ equations, final }) => currentAtEnd(equations, final, powerStage)));
  const control = sign * (comparator.ramp * solution.duty + comparator.sense * peak);
  const rest = compensatorRest(compensator, outputVoltage, control, sign);
  const x = zeros(layout.names.length);
  for (const [indexOf, from] of [
    [layout.indexOfCapacitor, known.indexOfCapacitor],
    [layout.indexOfInductor, known.indexOfInductor],
  ] as const) {
    for (const [name, at] of indexOf) {
      const there = from.get(name);
      x[at] = there === undefined ? (rest.get(name) ?? 0) : (first[there] ?? 0);
    }
  }
  return x;
}

function currentAtEnd(
  equations: SolvedCircuit['solution']['segments'][number]['equations'],
  final: Float64Array,
  { elements }: SolvedCircuit['powerStage'],
): number {
  const row = equations.current.get(elements.inductors[0] ?? '');
  return row ? dot(row, final) : 0;
}

/** Newton's method from a start that is near already. */
function settled(
  problem: PeriodicProblem,
  near: SolvedCircuit['solution'],
  start: Float64Array,
): Pick<ClosedLoop, 'pass' | 'duties' | 'iterations'> | undefined {
  const { outcomes } = near;
  const guards = guardsOf(problem, outcomes);
  const distinct = problem.phases.length / problem.rotation.order;
  const configurations = new Map<string, StateEquations>();
  const instants = guards.map(({ interval }) => near.instants.get(interval) ?? 0);
  const duties = Array.from({ length: distinct }, () => near.duty);
  let x: Float64Array = start;
  for (let iteration = 1; iteration <= MAX_ITERATIONS; iteration += 1) {
    const pass = alongPeriod(problem, outcomes, guards, duties, instants, x, configurations);
    const { order } = pass;
    const step = solveSquare(
      pass.jacobian,
      pass.residual.map((r) => -r),
      pass.residual.length,
    );
    if (step.some((value) => !Number.isFinite(value))) return undefined;
    const dutyStep = (p: number): number => step[order + guards.length + p] ?? 0;
    const held = Math.min(
      1,
      ...duties.map((duty, p) => {
        const room = dutyStep(p) > 0 ? 1 - duty : duty;
        return Math.abs(dutyStep(p)) > HELD * room ? (HELD * room) / Math.abs(dutyStep(p)) : 1;
      }),
    );
    const size = Math.max(...x.map(Math.abs), 1e-12);
    let moved = 0;
    const next = copied(pass.x);
    for (let i = 0; i < order; i += 1) {
      next[i] = (next[i] ?? 0) + held * (step[i] ?? 0);
      moved = Math.max(moved, Math.abs(step[i] ?? 0) / size);
    }
    guards.forEach((_, g) => {
      instants[g] = (instants[g] ?? 0) + held * (step[order + g] ?? 0);
      moved = Math.max(moved, Math.abs(step[order + g] ?? 0));
    });
    duties.forEach((duty, p) => {
      duties[p] = duty + held * dutyStep(p);
      moved = Math.max(moved, Math.abs(dutyStep(p)));
    });
    x = next;
    if (held === 1 && moved < CONVERGED) {
      const last = alongPeriod(problem, outcomes, guards, duties, instants, x, configurations, false);
      return { pass: last, duties, iterations: iteration };
    }
  }
  return undefined;
}
