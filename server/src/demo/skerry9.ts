import { stageSchema, typicalMosfet, type Stage, type StageInput } from '@yundro/core';
import designed from './designed.json' with { type: 'json' };

/** Values common to all stages of the demo. */
const common = { format: 'yundro-stage', version: 1 } as const;
const ambient = { min: -10, max: 45 };
/** A MOSFET of the demo: a typical one of its class under an invented name. */
const switchOf = (name: string, rated: number, onResistance: number) => ({
  name,
  ...typicalMosfet(rated, onResistance),
});
/** Core loss exponents of the pressed-powder chokes. */
const powder = { coreLossFrequencyExponent: 1.4, coreLossFluxExponent: 2.2 };

const hullBus: StageInput = {
  ...common,
  name: 'Hull bus',
  notes:
    'Main 12 V bus of the buoy, from the 8-cell lithium iron phosphate battery. Everything below it hangs on this stage.',
  topology: 'buck',
  targets: {
    inputVoltage: { min: 20, nominal: 25.6, max: 29.2 },
    outputVoltage: 12,
    outputVoltageTolerance: 0.02,
    outputCurrent: { min: 0.1, max: 8 },
    outputRipple: 0.06,
    inputRipple: 0.3,
    inductorRippleRatio: 0.35,
    loadStep: { from: 2, to: 6, slewRate: 2e6, deviation: 0.36, recoveryTime: 2e-4 },
    efficiency: { outputCurrent: 8, min: 0.94 },
    phaseMargin: 50,
    gainMargin: 10,
    ambientTemperature: ambient,
    junctionTemperatureMax: 125,
    switchingFrequency: { min: 250e3, max: 600e3 },
  },
  switchingFrequency: 400e3,
  parts: {
    inductor: {
      name: 'LX10-6R8',
      length: 0.0102,
      width: 0.0102,
      height: 0.0047,
      inductance: 6.8e-6,
      resistance: 0.008,
      saturationCurrent: 16,
      saturationDrop: 0.2,
      heatingCurrent: 12,
      coreLossCoefficient: 1.1e-4,
      ...powder,
    },
    outputCapacitors: [
      {
        name: 'CK25-22',
        length: 0.0032,
        width: 0.0025,
        height: 0.0025,
        kind: 'ceramic',
        capacitance: 22e-6,
        esr: 0.003,
        esl: 0.5e-9,
        count: 4,
        ratedVoltage: 25,
        biasCurve: [
          [0, 1],
          [12, 0.55],
          [25, 0.2],
        ],
      },
    ],
    inputCapacitors: [
      {
        name: 'CK50-10',
        length: 0.0032,
        width: 0.0025,
        height: 0.0025,
        kind: 'ceramic',
        capacitance: 10e-6,
        esr: 0.004,
        esl: 0.5e-9,
        count: 4,
        ratedVoltage: 50,
        biasCurve: [
          [0, 1],
          [25, 0.6],
          [50, 0.25],
        ],
      },
    ],
    highSide: switchOf('NX40-8R0', 40, 0.008),
    lowSide: switchOf('NX40-4R0', 40, 0.004),
  },
  deadTime: 20e-9,
  control: {
    scheme: 'voltage-mode',
    reference: 0.8,
    dutyMax: 0.95,
    minimumOnTime: 80e-9,
    rampAmplitude: 1.5,
    supplyCurrent: 3e-3,
    referenceTolerance: 0.01,
    tolerances: { resistors: 0.001 },
    compensator: {
      network: 'type-3',
      amplifier: { kind: 'op-amp' },
      components: {
        rUpper: 140e3,
        rLower: 10e3,
        rZero: 20e3,
        cZero: 2.2e-9,
        cPole: 39e-12,
        rFeedforward: 2.7e3,
        cFeedforward: 270e-12,
      },
    },
  },
  pinned: [
    'switchingFrequency',
    'parts.inductor',
    'parts.highSide',
    'parts.lowSide',
    'parts.outputCapacitors',
    'parts.inputCapacitors',
  ],
};

