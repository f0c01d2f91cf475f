import { magnitude } from '../src/linalg/complex.js';
import { inputImpedances, type InputImpedances } from '../src/smallsignal/inputImpedance.js';
import { solved } from './loopStage.js';
import type { OutsideCheck } from './outsideCheck.js';

const SOURCE =
  'R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 10, section 10.3 (buck with input filter)';
const DAMPED =
  'R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 10, section 10.4.1 (parallel damping)';

/** Resonance of the output filter, and frequencies about that of the input filter. */
const RESONANCE = 1591.5494;
const FREQUENCIES = [...Array.from({ length: 400 }, (_, k) => 200 * 10 ** (k / 300)), RESONANCE];

let worked: InputImpedances | undefined;
/** The buck of the example, 30 V, D = 0.5, 3 Ω, at 200 kHz with a slow loop, behind its filter with optimum damping. */
function example(): InputImpedances {
  if (worked) return worked;
  const { complete, condition } = solved(
    {
      topology: 'buck',
      switchingFrequency: 200e3,
      targets: { inputVoltage: { min: 30, max: 30 }, outputVoltage: 15, outputCurrent: { max: 5 } },
      parts: {
        inductor: { inductance: 100e-6, resistance: 0 },
        outputCapacitors: [{ capacitance: 100e-6, esr: 0 }],
        inputCapacitors: [{ capacitance: 470e-6, esr: 0 }],
        inputFilter: {
          inductance: 330e-6,
          resistance: 0,
          damping: { capacitance: 1183.9906e-6, resistance: 0.6657406 },
        },
        highSide: { onResistance: 0 },
        lowSide: { onResistance: 0 },
      },
      control: {
        scheme: 'voltage-mode',
        reference: 1.5,
        rampAmplitude: 4,
        compensator: {
          network: 'integrator',
          components: { rUpper: 90e3, rLower: 10e3, cZero: 33e-9 },
        },
      },
    },
    30,
    3,
  );
  const found = inputImpedances(complete, condition, FREQUENCIES);
  if (typeof found === 'string') throw new Error(found);
  worked = found;
  return found;
}
const at = (which: 'driven' | 'nulled', frequency: number): number => {
  const point = example().points.reduce((best, one) =>
    Math.abs(one.frequency - frequency) < Math.abs(best.frequency - frequency) ? one : best,
  );
  const value = point[which];
  return value ? magnitude(value) : NaN;
};

/** The impedances at the input of a stage, of the circuit itself, against the example of a textbook. */
export const inputImpedanceChecks: readonly OutsideCheck[] = [
  {
    source: SOURCE,
    quantity: 'input impedance with the output nulled, magnitude',
    unit: 'ohm',
    expected: 12,
    relative: 1e-3,
    computed: () => at('nulled', 300),
  },
  {
    source: SOURCE,
    quantity: 'input impedance at constant duty ratio, at the resonance of the output filter',
    unit: 'ohm',
    expected: 1.2649111,
    relative: 1e-3,
    computed: () => at('driven', RESONANCE),
  },
  {
    source: DAMPED,
    quantity: 'largest output impedance of the damped filter',
    unit: 'ohm',
    expected: 1,
    relative: 1e-3,
    computed: () => Math.max(...example().points.map(({ filter }) => magnitude(filter))),
  },
];
