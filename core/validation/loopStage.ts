import type { Complex } from '../src/linalg/complex.js';
import { plantResponse } from '../src/smallsignal/plantResponse.js';
import { completeStage, type CompleteStage } from '../src/stage/completeStage.js';
import { problemsSentence } from '../src/stage/problemSentence.js';
import { stageFromDocument } from '../src/stage/readStage.js';
import type { SolvedCircuit } from '../src/steady/solveCircuit.js';
import { solveStage } from '../src/steady/solveStage.js';
import type { OperatingCondition } from '../src/powerstage/powerStage.js';

/** A stage of a published example at an input voltage and a resistive load, with its steady state. */
export interface LoopStage {
  readonly complete: CompleteStage;
  readonly condition: OperatingCondition;
  readonly found: SolvedCircuit;
}

/** Complete a stage document and solve it. */
export function solved(document: object, inputVoltage: number, resistance: number): LoopStage {
  const read = stageFromDocument({ format: 'yundro-stage', version: 1, ...document });
  if (!read.ok) throw new Error(problemsSentence(read.problems));
  const made = completeStage(read.value);
  if (!made.ok) throw new Error(problemsSentence(made.problems));
  const condition = { inputVoltage, load: { kind: 'resistance' as const, resistance } };
  const found = solveStage(made.value, condition);
  if (found.kind === 'unsolved') throw new Error(found.reason);
  return { complete: made.value, condition, found };
}

/** Its exact response from control voltage to output. */
export function plantOf(document: object, inputVoltage: number, resistance: number): (frequency: number) => Complex {
  const { complete, condition, found } = solved(document, inputVoltage, resistance);
  const plant = plantResponse(complete, condition, found);
  if (typeof plant === 'string') throw new Error(plant);
  return plant;
}
