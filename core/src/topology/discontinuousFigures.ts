import { applied, type AppliedForm } from '../firstcut/closedForm.js';
import {
  boostDiscontinuousDuty,
  buckBoostDiscontinuousDuty,
  buckDiscontinuousDuty,
  normalisedLoad,
} from '../firstcut/discontinuousForms.js';
import type { Converter, FiguredPoint } from './topology.js';

const DUTY = {
  buck: buckDiscontinuousDuty,
  boost: boostDiscontinuousDuty,
  'buck-boost': buckBoostDiscontinuousDuty,
} as const;

/** The closed forms of the duty ratio at a discontinuous point: the normalised load, and the duty from it. */
export function discontinuousDuty(point: FiguredPoint, converter: Converter): readonly AppliedForm[] {
  const vOut = Math.abs(point.outputVoltage);
  const resistance = vOut / (point.outputCurrent / point.phases);
  const { inductance, switchingFrequency: fSw } = point;
  const k = applied(normalisedLoad, { inductance, fSw, resistance });
  return [{ ...k, step: true }, applied(DUTY[converter], { ratio: vOut / point.inputVoltage, k: k.value })];
}
