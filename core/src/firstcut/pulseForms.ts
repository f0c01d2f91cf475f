import type { ClosedForm, FormulaInput } from './closedForm.js';

const load: FormulaInput = { symbol: 'I_\\mathrm{out}', name: 'load current', unit: 'A' };
const inductance: FormulaInput = { symbol: 'L', name: 'inductance', unit: 'H' };
const peak: FormulaInput = { symbol: '\\hat I', name: 'peak of a pulse', unit: 'A' };
const vIn: FormulaInput = { symbol: 'V_\\mathrm{in}', name: 'input voltage', unit: 'V' };
const vOut: FormulaInput = { symbol: 'V_\\mathrm{out}', name: 'output voltage, magnitude', unit: 'V' };
const common = {
  symbol: 'f',
  unit: 'Hz',
  source: 'Charge of a triangular pulse that stands alone, derived here',
  assumption: 'No losses; the current starts from zero and comes back to it.',
} as const;

/** Pulses a second of a buck whose pulses stand alone. */
export const buckPulseFrequency: ClosedForm<'load' | 'inductance' | 'peak' | 'vIn' | 'vOut'> = {
  ...common,
  name: 'Pulse frequency of the buck',
  formula:
    '\\frac{2\\,I_\\mathrm{out}\\,V_\\mathrm{out}(V_\\mathrm{in}-V_\\mathrm{out})}{L\\,\\hat I^2\\,V_\\mathrm{in}}',
  inputs: { load, inductance, peak, vIn, vOut },
  compute: (v) => (2 * v.load * v.vOut * (v.vIn - v.vOut)) / (v.inductance * v.peak ** 2 * v.vIn),
};

/** Pulses a second of a boost whose pulses stand alone. */
export const boostPulseFrequency: ClosedForm<'load' | 'inductance' | 'peak' | 'vIn' | 'vOut'> = {
  ...common,
  name: 'Pulse frequency of the boost',
  formula: '\\frac{2\\,I_\\mathrm{out}(V_\\mathrm{out}-V_\\mathrm{in})}{L\\,\\hat I^2}',
  inputs: { load, inductance, peak, vIn, vOut },
  compute: (v) => (2 * v.load * (v.vOut - v.vIn)) / (v.inductance * v.peak ** 2),
};

/** Pulses a second of a buck-boost whose pulses stand alone. */
export const buckBoostPulseFrequency: ClosedForm<'load' | 'inductance' | 'peak' | 'vOut'> = {
  ...common,
  name: 'Pulse frequency of the buck-boost',
  formula: '\\frac{2\\,I_\\mathrm{out}\\,V_\\mathrm{out}}{L\\,\\hat I^2}',
  inputs: { load, inductance, peak, vOut },
  compute: (v) => (2 * v.load * v.vOut) / (v.inductance * v.peak ** 2),
};
