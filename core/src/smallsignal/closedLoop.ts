import type { Circuit } from '../circuit/elements.js';
import { zeros } from '../linalg/zeros.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { SolvedCircuit } from '../steady/solveCircuit.js';
import type { OperatingCondition } from '../topology/powerStage.js';
import { innerLoop, startFrom, takingAlong } from './innerLoop.js';
import { comparatorOf, loopElements, type ClosedLoop, type ClosedLoopResult } from './loopCircuit.js';
import { onTimeLoop } from './onTimeLoop.js';
import { openOrbit } from './openOrbit.js';
import { outerLoop } from './outerLoop.js';
import { settled } from './settled.js';

/**
 * Close the loop round a solved stage: its circuit with the compensator drawn in, the comparators deciding when each phase turns
 * off, and the steady state that the whole settles at.
 *
 * @param solved the stage at the same condition, regulated to its target: where the search starts.
 * @param like the closed loop of the same stage with other values, to start from instead, and the precision that is enough.
 */
export function closeLoop(
  complete: CompleteStage,
  condition: OperatingCondition,
  { powerStage, solution }: SolvedCircuit,
  like?: { readonly loop: ClosedLoop; readonly precision: number },
): ClosedLoopResult {
  const { stage } = complete;
  const sign = stage.targets.outputVoltage < 0 ? -1 : 1;
  const comparator = comparatorOf(complete, condition.inputVoltage, sign);
  if (typeof comparator === 'string') return { kind: 'incomplete', reason: comparator };
  if (stage.control.scheme === 'constant-on-time')
    return onTimeLoop(complete, condition, { powerStage, solution }, comparator);
  const solved = { powerStage, solution };
  const inner = innerLoop(complete, comparator, solved);
  if (typeof inner === 'string') return { kind: 'incomplete', reason: inner };
  const outer = outerLoop(stage, solved, inner, sign);
  if (typeof outer === 'string') return { kind: 'incomplete', reason: outer };
  // An inner loop is brought to rest by itself first: from afar the search would end elsewhere.
  const open = inner.elements.length > 0 && !like ? openOrbit(complete, condition, solved) : undefined;
  if (typeof open === 'string') return { kind: 'not-converged', reason: open };
  const { updates, controlNode, sampled } = outer;
  const circuit: Circuit = {
    ...powerStage.circuit,
    elements: [
      ...loopElements({ powerStage }, condition, stage.targets.outputVoltage),
      ...inner.elements,
      ...outer.elements,
    ],
  };
  const problem = {
    circuit,
    phases: powerStage.phases,
    rotation: takingAlong(powerStage.rotation, inner.namesByPhase),
    period: solution.period,
    control: { kind: 'compared', comparator } as const,
    updates,
  };
  const start = like
    ? like.loop.pass.x
    : open
      ? startFrom(circuit, open.problem.circuit, open.pass.x, outer.rest)
      : startFrom(circuit, powerStage.circuit, solution.segments[0]?.initial ?? zeros(0), outer.rest);
  const near = like ? { ...solution, duty: like.loop.duties[0] ?? solution.duty } : solution;
  const found = settled(problem, near, start, like?.precision);
  if (!found) return { kind: 'not-converged', reason: 'no steady state of the closed loop was found' };
  return {
    kind: 'closed',
    loop: {
      ...found,
      problem,
      comparator,
      decides: 'turn-off',
      outputNode: powerStage.outputNode,
      controlNode,
      sampled,
      feedforwardFrom: stage.control.scheme === 'voltage-mode-feedforward' ? condition.inputVoltage : undefined,
    },
  };
}
