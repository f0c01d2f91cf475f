import type { ClosedForm, FormulaInput } from './closedForm.js';
import { SOURCES } from './sources.js';

const inductance: FormulaInput = { symbol: 'L_f', name: 'filter inductance', unit: 'H' };
const capacitance: FormulaInput = { symbol: 'C_f', name: 'filter capacitance', unit: 'F' };
const characteristic: FormulaInput = { symbol: 'R_0', name: 'characteristic resistance of the filter', unit: 'ohm' };
const multiple: FormulaInput = { symbol: 'n', name: 'damping over filter capacitance', unit: 'ratio' };

/** Resonance of a filter of one inductor and one capacitor. */
export const filterResonance: ClosedForm<'inductance' | 'capacitance'> = {
  name: 'Corner frequency of the filter',
  symbol: 'f_f',
  unit: 'Hz',
  formula: '\\frac{1}{2\\pi\\sqrt{L_f C_f}}',
  source: SOURCES.erickson10,
  assumption: 'No resistance.',
  inputs: { inductance, capacitance },
  compute: (v) => 1 / (2 * Math.PI * Math.sqrt(v.inductance * v.capacitance)),
};

/** Characteristic resistance √(L/C). */
export const filterResistance: ClosedForm<'inductance' | 'capacitance'> = {
  name: 'Characteristic resistance of the filter',
  symbol: 'R_0',
  unit: 'ohm',
  formula: '\\sqrt{\\frac{L_f}{C_f}}',
  source: SOURCES.erickson10,
  assumption: 'No resistance.',
  inputs: { inductance, capacitance },
  compute: (v) => Math.sqrt(v.inductance / v.capacitance),
};

/** How much more damping capacitance than filter capacitance brings the output impedance down to a wanted peak. */
export const dampingMultiple: ClosedForm<'characteristic' | 'peak'> = {
  name: 'Damping capacitance as a multiple',
  symbol: 'n',
  unit: 'ratio',
  formula: '\\frac{R_0^2}{Z_\\mathrm{max}^2}\\left(1+\\sqrt{1+4\\frac{Z_\\mathrm{max}^2}{R_0^2}}\\right)',
  source: `${SOURCES.erickson10}, parallel damping with a blocking capacitor`,
  assumption: 'The damping resistor at its optimum.',
  inputs: {
    characteristic,
    peak: { symbol: 'Z_\\mathrm{max}', name: 'highest output impedance allowed', unit: 'ohm' },
  },
  compute: (v) => {
    const x = (v.characteristic / v.peak) ** 2;
    return x * (1 + Math.sqrt(1 + 4 / x));
  },
};

/** The damping resistor at which the peak of the output impedance is lowest. */
export const dampingResistance: ClosedForm<'characteristic' | 'multiple'> = {
  name: 'Optimum damping resistance',
  symbol: 'R_d',
  unit: 'ohm',
  formula: 'R_0\\sqrt{\\frac{(4+3n)(2+n)}{2n^2(4+n)}}',
  source: `${SOURCES.erickson10}, parallel damping with a blocking capacitor`,
  assumption: 'Inductor and capacitors without resistance of their own.',
  inputs: { characteristic, multiple },
  compute: ({ characteristic: r, multiple: n }) => r * Math.sqrt(((4 + 3 * n) * (2 + n)) / (2 * n * n * (4 + n))),
};

/** The peak of the output impedance with optimum damping. */
export const dampedPeak: ClosedForm<'characteristic' | 'multiple'> = {
  name: 'Peak output impedance of the damped filter',
  symbol: 'Z_\\mathrm{max}',
  unit: 'ohm',
  formula: 'R_0\\,\\frac{\\sqrt{2(2+n)}}{n}',
  source: `${SOURCES.erickson10}, parallel damping with a blocking capacitor`,
  assumption: 'The damping resistor at its optimum.',
  inputs: { characteristic, multiple },
  compute: ({ characteristic: r, multiple: n }) => (r * Math.sqrt(2 * (2 + n))) / n,
};

/** Incremental input resistance of a regulated converter at low frequency, as a magnitude: it is negative. */
export const inputResistance: ClosedForm<'vIn' | 'power'> = {
  name: 'Incremental input resistance, magnitude',
  symbol: '|R_\\mathrm{in}|',
  unit: 'ohm',
  formula: '\\frac{V_\\mathrm{in}^2}{P_\\mathrm{in}}',
  source: SOURCES.middlebrook,
  assumption: 'Constant power within the bandwidth of the loop; the resistance itself is negative.',
  inputs: {
    vIn: { symbol: 'V_\\mathrm{in}', name: 'input voltage', unit: 'V' },
    power: { symbol: 'P_\\mathrm{in}', name: 'input power', unit: 'W' },
  },
  compute: (v) => (v.vIn * v.vIn) / v.power,
};

const load: FormulaInput = { symbol: 'R', name: 'load resistance', unit: 'ohm' };
const duty: FormulaInput = { symbol: 'D', name: 'duty ratio', unit: 'ratio' };

/** Input impedance of a buck whose output is nulled: that of an ideally fast loop, as a magnitude. */
export const buckNullImpedance: ClosedForm<'load' | 'duty'> = {
  name: 'Input impedance of the buck with an ideal loop, magnitude',
  symbol: '|Z_N|',
  unit: 'ohm',
  formula: '\\frac{R}{D^2}',
  source: `${SOURCES.erickson10}, section 10.3, table 10.1; ${SOURCES.middlebrook}`,
  assumption: 'No losses, continuous conduction. The resistance itself is negative.',
  inputs: { load, duty },
  compute: (v) => v.load / v.duty ** 2,
};

/** Input impedance of a buck at constant duty ratio, as a magnitude at a frequency. */
export const buckDrivenImpedance: ClosedForm<'load' | 'duty' | 'stageInductance' | 'stageCapacitance' | 'frequency'> = {
  name: 'Input impedance of the buck at constant duty ratio, magnitude',
  symbol: '|Z_D|',
  unit: 'ohm',
  formula: '\\frac{R}{D^2}\\left|\\frac{1+sL/R+s^2LC}{1+sRC}\\right|',
  source: `${SOURCES.erickson10}, section 10.3, table 10.1`,
  assumption: 'No losses, no ESR, continuous conduction.',
  inputs: {
    load,
    duty,
    stageInductance: { symbol: 'L', name: 'inductance of the stage, phases in parallel', unit: 'H' },
    stageCapacitance: { symbol: 'C', name: 'output capacitance', unit: 'F' },
    frequency: { symbol: 'f', name: 'frequency', unit: 'Hz' },
  },
  compute: (v) => {
    const w = 2 * Math.PI * v.frequency;
    const above = Math.hypot(1 - w * w * v.stageInductance * v.stageCapacitance, (w * v.stageInductance) / v.load);
    return ((v.load / v.duty ** 2) * above) / Math.hypot(1, w * v.load * v.stageCapacitance);
  },
};