const loggerLogic: StageInput = {
  ...common,
  name: 'Logger logic',
  fedBy: 'Hull bus',
  notes: 'Always on: the light-load behaviour decides how long the buoy lasts through a calm week.',
  topology: 'buck',
  targets: {
    inputVoltage: { min: 11.4, nominal: 12, max: 12.6 },
    outputVoltage: 3.3,
    outputVoltageTolerance: 0.02,
    outputCurrent: { min: 0.02, max: 6 },
    outputRipple: 0.02,
    inputRipple: 0.15,
    inductorRippleRatio: 0.4,
    loadStep: { from: 1, to: 4, slewRate: 5e6, deviation: 0.1, recoveryTime: 1e-4 },
    ambientTemperature: ambient,
    junctionTemperatureMax: 125,
    switchingFrequency: { min: 400e3, max: 1e6 },
  },
  switchingFrequency: 600e3,
  operatingMode: 'pulse-skipping',
  parts: {
    inductor: {
      name: 'LX07-2R2',
      inductance: 2.2e-6,
      resistance: 0.0085,
      saturationCurrent: 11,
      saturationDrop: 0.1,
      heatingCurrent: 8.5,
      coreLossCoefficient: 1.5e-3,
      ...powder,
    },
    outputCapacitors: [
      {
        name: 'CK6-47',
        kind: 'ceramic',
        capacitance: 47e-6,
        esr: 0.003,
        esl: 0.4e-9,
        count: 2,
        ratedVoltage: 6.3,
        biasCurve: [
          [0, 1],
          [3.3, 0.68],
          [6.3, 0.32],
        ],
      },
    ],
    inputCapacitors: [
      {
        name: 'CK25-10',
        kind: 'ceramic',
        capacitance: 10e-6,
        esr: 0.004,
        esl: 0.5e-9,
        count: 3,
        ratedVoltage: 25,
        biasCurve: [
          [0, 1],
          [12, 0.58],
          [25, 0.22],
        ],
      },
    ],
    highSide: switchOf('NX25-9R5', 25, 0.0095),
    lowSide: switchOf('NX25-3R6', 25, 0.0036),
  },
  deadTime: 15e-9,
  control: {
    scheme: 'peak-current-mode',
    reference: 0.6,
    dutyMax: 0.95,
    minimumOnTime: 60e-9,
    supplyCurrent: 1.5e-3,
    sleepCurrent: 40e-6,
    referenceTolerance: 0.01,
    tolerances: { resistors: 0.005 },
    currentSenseGain: 0.068,
    slopeCompensation: 43e3,
    compensator: {
      network: 'type-2',
      amplifier: { kind: 'op-amp' },
      components: { rUpper: 16.2e3, rLower: 3.6e3, rZero: 43e3, cZero: 2.2e-9, cPole: 12e-12 },
    },
  },
  pinned: [
    'switchingFrequency',
    'parts.inductor',
    'parts.highSide',
    'parts.lowSide',
    'parts.outputCapacitors',
    'parts.inputCapacitors',
  ],
};

const echoCore: StageInput = {
  ...common,
  name: 'Echo core',
  fedBy: 'Hull bus',
  notes: 'Signal processor of the echo sounder: four interleaved phases from the 12 V bus.',
  topology: 'buck',
  phases: 4,
  targets: {
    inputVoltage: { min: 11.4, nominal: 12, max: 12.6 },
    outputVoltage: 0.9,
    outputVoltageTolerance: 0.01,
    outputCurrent: { min: 2, max: 60 },
    outputRipple: 0.01,
    inputRipple: 0.2,
    inductorRippleRatio: 0.45,
    loadStep: { from: 15, to: 45, slewRate: 5e7, deviation: 0.045, recoveryTime: 5e-5 },
    ambientTemperature: ambient,
    junctionTemperatureMax: 125,
    switchingFrequency: { min: 300e3, max: 800e3 },
  },
  switchingFrequency: 500e3,
  parts: {
    inductor: {
      name: 'LX08-0R27',
      inductance: 0.27e-6,
      resistance: 0.0007,
      saturationCurrent: 38,
      saturationDrop: 0.1,
      heatingCurrent: 24,
      coreLossCoefficient: 1.6e-2,
      ...powder,
    },
    outputCapacitors: [
      {
        name: 'CK4-47',
        kind: 'ceramic',
        capacitance: 47e-6,
        esr: 0.003,
        esl: 0.4e-9,
        count: 16,
        ratedVoltage: 4,
        biasCurve: [
          [0, 1],
          [0.9, 0.95],
          [4, 0.4],
        ],
      },
      { name: 'CP2-470', kind: 'polymer', capacitance: 470e-6, esr: 0.006, esl: 1.2e-9, count: 4, ratedVoltage: 2.5 },
    ],
    inputCapacitors: [
      {
        name: 'CK25-22',
        length: 0.0032,
        width: 0.0025,
        height: 0.0025,
        kind: 'ceramic',
        capacitance: 22e-6,
        esr: 0.003,
        esl: 0.5e-9,
        count: 8,
        ratedVoltage: 25,
        biasCurve: [
          [0, 1],
          [12, 0.55],
          [25, 0.2],
        ],
      },
    ],
    highSide: switchOf('NX25-4R2', 25, 0.0042),
    lowSide: switchOf('NX25-1R1', 25, 0.0011),
  },
  deadTime: 15e-9,
  control: {
    scheme: 'peak-current-mode',
    reference: 0.6,
    referenceTolerance: 0.005,
    tolerances: { resistors: 0.005 },
    dutyMax: 0.5,
    minimumOnTime: 40e-9,
    supplyCurrent: 8e-3,
    currentSenseGain: 0.027,
    compensator: {
      network: 'type-2',
      amplifier: { kind: 'op-amp' },
      components: { rUpper: 5.1e3, rLower: 10.2e3, rZero: 36e3, cZero: 120e-12, cPole: 33e-12 },
    },
  },
  pinned: [
    'switchingFrequency',
    'parts.inductor',
    'parts.highSide',
    'parts.lowSide',
    'parts.outputCapacitors',
    'parts.inputCapacitors',
  ],
};

