/** A 12 to 7.5 V buck stage under peak current control, as a stage file. */
export const hullBus = {
  format: 'yundro-stage',
  version: 1,
  name: 'Bench buck',
  topology: 'buck',
  switchingFrequency: 300e3,
  targets: {
    inputVoltage: { min: 11, nominal: 12, max: 14 },
    outputVoltage: 7.5,
    outputCurrent: { min: 0.2, max: 4 },
  },
  parts: {
    inductor: { inductance: 10e-6, resistance: 0.012 },
    outputCapacitors: [{ kind: 'polymer', capacitance: 150e-6, esr: 0.02 }],
    inputCapacitors: [{ capacitance: 10e-6, esr: 0.003, count: 2 }],
    highSide: { onResistance: 0.012, gateCharge: 8e-9 },
    lowSide: { onResistance: 0.01, gateCharge: 8e-9 },
  },
  deadTime: 20e-9,
  control: {
    scheme: 'peak-current-mode',
    reference: 0.75,
    currentSenseGain: 0.05,
    slopeCompensation: 5e4,
    dutyMax: 0.95,
    compensator: {
      network: 'type-2',
      amplifier: { kind: 'ota', transconductance: 1e-3, outputResistance: 2e6 },
      components: { rUpper: 90e3, rLower: 10e3, rZero: 11.1e3, cZero: 2.86e-9, cPole: 2.38e-11 },
    },
  },
};
