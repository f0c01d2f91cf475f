import type { Circuit } from '../circuit/elements.js';
import type { StateEquations } from '../circuit/stateEquations.js';
import { stateLayout } from '../circuit/stateLayout.js';
import {
  compensatorElements,
  compensatorRest,
  completeCompensator,
  type CompleteCompensator,
} from '../compensator/compensatorCircuit.js';
import { dot, solveSquare } from '../linalg/dense.js';
import { copied, zeros } from '../linalg/zeros.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { alongPeriod, guardsOf } from '../steady/alongPeriod.js';
import type { SolvedCircuit } from '../steady/solveCircuit.js';
import type { Comparator, PeriodicProblem } from '../steady/periodicProblem.js';
import type { OperatingCondition } from '../topology/powerStage.js';
import { comparatorOf, loopElements, type ClosedLoop, type ClosedLoopResult } from './loopCircuit.js';
import { onTimeLoop } from './onTimeLoop.js';

const MAX_ITERATIONS = 30;
/** As in `solvePeriodic`: the last step is still taken, and what remains is about its square. */
const CONVERGED = 1e-6;
/** Largest share of the way to the ends of the period that a duty ratio may go in one step. */
const HELD = 0.5;

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
      ...loopElements({ powerStage }, condition, stage.targets.outputVoltage),
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
