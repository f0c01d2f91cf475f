import { regulatedOutput } from '../controller/divider.js';
import { BODY_DIODE_DEFAULT } from '../parts/bodyDiode.js';
import { bankModel } from '../parts/capacitorBank.js';
import { seriesResistance, type CompleteStage } from '../stage/completeStage.js';
import type { OperatingPoint } from '../steady/operatingPoint.js';
import type { FiguredPoint } from '../topology/topology.js';

/** A stage at a point as the closed forms of its topology see it. */
export function figuredPoint(complete: CompleteStage, point: OperatingPoint): FiguredPoint {
  const { stage, inductor, legs, outputCapacitors } = complete;
  const [leg] = legs;
  if (!leg) throw new Error('The stage has no switches.');
  const { rectifier } = leg;
  const outputVoltage = regulatedOutput(stage);
  const [bank, ...others] = outputCapacitors;
  return {
    inputVoltage: point.inputVoltage,
    outputVoltage,
    outputCurrent: point.outputCurrent,
    duty: point.duty,
    continuous: point.conductionMode === 'CCM',
    region: point.region,
    phases: stage.phases,
    switchingFrequency: point.switchingFrequency,
    inductance: inductor.inductance,
    seriesResistance: seriesResistance(complete),
    deadTime: stage.deadTime,
    mainResistance: leg.main.onResistance,
    rectifier:
      rectifier.kind === 'diode'
        ? { kind: 'diode', resistance: rectifier.diode.dynamicResistance }
        : {
            kind: 'switch',
            resistance: rectifier.mosfet.onResistance,
            bodyVoltage: rectifier.mosfet.bodyDiodeVoltage ?? BODY_DIODE_DEFAULT.forwardVoltage,
            bodyResistance: rectifier.mosfet.bodyDiodeResistance ?? BODY_DIODE_DEFAULT.dynamicResistance,
          },
    outputBank: bank && others.length === 0 ? bankModel(bank, outputVoltage) : undefined,
  };
}
