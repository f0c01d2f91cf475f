import type { CompleteStage } from '../stage/completeStage.js';
import type { OperatingPoint } from '../steady/operatingPoint.js';
import { applied, type AppliedForm } from './closedForm.js';
import {
  boostDiscontinuousDuty,
  buckBoostDiscontinuousDuty,
  buckDiscontinuousDuty,
  normalisedLoad,
} from './discontinuousForms.js';

const DUTY = {
  buck: buckDiscontinuousDuty,
  boost: boostDiscontinuousDuty,
  'inverting-buck-boost': buckBoostDiscontinuousDuty,
} as const;

/** The closed forms of the duty ratio at a discontinuous point: the normalised load, and the duty from it. */
export function discontinuousDuty(
  { stage, inductor, switchingFrequency: fSw }: CompleteStage,
  point: OperatingPoint,
): readonly AppliedForm[] {
  const { topology } = stage;
  if (topology === 'four-switch-buck-boost' || point.conductionMode !== 'DCM') return [];
  const vOut = Math.abs(stage.targets.outputVoltage);
  const resistance = vOut / (point.outputCurrent / stage.phases);
  const k = applied(normalisedLoad, { inductance: inductor.inductance, fSw, resistance });
  return [{ ...k, step: true }, applied(DUTY[topology], { ratio: vOut / point.inputVoltage, k: k.value })];
}
