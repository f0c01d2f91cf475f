import { currentSource, GROUND, resistor, type Circuit, type Element } from '../circuit/elements.js';
import type { StateEquations } from '../circuit/stateEquations.js';
import { stateLayout } from '../circuit/stateLayout.js';
import {
  compensatorElements,
  compensatorRest,
  completeCompensator,
  LOOP,
  type CompleteCompensator,
} from '../compensator/compensatorCircuit.js';
import { solveSquare } from '../linalg/dense.js';
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
  readonly problem: PeriodicProblem & {
    readonly control: { readonly kind: 'compared'; readonly comparator: Comparator };
  };
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
      return 'the loop of constant on-time control is not worked yet';
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
  const compensator = completeCompensator(stage.control);
  if (!compensator.ok) return { kind: 'incomplete', reason: `${compensator.lacks.join(', ')} not given` };
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
  const start = startOf(problem, { powerStage, solution }, compensator.value, stage.targets.outputVoltage, sign);
  const found = settled(problem, solution, start);
  return found
    ? {
        kind: 'closed',
        loop: {
          ...found,
          problem,
          outputNode,
          feedforwardFrom: stage.control.scheme === 'voltage-mode-feedforward' ? condition.inputVoltage : undefined,
        },
      }
    : { kind: 'not-converged', reason: 'no steady state of the closed loop was found' };
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
  return { problem, outputNode: powerStage.outputNode, feedforwardFrom: undefined, pass, duties, iterations: 0 };
}

/** The state at the clock: that of the stage, with the compensator at rest at the control voltage its comparator needs. */
function startOf(
  { circuit, control: { comparator } }: ClosedLoop['problem'],
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
  return row ? row.reduce((sum, value, i) => sum + value * (final[i] ?? 0), 0) : 0;
}

/** Newton's method from a start that is near already. */
function settled(
  problem: ClosedLoop['problem'],
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
