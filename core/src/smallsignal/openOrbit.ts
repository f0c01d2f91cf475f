import type { CompleteStage } from '../stage/completeStage.js';
import { alongPeriod, guardsOf } from '../steady/alongPeriod.js';
import { solvePeriodic } from '../steady/periodic.js';
import type { SolvedCircuit } from '../steady/solveCircuit.js';
import type { OperatingCondition } from '../topology/powerStage.js';
import { comparatorOf, loopElements, type ClosedLoop } from './loopCircuit.js';

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
    elements: loopElements({ powerStage }, condition, outputVoltage),
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
