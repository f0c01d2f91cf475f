import type { Element } from '../circuit/elements.js';
import { compensatorElements, compensatorRest, completeCompensator, LOOP } from '../compensator/compensatorCircuit.js';
import {
  completeDigitalController,
  digitalElements,
  digitalRest,
  digitalUpdates,
  DUTY_REGISTER,
} from '../compensator/digitalController.js';
import type { Stage } from '../stage/schema.js';
import type { Update } from '../steady/periodicProblem.js';
import type { SolvedCircuit } from '../steady/solveCircuit.js';
import type { InnerLoop } from './innerLoop.js';

/** What closes the loop from the output to the control voltage. */
export interface OuterLoop {
  readonly elements: readonly Element[];
  readonly updates: readonly Update[];
  readonly controlNode: string;
  readonly sampled: boolean;
  /** Voltage that each of its capacitors stands at in the steady state, V. */
  readonly rest: ReadonlyMap<string, number>;
}

/** Compensator or sampled controller of a stage; the words for what is missing. */
export function outerLoop(
  stage: Stage,
  { powerStage, solution }: SolvedCircuit,
  inner: InnerLoop,
  sign: 1 | -1,
): OuterLoop | string {
  const { outputNode, phases, rotation } = powerStage;
  if (stage.control.scheme === 'digital') {
    const controller = completeDigitalController(stage);
    if (!controller.ok) return `what is missing is ${controller.lacks.join(', ')}`;
    if (rotation.order < phases.length)
      return 'a sampled controller is worked for phases that are copies of each other, not for coupled pairs';
    return {
      elements: digitalElements(controller.value, outputNode, sign),
      updates: digitalUpdates(controller.value, solution.period / rotation.order),
      controlNode: DUTY_REGISTER,
      sampled: true,
      rest: digitalRest(solution.duty, sign),
    };
  }
  const compensator = completeCompensator(stage.control);
  if (!compensator.ok) return `what is missing is ${compensator.lacks.join(', ')}`;
  return {
    elements: compensatorElements(compensator.value, outputNode, sign),
    updates: [],
    controlNode: LOOP.control,
    sampled: false,
    rest: compensatorRest(compensator.value, stage.targets.outputVoltage, inner.control, sign),
  };
}
