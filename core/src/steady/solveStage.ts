import { inductanceCurveOf } from '../parts/inductanceCurve.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { OperatingCondition } from '../powerstage/powerStage.js';
import { solveSaturating, type SaturatingCircuit } from './saturation.js';
import { solveCircuit, type SolveOptions, type UnsolvedPoint } from './solveCircuit.js';

/** The periodic steady state of a stage, an inductor with a saturation curve being followed down it; nothing is measured. */
export function solveStage(
  complete: CompleteStage,
  condition: OperatingCondition,
  options: SolveOptions = {},
): SaturatingCircuit | UnsolvedPoint {
  const curve = inductanceCurveOf(complete.inductor);
  return curve ? solveSaturating(complete, condition, curve, options) : solveCircuit(complete, condition, options);
}
