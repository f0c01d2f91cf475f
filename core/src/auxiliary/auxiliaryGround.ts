import type { EvaluatedStage } from '../corners/evaluate.js';
import { capacitanceOf } from '../parts/capacitorBank.js';
import type { AuxiliaryGround } from './auxiliaries.js';

/** What parts around the controller are chosen by, out of a stage that was worked. @public */
export function auxiliaryGround({ complete, corners }: EvaluatedStage): AuxiliaryGround {
  const { targets, control } = complete.stage;
  const peaks = corners.flatMap(({ result }) => (result.kind === 'solved' ? [result.point.inductorCurrent.peak] : []));
  return {
    frequency: complete.clock,
    reference: control.reference,
    vOut: Math.abs(targets.outputVoltage),
    vInLeast: targets.inputVoltage.min,
    // Without bias: the most that a soft start has to charge.
    outputCapacitance: capacitanceOf(complete.outputCapacitors, 0),
    softStart: control.softStartTime,
    rising: control.undervoltageLockout?.rising,
    falling: control.undervoltageLockout?.falling,
    currentLimit: control.currentLimit,
    peak: peaks.length > 0 ? Math.max(...peaks) : undefined,
    inductance: complete.inductor.inductance,
    windingResistance: complete.inductor.resistance,
  };
}
