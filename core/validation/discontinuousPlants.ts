import {
  discontinuousDutyGain,
  discontinuousFactor,
  discontinuousPole,
} from '../src/firstcut/discontinuousPlantForms.js';
import type { Converter } from '../src/topology/topology.js';
import { magnitude, type Complex } from '../src/linalg/complex.js';
import { plantOf } from './loopStage.js';
import type { OutsideCheck } from './outsideCheck.js';

const SOURCE = 'R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 11';

/** A converter in discontinuous conduction, by what the published entries give. */
interface Case {
  readonly converter: Converter;
  readonly where: string;
  readonly inputVoltage: number;
  readonly outputVoltage: number;
  readonly duty: number;
  readonly resistance: number;
  readonly capacitance: number;
  readonly inductance: number;
  readonly frequency: number;
  readonly gain: number;
  readonly pole: number;
}

/** The inductance that puts a converter at its duty ratio: K = 2L/(R T) from the tables of ch. 5, L = K R T/2. */
const inductanceFor = (k: number, resistance: number, frequency: number): number => (k * resistance) / (2 * frequency);

const CASES: readonly Case[] = [
  {
    converter: 'boost',
    where: 'section 11.2, example of the boost',
    inputVoltage: 24,
    outputVoltage: 36,
    duty: 0.25,
    resistance: 12,
    capacitance: 470e-6,
    inductance: 5e-6,
    frequency: 100e3,
    gain: 72,
    pole: 112.87585,
  },
  {
    converter: 'buck',
    where: 'table of small-signal parameters, buck',
    inputVoltage: 5 / 0.45,
    outputVoltage: 5,
    duty: 0.35,
    resistance: 25,
    capacitance: 47e-6,
    inductance: inductanceFor((((2 / 0.45 - 1) ** 2 - 1) * 0.35 ** 2) / 4, 25, 200e3),
    frequency: 200e3,
    gain: 10.138249,
    pole: 381.72559,
  },
  {
    converter: 'buck-boost',
    where: 'table of small-signal parameters, buck-boost',
    inputVoltage: 5,
    outputVoltage: 5,
    duty: 0.35,
    resistance: 25,
    capacitance: 47e-6,
    inductance: inductanceFor(0.35 ** 2, 25, 200e3),
    frequency: 200e3,
    gain: 14.285714,
    pole: 270.90203,
  },
];

const plants = new Map<Case, (frequency: number) => Complex>();
/** The plant of a case without losses, a ramp of one volt making it duty ratio to output. */
function plant(one: Case): (frequency: number) => Complex {
  const known = plants.get(one);
  if (known) return known;
  const inverting = one.converter === 'buck-boost';
  const outputVoltage = inverting ? -one.outputVoltage : one.outputVoltage;
  const made = plantOf(
    {
      topology: inverting ? 'inverting-buck-boost' : one.converter,
      rectifier: 'diode',
      switchingFrequency: one.frequency,
      targets: {
        inputVoltage: { min: one.inputVoltage, max: one.inputVoltage },
        outputVoltage,
        outputCurrent: { max: one.outputVoltage / one.resistance },
      },
      parts: {
        inductor: { inductance: one.inductance, resistance: 0 },
        outputCapacitors: [{ capacitance: one.capacitance, esr: 0 }],
        highSide: { onResistance: 0 },
        lowSide: { onResistance: 0 },
        diode: { forwardVoltage: 0, dynamicResistance: 1e-6 },
      },
      control: { scheme: 'voltage-mode', rampAmplitude: 1 },
    },
    one.inputVoltage,
    one.resistance,
  );
  plants.set(one, made);
  return made;
}
const gainAt = (one: Case, frequency: number): number => magnitude(plant(one)(frequency));

/** Gain and pole of the three converters in discontinuous conduction: the closed forms, and the circuit itself. */
export const discontinuousPlantChecks: readonly OutsideCheck[] = CASES.flatMap((one): readonly OutsideCheck[] => {
  const { converter, where, inputVoltage, outputVoltage, duty, resistance, capacitance, gain, pole } = one;
  const factor = discontinuousFactor(converter, outputVoltage / inputVoltage);
  const source = `${SOURCE}, ${where}`;
  return [
    {
      source,
      quantity: 'duty to output, closed form',
      unit: 'V',
      expected: gain,
      relative: 1e-5,
      computed: () => discontinuousDutyGain.compute({ outputVoltage, duty, factor }),
    },
    {
      source,
      quantity: 'single pole, closed form',
      unit: 'Hz',
      expected: pole,
      relative: 1e-5,
      computed: () => discontinuousPole.compute({ resistance, capacitance, factor }),
    },
    // The circuit has ripple and a second pole far above, which the table leaves out.
    {
      source,
      quantity: 'duty to output, of the circuit',
      unit: 'V',
      expected: gain,
      relative: 5e-3,
      computed: () => gainAt(one, 0.01),
    },
    {
      source,
      quantity: 'gain at the pole over that at low frequency, of the circuit',
      unit: 'ratio',
      expected: Math.SQRT1_2,
      relative: 5e-3,
      computed: () => gainAt(one, pole) / gainAt(one, 0.01),
    },
    {
      source,
      quantity: 'gain a decade above the pole over that at low frequency, of the circuit',
      unit: 'ratio',
      expected: 1 / Math.hypot(1, 10),
      relative: 1e-2,
      computed: () => gainAt(one, 10 * pole) / gainAt(one, 0.01),
    },
  ];
});
