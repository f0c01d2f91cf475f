import type { ClosedForm } from './closedForm.js';

/** Life of an electrolytic capacitor at a temperature. */
export const electrolyticLife: ClosedForm<'rated' | 'ratedTemperature' | 'temperature' | 'rise'> = {
  name: 'Life of an electrolytic capacitor',
  symbol: 'L',
  unit: 's',
  formula: 'L_0\\,2^{(T_0-T-\\Delta T)/10\\,\\mathrm{K}}',
  source: 'Doubling per 10 K (common rule, a shortcut of the Arrhenius law)',
  assumption: 'The rated temperature is that of the core. Claims beyond 15 years are not believed.',
  inputs: {
    rated: { symbol: 'L_0', name: 'rated life', unit: 's' },
    ratedTemperature: { symbol: 'T_0', name: 'rated temperature', unit: 'degC' },
    temperature: { symbol: 'T', name: 'ambient of the capacitor', unit: 'degC' },
    rise: { symbol: '\\Delta T', name: 'rise of the core by ripple current', unit: 'degC' },
  },
  compute: (v) => v.rated * 2 ** ((v.ratedTemperature - v.temperature - v.rise) / 10),
};
