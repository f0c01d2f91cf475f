import { completeStage, type CompleteStage } from '../src/stage/completeStage.js';
import { stageFromDocument } from '../src/stage/readStage.js';
import { TYPE_2 } from './loopStage.js';

/** A 12 to 7.5 V, 4 A buck stage under peak current control: beyond half the period, so that every fault can come about. */
export function benchStage(over: object = {}, parts: object = {}): CompleteStage {
  const read = stageFromDocument({
    format: 'yundro-stage',
    version: 1,
    topology: 'buck',
    switchingFrequency: 300e3,
    targets: {
      inputVoltage: { min: 11, nominal: 12, max: 14 },
      outputVoltage: 7.5,
      outputCurrent: { min: 0.2, max: 4 },
      loadStep: { from: 1, to: 3, deviation: 0.3 },
    },
    parts: {
      inductor: { inductance: 10e-6, resistance: 0.012 },
      outputCapacitors: [{ kind: 'polymer', capacitance: 150e-6, esr: 0.02 }],
      inputCapacitors: [{ capacitance: 10e-6, esr: 0.003, count: 2 }],
      highSide: { onResistance: 0.012, gateCharge: 8e-9 },
      lowSide: { onResistance: 0.01, gateCharge: 8e-9 },
      diode: { forwardVoltage: 0.45, dynamicResistance: 0.02 },
      ...parts,
    },
    deadTime: 20e-9,
    control: {
      scheme: 'peak-current-mode',
      reference: 0.75,
      currentSenseGain: 0.05,
      slopeCompensation: 5e4,
      dutyMax: 0.95,
      currentLimit: 9,
      compensator: { ...TYPE_2, components: { ...TYPE_2.components, rUpper: 90e3 } },
    },
    ...over,
  });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  const made = completeStage(read.value);
  if (!made.ok) throw new Error(JSON.stringify(made.problems));
  return made.value;
}
