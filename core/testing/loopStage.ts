import { completeStage, type CompleteStage } from '../src/stage/completeStage.js';
import { stageFromDocument } from '../src/stage/readStage.js';

/** Networks and controls of a 12 V to 3.3 V buck at 500 kHz. */
export const TYPE_3 = {
  network: 'type-3',
  components: {
    rUpper: 10e3,
    rLower: 2220,
    rZero: 3190,
    cZero: 8.32e-9,
    cPole: 2e-10,
    rFeedforward: 250,
    cFeedforward: 1.59e-9,
  },
};
export const TYPE_2 = {
  network: 'type-2',
  amplifier: { kind: 'ota', transconductance: 1e-3, outputResistance: 2e6 },
  components: { rUpper: 45e3, rLower: 10e3, rZero: 11.1e3, cZero: 2.86e-9, cPole: 2.38e-11 },
};
export const VOLTAGE = { scheme: 'voltage-mode', reference: 0.6, rampAmplitude: 1, compensator: TYPE_3 };
export const CURRENT = {
  scheme: 'peak-current-mode',
  reference: 0.6,
  currentSenseGain: 0.05,
  slopeCompensation: 1e5,
  compensator: TYPE_2,
};

export const AVERAGE = {
  scheme: 'average-current-mode',
  reference: 0.6,
  rampAmplitude: 1,
  currentSenseGain: 0.05,
  currentAmplifier: { rInput: 10e3, rZero: 33e3, cZero: 240e-12, cPole: 10e-12 },
  compensator: {
    network: 'type-2',
    components: { rUpper: 45e3, rLower: 10e3, rZero: 47e3, cZero: 1e-9, cPole: 20e-12 },
  },
};

/** That stage, with changes. */
export function complete(over: object = {}, control: object = VOLTAGE, parts: object = {}): CompleteStage {
  const read = stageFromDocument({
    format: 'yundro-stage',
    version: 1,
    topology: 'buck',
    switchingFrequency: 500e3,
    targets: { inputVoltage: { min: 12, max: 12 }, outputVoltage: 3.3, outputCurrent: { min: 8, max: 12 } },
    parts: {
      inductor: { inductance: 2.2e-6, resistance: 0.005 },
      outputCapacitors: [{ capacitance: 100e-6, esr: 0.003 }],
      inputCapacitors: [{ capacitance: 22e-6, esr: 0.003 }],
      highSide: { onResistance: 0.01 },
      lowSide: { onResistance: 0.008 },
      ...parts,
    },
    control,
    ...over,
  });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  const made = completeStage(read.value);
  if (!made.ok) throw new Error(JSON.stringify(made.problems));
  return made.value;
}