const mastRadio: StageInput = {
  ...common,
  name: 'Mast radio',
  notes:
    'Power amplifier of the mast radio, straight from the battery. Unloaded and without feedback a boost runs away: fit the clamp first.',
  topology: 'boost',
  targets: {
    inputVoltage: { min: 20, nominal: 25.6, max: 29.2 },
    outputVoltage: 48,
    outputCurrent: { min: 0.05, max: 2.5 },
    loadStep: { from: 0.5, to: 2, slewRate: 1e6, deviation: 2.5, recoveryTime: 1e-3 },
    outputRipple: 0.24,
    inputRipple: 0.15,
    inductorRippleRatio: 0.35,
    phaseMargin: 45,
    gainMargin: 8,
    ambientTemperature: ambient,
    switchingFrequency: { min: 200e3, max: 500e3 },
  },
  control: { scheme: 'voltage-mode', reference: 0.8, minimumOnTime: 80e-9 },
};

const hydrophoneBias: StageInput = {
  ...common,
  name: 'Hydrophone bias',
  fedBy: 'Hull bus',
  notes: 'Negative bias of the hydrophone preamplifier. Quiet matters more than efficiency.',
  topology: 'inverting-buck-boost',
  rectifier: 'diode',
  targets: {
    inputVoltage: { min: 11.4, nominal: 12, max: 12.6 },
    outputVoltage: -15,
    outputCurrent: { min: 0.01, max: 0.6 },
    loadStep: { from: 0.1, to: 0.5, slewRate: 1e6, deviation: 0.4, recoveryTime: 5e-4 },
    outputRipple: 0.05,
    inputRipple: 0.15,
    inductorRippleRatio: 0.4,
    phaseMargin: 45,
    gainMargin: 8,
    ambientTemperature: ambient,
    switchingFrequency: { min: 200e3, max: 600e3 },
  },
  // Light load is discontinuous and thirty decibels weaker: with a current loop one compensator serves both.
  control: { scheme: 'peak-current-mode', reference: 0.8, minimumOnTime: 80e-9 },
};

const dynamoIntake: StageInput = {
  ...common,
  name: 'Dynamo intake',
  notes: 'From the turbine dynamo, whose voltage crosses the output: buck, transition and boost region in one tide.',
  topology: 'four-switch-buck-boost',
  legs: 'regions',
  targets: {
    inputVoltage: { min: 8, nominal: 12, max: 18 },
    outputVoltage: 12,
    outputCurrent: { min: 0.1, max: 4 },
    loadStep: { from: 1, to: 3, slewRate: 1e6, deviation: 1.6, recoveryTime: 1e-3 },
    outputRipple: 0.12,
    inputRipple: 0.3,
    inductorRippleRatio: 0.4,
    phaseMargin: 45,
    gainMargin: 8,
    ambientTemperature: ambient,
    switchingFrequency: { min: 200e3, max: 500e3 },
  },
  control: { scheme: 'peak-current-mode', reference: 0.8 },
};

/** Stages whose parts are left to Yundro: what they are asked for. `npm run demo-designs` designs them from the generic records. */
export const leftToYundro: readonly StageInput[] = [mastRadio, hydrophoneBias, dynamoIntake];

/** The stages of Skerry-9, a made-up tidal survey buoy. Every name and value is invented. */
export const skerry9: { readonly name: string; readonly stages: readonly Stage[] } = {
  name: 'Skerry-9',
  stages: [
    ...[hullBus, loggerLogic, echoCore].map((stage) => stageSchema.parse(stage)),
    ...designed.map((stage) => stageSchema.parse(stage)),
  ],
};
