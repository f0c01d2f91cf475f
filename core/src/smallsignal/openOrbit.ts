import { GROUND, voltageSource } from '../circuit/elements.js';
import { innerRest, type Rest } from '../controller/atRest.js';
import { innerDrawing } from '../controller/controllerOf.js';
import { regulatedOutput } from '../controller/divider.js';
import { LOOP } from '../controller/loopNames.js';
import { comparatorAt, modulatorOf } from '../controller/modulator.js';
import { leastSquares } from '../linalg/leastSquares.js';
import { zeros } from '../linalg/zeros.js';
import { alongPeriod, dutiesOf } from '../orbit/alongPeriod.js';
import type { Courses } from '../orbit/course.js';
import { guardsOf, type Guard, type Instants } from '../orbit/events.js';
import { solvePeriodic } from '../orbit/periodic.js';
import { distinctPhases, type PeriodicProblem } from '../orbit/periodicProblem.js';
import { dutyColumn } from '../orbit/unknowns.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { SolvedCircuit } from '../steady/solveCircuit.js';
import type { OperatingCondition } from '../powerstage/powerStage.js';
import { startFrom, takingAlong } from './drawnIn.js';
import { loopElements, type LoopOrbit } from './loopCircuit.js';
import type { Disturbance } from './response.js';

/** A stage without a compensator, and what stands for its control voltage. */
export interface OpenOrbit extends LoopOrbit {
  readonly disturbance: Disturbance;
  readonly rest: Rest;
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
  const modulator = modulatorOf(complete);
  if (typeof modulator === 'string') return modulator;
  if (modulator.decides === 'turn-on') return 'constant on-time control has no compensator to propose';
  const comparator = comparatorAt(modulator, condition.inputVoltage);
  const inner = innerDrawing(complete, powerStage);
  if (typeof inner === 'string') return inner;
  const { phases, rotation } = powerStage;
  const { period, duty } = solution;
  const bare = {
    ...powerStage.circuit,
    elements: loopElements({ powerStage }, condition, regulatedOutput(complete.stage)),
  };
  const found = solvePeriodic({
    circuit: bare,
    phases,
    rotation,
    period,
    near: solution,
    control: { kind: 'duty', duty },
  });
  if (found.kind !== 'solved') return found.reason;
  const { courses, instants, segments } = found.solution;
  const rest = innerRest(complete, comparator, { powerStage, solution: found.solution });
  const drawn = inner.elements.length > 0;
  const circuit = drawn
    ? {
        ...bare,
        elements: [
          ...bare.elements,
          voltageSource(LOOP.control, LOOP.control, GROUND, rest.control),
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
  const guards = guardsOf(problem, courses);
  const duties = Array.from({ length: distinctPhases(problem) }, () => duty);
  const at = guards.map(({ interval, step }) => instants[interval]?.[step] ?? 0);
  const along = { dutyOf: dutiesOf(problem, duties), period, guards: at };
  const first = segments[0]?.initial.slice(0, -1) ?? zeros(0);
  const start = drawn ? atRest(problem, courses, guards, along, startFrom(circuit, bare, first, rest.states)) : first;
  return {
    problem,
    comparator,
    decides: 'turn-off',
    outputNode: powerStage.outputNode,
    controlNode: LOOP.control,
    sampled: false,
    feedforwardFrom: undefined,
    disturbance: drawn ? { kind: 'source', name: LOOP.control } : { kind: 'threshold' },
    rest,
    pass: alongPeriod(problem, courses, guards, along, start, new Map(), false),
    duties,
    instants: at,
    period,
  };
}

/**
 * The state at which the inner loop comes to rest, the duty ratios as they are. All is linear then; the integrators leave their
 * voltage open, and the comparators say it.
 */
function atRest(
  problem: PeriodicProblem,
  courses: Courses,
  guards: readonly Guard[],
  along: Instants,
  start: Float64Array,
): Float64Array {
  const { unknowns, x, residual, jacobian } = alongPeriod(problem, courses, guards, along, start, new Map());
  const { order, count } = unknowns;
  const rows = [
    ...Array.from({ length: order }, (_, i) => i),
    ...Array.from({ length: unknowns.duties }, (_, p) => dutyColumn(unknowns, p)),
  ];
  const matrix = zeros(rows.length * order);
  rows.forEach((row, i) => matrix.set(jacobian.subarray(row * count, row * count + order), i * order));
  const step = leastSquares(
    matrix,
    Float64Array.from(rows, (row) => -(residual[row] ?? 0)),
    rows.length,
    order,
  );
  return x.map((value, i) => value + (step[i] ?? 0));
}
