import type { EvaluatedStage } from '../corners/evaluate.js';
import { capacitanceOf } from '../parts/capacitorBank.js';
import type { AuxiliaryGround } from './auxiliaries.js';

/** What parts around the controller are chosen by, out of a stage that was worked. @public */
export function auxiliaryGround({ complete, corners }: EvaluatedStage): AuxiliaryGround {
  const { targets, control } = complete.stage;
  const points = corners.flatMap(({ result }) => (result.kind === 'solved' ? [result.point] : []));
  const peaks = points.map(({ inductorCurrent }) => inductorCurrent.peak);
  return {
    frequency: complete.clock,
    reference: control.reference,
    vOut: Math.abs(targets.outputVoltage),
    vInLeast: targets.inputVoltage.min,
    vInMost: targets.inputVoltage.max,
    inputCurrent: Math.max(0, ...points.map(({ inputCurrent }) => Math.abs(inputCurrent))),
    outputCurrent: targets.outputCurrent.max,
    inputCapacitance: capacitanceOf(complete.inputCapacitors, 0),
    ramp: control.rampAmplitude,
    dutyMax: control.dutyMax,
    inverting: targets.outputVoltage < 0,
    sourceResistance: complete.stage.parts.source?.resistance,
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
