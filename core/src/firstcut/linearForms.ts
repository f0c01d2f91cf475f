import type { ClosedForm, FormulaInput } from './closedForm.js';

const vIn: FormulaInput = { symbol: 'V_\\mathrm{in}', name: 'input voltage', unit: 'V' };
const vOut: FormulaInput = { symbol: 'V_\\mathrm{out}', name: 'output voltage', unit: 'V' };
const current: FormulaInput = { symbol: 'I_\\mathrm{out}', name: 'load current', unit: 'A' };
const source = 'Linear series regulator, energy balance (standard)';

/** Efficiency of the linear series regulator that a switching stage is compared with. */
export const linearEfficiency: ClosedForm<'vIn' | 'vOut' | 'current' | 'quiescent'> = {
  name: 'Efficiency of a linear regulator',
  symbol: '\\eta',
  unit: 'ratio',
  formula: '\\frac{V_\\mathrm{out}\\,I_\\mathrm{out}}{V_\\mathrm{in}\\,(I_\\mathrm{out}+I_q)}',
  source,
  assumption: 'The output lies below the input by more than the drop-out voltage.',
  inputs: { vIn, vOut, current, quiescent: { symbol: 'I_q', name: 'quiescent current', unit: 'A' } },
  compute: (v) => (v.vOut * v.current) / (v.vIn * (v.current + v.quiescent)),
};

/** Power that the linear series regulator turns into heat, W. */
export const linearDissipation: ClosedForm<'vIn' | 'vOut' | 'current' | 'quiescent'> = {
  name: 'Dissipation of a linear regulator',
  symbol: 'P',
  unit: 'W',
  formula: '(V_\\mathrm{in}-V_\\mathrm{out})\\,I_\\mathrm{out} + V_\\mathrm{in}\\,I_q',
  source,
  assumption: 'The output lies below the input by more than the drop-out voltage.',
  inputs: { vIn, vOut, current, quiescent: { symbol: 'I_q', name: 'quiescent current', unit: 'A' } },
  compute: (v) => (v.vIn - v.vOut) * v.current + v.vIn * v.quiescent,
};
