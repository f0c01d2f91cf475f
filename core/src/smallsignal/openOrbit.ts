import { GROUND, voltageSource } from '../circuit/elements.js';
import { LOOP } from '../compensator/compensatorCircuit.js';
import { leastSquares } from '../linalg/leastSquares.js';
import { zeros } from '../linalg/zeros.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { alongPeriod, guardsOf, type Guard } from '../steady/alongPeriod.js';
import { solvePeriodic } from '../steady/periodic.js';
import type { PeriodicProblem } from '../steady/periodicProblem.js';
import type { DiodeOutcome } from '../steady/schedule.js';
import type { SolvedCircuit } from '../steady/solveCircuit.js';
import type { OperatingCondition } from '../topology/powerStage.js';
import { innerLoop, startFrom, takingAlong, type InnerLoop } from './innerLoop.js';
import { comparatorOf, loopElements, type ClosedLoop } from './loopCircuit.js';
import type { Disturbance } from './response.js';

/** A stage without a compensator, and what stands for its control voltage. */
export interface OpenOrbit extends ClosedLoop {
  readonly disturbance: Disturbance;
  readonly inner: InnerLoop;
}

/**
 * The stage with nothing but its comparators and what its scheme puts before them, at the duty ratio it is regulated to: what a
 * compensator has to work on, before there is one.
 */
export function openOrbit(
  complete: CompleteStage,
  condition: OperatingCondition,
  { powerStage, solution }: SolvedCircuit,
): OpenOrbit | string {
  const { outputVoltage } = complete.stage.targets;
  const comparator = comparatorOf(complete, condition.inputVoltage, outputVoltage < 0 ? -1 : 1);
  if (typeof comparator === 'string') return comparator;
  if (complete.stage.control.scheme === 'constant-on-time')
    return 'constant on-time control has no compensator to propose';
  const { phases, rotation } = powerStage;
  const { period, duty } = solution;
  const bare = { ...powerStage.circuit, elements: loopElements({ powerStage }, condition, outputVoltage) };
  const found = solvePeriodic({
    circuit: bare,
    phases,
    rotation,
    period,
    near: solution,
    control: { kind: 'duty', duty },
  });
  if (found.kind !== 'solved') return found.reason;
  const { outcomes, instants, segments } = found.solution;
  const inner = innerLoop(complete, comparator, { powerStage, solution: found.solution });
  if (typeof inner === 'string') return inner;
  const drawn = inner.elements.length > 0;
  const circuit = drawn
    ? {
        ...bare,
        elements: [
          ...bare.elements,
          voltageSource(LOOP.control, LOOP.control, GROUND, inner.control),
          ...inner.elements,
        ],
      }
    : bare;
  const problem = {
    circuit,
    phases,
    rotation: takingAlong(rotation, inner.namesByPhase),
    period,
    control: { kind: 'compared', comparator } as const,
  };
  const guards = guardsOf(problem, outcomes);
  const duties = Array.from({ length: phases.length / rotation.order }, () => duty);
  const at = guards.map(({ interval }) => instants.get(interval) ?? 0);
  const first = segments[0]?.initial.slice(0, -1) ?? zeros(0);
  const start = drawn
    ? atRest(problem, outcomes, guards, duties, at, startFrom(circuit, bare, first, inner.rest))
    : first;
  return {
    problem,
    comparator,
    decides: 'turn-off',
    outputNode: powerStage.outputNode,
    controlNode: LOOP.control,
    sampled: false,
    feedforwardFrom: undefined,
    disturbance: drawn ? { kind: 'source', name: LOOP.control } : { kind: 'threshold' },
    inner,
    pass: alongPeriod(problem, outcomes, guards, duties, at, start, new Map(), false),
    duties,
    iterations: 0,
  };
}

/**
 * The state at which the inner loop comes to rest, the duty ratios as they are. All is linear then; the integrators leave their
 * voltage open, and the comparators say it.
 */
function atRest(
  problem: PeriodicProblem,
  outcomes: readonly DiodeOutcome[],
  guards: readonly Guard[],
  duties: readonly number[],
  at: readonly number[],
  start: Float64Array,
): Float64Array {
  const { order, x, residual, jacobian } = alongPeriod(problem, outcomes, guards, duties, at, start, new Map());
  const unknowns = residual.length;
  const rows = [...Array.from({ length: order }, (_, i) => i), ...duties.map((_, p) => order + guards.length + p)];
  const matrix = zeros(rows.length * order);
  rows.forEach((row, i) => matrix.set(jacobian.subarray(row * unknowns, row * unknowns + order), i * order));
  const step = leastSquares(
    matrix,
    Float64Array.from(rows, (row) => -(residual[row] ?? 0)),
    rows.length,
    order,
  );
  return x.map((value, i) => value + (step[i] ?? 0));
}
