import type { ClosedForm } from './closedForm.js';

const SOURCE =
  'R. Redl, J. Sun, Ripple-Based Control of Switching Regulators – An Overview, IEEE Trans. Power Electron. 24 (2009)';

/** The ESR that a ripple injection network adds for the comparator, ohm. */
export const injectedEsr: ClosedForm<'inductance' | 'resistance' | 'capacitance'> = {
  name: 'ESR that the ripple injection stands for',
  symbol: 'r_\\mathrm{inj}',
  unit: 'ohm',
  formula: '\\frac{L}{R_\\mathrm{inj}C_\\mathrm{inj}}',
  source: `${SOURCE}; derived here: both integrate the voltage across the inductor`,
  assumption: 'The coupling capacitor hands the whole ripple to the feedback node.',
  inputs: {
    inductance: { symbol: 'L', name: 'inductance', unit: 'H' },
    resistance: { symbol: 'R_\\mathrm{inj}', name: 'ripple resistor', unit: 'ohm' },
    capacitance: { symbol: 'C_\\mathrm{inj}', name: 'ripple capacitor', unit: 'F' },
  },
  compute: (v) => v.inductance / (v.resistance * v.capacitance),
};

/** How far constant on-time control is from alternating pulses: at one they begin. */
export const onTimeStability: ClosedForm<'esr' | 'injected' | 'capacitance' | 'onTime'> = {
  name: 'Ripple over its limit',
  symbol: 'm',
  unit: 'ratio',
  formula: '\\frac{(r_C+r_\\mathrm{inj})\\,C}{t_\\mathrm{on}/2}',
  source: `${SOURCE}: stable above one`,
  assumption:
    'One output bank without series inductance, a comparator without delay, a light load. Practice wants several times the limit (common practice).',
  inputs: {
    esr: { symbol: 'r_C', name: 'ESR of the output capacitor', unit: 'ohm' },
    injected: { symbol: 'r_\\mathrm{inj}', name: 'ESR that the ripple injection stands for', unit: 'ohm' },
    capacitance: { symbol: 'C', name: 'output capacitance', unit: 'F' },
    onTime: { symbol: 't_\\mathrm{on}', name: 'on-time', unit: 's' },
  },
  compute: (v) => ((v.esr + v.injected) * v.capacitance) / (v.onTime / 2),
};
