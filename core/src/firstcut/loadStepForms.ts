import type { ClosedForm, FormulaInput } from './closedForm.js';

const CHARGE_BALANCE = 'Charge balance of the inductor ramp, derived here';
const inductance: FormulaInput = { symbol: 'L', name: 'inductance, of all phases in parallel', unit: 'H' };
const step: FormulaInput = { symbol: '\\Delta I', name: 'load step', unit: 'A' };
const deviation: FormulaInput = { symbol: '\\Delta V', name: 'deviation allowed', unit: 'V' };
const capacitance: FormulaInput = { symbol: 'C', name: 'output capacitance at its bias', unit: 'F' };
const rampVoltage: FormulaInput = {
  symbol: 'V_L',
  name: 'voltage that drives the inductor current after the step',
  unit: 'V',
};

/** Capacitance that holds a load step while the inductor current ramps at its limit. */
export const slewLimitedCapacitance: ClosedForm<'inductance' | 'step' | 'deviation' | 'rampVoltage'> = {
  name: 'Capacitance for a load step, limited by the slope of the inductor current',
  symbol: 'C',
  unit: 'F',
  formula: '\\frac{L\\,\\Delta I^2}{2\\,\\Delta V\\,V_L}',
  source: CHARGE_BALANCE,
  assumption:
    'Triangle of charge, no delay of the control, no ESR. The factor 2 belongs there: the trade version without it doubles the capacitance, which is only a hidden margin.',
  inputs: { inductance, step, deviation, rampVoltage },
  compute: (v) => (v.inductance * v.step ** 2) / (2 * v.deviation * v.rampVoltage),
};

/** Capacitance that takes the energy of the inductor when the load goes to nothing. */
export const energyCapacitance: ClosedForm<'inductance' | 'step' | 'deviation' | 'vOut'> = {
  name: 'Capacitance for unloading, by energy',
  symbol: 'C',
  unit: 'F',
  formula: '\\frac{L\\,\\Delta I^2}{(V_\\mathrm{out}+\\Delta V)^2-V_\\mathrm{out}^2}',
  source: 'Energy balance of inductor and capacitor, ½LI² = ½C(V₂² − V₁²), derived here',
  assumption: 'Unloading to no load, the switch node at ground meanwhile, no delay, no ESR.',
  inputs: {
    inductance,
    step,
    deviation,
    vOut: { symbol: 'V_\\mathrm{out}', name: 'output voltage', unit: 'V' },
  },
  compute: (v) => (v.inductance * v.step ** 2) / ((v.vOut + v.deviation) ** 2 - v.vOut ** 2),
};

/** Overshoot when a load step down leaves a load. */
export const unloadingOvershoot: ClosedForm<'inductance' | 'step' | 'capacitance' | 'vOut'> = {
  name: 'Overshoot of unloading',
  symbol: '\\Delta V',
  unit: 'V',
  formula: '\\sqrt{V_\\mathrm{out}^2+\\frac{L}{C}\\Delta I^2}-V_\\mathrm{out}',
  source: 'Exact discharge of the inductor into the capacitor with a constant load current, derived here',
  assumption: 'The switch node at ground until the current meets the load; no delay, no ESR.',
  inputs: { inductance, step, capacitance, vOut: { symbol: 'V_\\mathrm{out}', name: 'output voltage', unit: 'V' } },
  compute: (v) => Math.sqrt(v.vOut ** 2 + (v.inductance / v.capacitance) * v.step ** 2) - v.vOut,
};

/** Capacitance from the output impedance at the crossover of the loop. */
export const bandwidthCapacitance: ClosedForm<'step' | 'crossover' | 'deviation'> = {
  name: 'Capacitance for a load step, limited by the bandwidth of the loop',
  symbol: 'C',
  unit: 'F',
  formula: '\\frac{\\Delta I}{2\\pi f_c\\,\\Delta V}',
  source: 'Output impedance at crossover (standard estimate)',
  assumption:
    'Holds to about a fifth for usual phase margins; no ESR. The slope limit is looked at besides: the larger counts.',
  inputs: { step, crossover: { symbol: 'f_c', name: 'crossover frequency', unit: 'Hz' }, deviation },
  compute: (v) => v.step / (2 * Math.PI * v.crossover * v.deviation),
};

/** Deviation of a load step with capacitance and ESR, time-aligned. */
export const stepDeviation: ClosedForm<'step' | 'inductance' | 'rampVoltage' | 'capacitance' | 'esr'> = {
  name: 'Deviation of a load step with ESR',
  symbol: '\\Delta V',
  unit: 'V',
  formula:
    '\\begin{cases}\\dfrac{\\Delta I^2}{2mC}+\\dfrac{mCR^2}{2}&RC<\\dfrac{\\Delta I}{m}\\\\R\\,\\Delta I&\\text{else}\\end{cases},\\;m=\\frac{V_L}{L}',
  source: 'Linear ramp of the inductor current into C and ESR, derived here',
  assumption:
    'An instant edge of the load, no delay, no ESL. Adding the step of the ESR and the dip of the charge straight overstates it: they do not peak together.',
  inputs: {
    step,
    inductance,
    rampVoltage,
    capacitance,
    esr: { symbol: 'R', name: 'ESR of the output capacitors', unit: 'ohm' },
  },
  compute: (v) => {
    const slope = v.rampVoltage / v.inductance;
    if (v.esr * v.capacitance >= v.step / slope) return v.esr * v.step;
    return v.step ** 2 / (2 * slope * v.capacitance) + (slope * v.capacitance * v.esr ** 2) / 2;
  },
};
