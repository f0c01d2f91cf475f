import type { ClosedForm, FormulaInput } from './closedForm.js';

const TABLE =
  'R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 11, section 11.2 (small-signal parameters in discontinuous conduction)';
const ASSUMPTION =
  'Discontinuous conduction, resistive load, no losses. The second pole, near the switching frequency, is left out.';

/**
 * The one factor by which the discontinuous plants of the three converters differ: gain 2V g/D, pole 1/(2π g R C).
 *
 * @param conversion output over input voltage, magnitude.
 */
export function discontinuousFactor(converter: 'buck' | 'boost' | 'buck-boost', conversion: number): number {
  switch (converter) {
    case 'buck':
      return (1 - conversion) / (2 - conversion);
    case 'boost':
      return (conversion - 1) / (2 * conversion - 1);
    case 'buck-boost':
      return 1 / 2;
  }
}

const factor: FormulaInput = {
  symbol: 'g',
  name: '(1 − M)/(2 − M) for the buck, (M − 1)/(2M − 1) for the boost, one half for the buck-boost, M = V/V_g',
  unit: 'ratio',
};

/** Duty ratio to output at low frequency in discontinuous conduction, V. */
export const discontinuousDutyGain: ClosedForm<'outputVoltage' | 'duty' | 'factor'> = {
  name: 'Duty to output, low frequency',
  symbol: 'G_{d0}',
  unit: 'V',
  formula: '\\frac{2V}{D}\\,g',
  source: TABLE,
  assumption: ASSUMPTION,
  inputs: {
    outputVoltage: { symbol: 'V', name: 'output voltage, magnitude', unit: 'V' },
    duty: { symbol: 'D', name: 'duty ratio', unit: 'ratio' },
    factor,
  },
  compute: (v) => (2 * v.outputVoltage * v.factor) / v.duty,
};

/** The one pole of the plant in discontinuous conduction, Hz. */
export const discontinuousPole: ClosedForm<'resistance' | 'capacitance' | 'factor'> = {
  name: 'Single pole of the plant',
  symbol: 'f_p',
  unit: 'Hz',
  formula: '\\frac{1}{2\\pi\\,g\\,RC}',
  source: TABLE,
  assumption: ASSUMPTION,
  inputs: {
    resistance: { symbol: 'R', name: 'load resistance', unit: 'ohm' },
    capacitance: { symbol: 'C', name: 'output capacitance', unit: 'F' },
    factor,
  },
  compute: (v) => 1 / (2 * Math.PI * v.factor * v.resistance * v.capacitance),
};
