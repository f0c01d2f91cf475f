import type { ClosedForm } from './closedForm.js';

/** Output voltage that a feedback divider sets. */
export const dividerOutput: ClosedForm<'reference' | 'upper' | 'lower' | 'bias'> = {
  name: 'Output voltage set by the divider',
  symbol: 'V_\\mathrm{out}',
  unit: 'V',
  formula: 'V_\\mathrm{ref}\\left(1+\\frac{R_1}{R_2}\\right)+I_b R_1',
  source: 'Feedback divider (definition)',
  assumption: 'The bias current counts positive into the sense pin.',
  inputs: {
    reference: { symbol: 'V_\\mathrm{ref}', name: 'reference voltage', unit: 'V' },
    upper: { symbol: 'R_1', name: 'upper resistor', unit: 'ohm' },
    lower: { symbol: 'R_2', name: 'lower resistor', unit: 'ohm' },
    bias: { symbol: 'I_b', name: 'bias current into the pin', unit: 'A' },
  },
  compute: (v) => v.reference * (1 + v.upper / v.lower) + v.bias * v.upper,
};

/** Relative error of the output from the tolerances of resistors and reference, each at its worst. */
export const dividerWorstCase: ClosedForm<'reference' | 'vOut' | 'resistorTolerance' | 'referenceTolerance'> = {
  name: 'Output error, worst case',
  symbol: '\\frac{\\Delta V}{V}',
  unit: 'ratio',
  formula: '\\delta_\\mathrm{ref}+2\\,\\delta_R\\left(1-\\frac{V_\\mathrm{ref}}{V_\\mathrm{out}}\\right)',
  source: 'First-order error of the divider (standard), with the factor 1 − Vref/Vout',
  assumption: 'Both resistors at opposite ends of their tolerance.',
  inputs: {
    reference: { symbol: 'V_\\mathrm{ref}', name: 'reference voltage', unit: 'V' },
    vOut: { symbol: 'V_\\mathrm{out}', name: 'output voltage', unit: 'V' },
    resistorTolerance: { symbol: '\\delta_R', name: 'tolerance of a resistor', unit: 'ratio' },
    referenceTolerance: { symbol: '\\delta_\\mathrm{ref}', name: 'tolerance of the reference', unit: 'ratio' },
  },
  compute: (v) => v.referenceTolerance + 2 * v.resistorTolerance * (1 - v.reference / v.vOut),
};

/** The same as a root of the sum of squares: the likely error of independent parts. */
export const dividerRootSumSquare: typeof dividerWorstCase = {
  ...dividerWorstCase,
  name: 'Output error, root of the sum of squares',
  formula:
    '\\sqrt{\\delta_\\mathrm{ref}^2+2\\left(\\delta_R\\left(1-\\tfrac{V_\\mathrm{ref}}{V_\\mathrm{out}}\\right)\\right)^2}',
  assumption: 'The tolerances are independent.',
  compute: (v) => Math.hypot(v.referenceTolerance, Math.SQRT2 * v.resistorTolerance * (1 - v.reference / v.vOut)),
};
