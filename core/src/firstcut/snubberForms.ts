import type { ClosedForm } from './closedForm.js';

const BENCH =
  'RC snubber from the ringing (standard bench method; see W. McMurray, Optimum Snubbers for Power Semiconductors, IEEE Trans. Ind. Appl. 1972)';

/** Ringing frequency of a switch node, from the loop and what the switch holds. @public */
export const ringingFrequency: ClosedForm<'inductance' | 'capacitance'> = {
  name: 'Ringing frequency',
  symbol: 'f_r',
  unit: 'Hz',
  formula: '\\frac{1}{2\\pi\\sqrt{L_pC_p}}',
  source: 'Resonance (definition)',
  assumption: 'The loop of input capacitors and switches rings with the output capacitance of the open one.',
  inputs: {
    inductance: { symbol: 'L_p', name: 'inductance of the loop', unit: 'H' },
    capacitance: { symbol: 'C_p', name: 'output capacitance of the open switch', unit: 'F' },
  },
  compute: (v) => 1 / (2 * Math.PI * Math.sqrt(v.inductance * v.capacitance)),
};

/** The capacitance that rings, from the one that halves the frequency when it is added. @public */
export const ringingCapacitance: ClosedForm<'added'> = {
  name: 'Capacitance that rings',
  symbol: 'C_p',
  unit: 'F',
  formula: '\\frac{C_\\mathrm{added}}{3}',
  source: BENCH,
  assumption: 'Added capacitance that halves the frequency makes the whole four times what it was.',
  inputs: { added: { symbol: 'C_\\mathrm{added}', name: 'capacitance that halves the ringing frequency', unit: 'F' } },
  compute: (v) => v.added / 3,
};

/** The inductance that rings with a capacitance at a frequency. @public */
export const ringingInductance: ClosedForm<'frequency' | 'capacitance'> = {
  name: 'Inductance of the loop',
  symbol: 'L_p',
  unit: 'H',
  formula: '\\frac{1}{(2\\pi f_r)^2\\,C_p}',
  source: BENCH,
  assumption: 'A single resonance.',
  inputs: {
    frequency: { symbol: 'f_r', name: 'ringing frequency', unit: 'Hz' },
    capacitance: { symbol: 'C_p', name: 'capacitance that rings', unit: 'F' },
  },
  compute: (v) => 1 / ((2 * Math.PI * v.frequency) ** 2 * v.capacitance),
};

/** Snubber resistor: the characteristic resistance of what rings. @public */
export const snubberResistance: ClosedForm<'inductance' | 'capacitance'> = {
  name: 'Snubber resistor',
  symbol: 'R_s',
  unit: 'ohm',
  formula: '\\sqrt{\\frac{L_p}{C_p}}',
  source: BENCH,
  assumption: 'Near the best for a snubber capacitor of three to four times what rings.',
  inputs: {
    inductance: { symbol: 'L_p', name: 'inductance of the loop', unit: 'H' },
    capacitance: { symbol: 'C_p', name: 'capacitance that rings', unit: 'F' },
  },
  compute: (v) => Math.sqrt(v.inductance / v.capacitance),
};

/** Snubber capacitor over the capacitance that rings. Common practice: three to four. @public */
export const SNUBBER_MULTIPLE = 3;

/** Loss of an RC snubber. @public */
export const snubberLoss: ClosedForm<'capacitance' | 'voltage' | 'fSw'> = {
  name: 'Loss of the snubber',
  symbol: 'P',
  unit: 'W',
  formula: 'C_s\\,V^2\\,f_\\mathrm{sw}',
  source: BENCH,
  assumption: 'Half at each edge, both edges every period.',
  inputs: {
    capacitance: { symbol: 'C_s', name: 'snubber capacitor', unit: 'F' },
    voltage: { symbol: 'V', name: 'voltage it is charged to', unit: 'V' },
    fSw: { symbol: 'f_\\mathrm{sw}', name: 'switching frequency', unit: 'Hz' },
  },
  compute: (v) => v.capacitance * v.voltage ** 2 * v.fSw,
};
