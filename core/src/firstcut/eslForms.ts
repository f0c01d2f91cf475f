import type { ClosedForm, FormulaInput } from './closedForm.js';

const esl: FormulaInput = { symbol: 'L_\\mathrm{ESL}', name: 'series inductance of the banks in parallel', unit: 'H' };

/** Step of the capacitor voltage at the edges, where the inductor current flows on and only its slope changes. */
export const eslStep: ClosedForm<'esl' | 'driving' | 'inductance'> = {
  name: 'Step in the ESL at each edge',
  symbol: '\\Delta V',
  unit: 'V',
  formula: 'V\\,\\frac{L_\\mathrm{ESL}}{L+L_\\mathrm{ESL}}',
  source: 'Inductive divider of inductor and ESL (definition)',
  assumption: 'The capacitors take all of the change of slope; other phases do not switch at the same instant.',
  inputs: {
    esl,
    driving: { symbol: 'V', name: 'voltage by which the switch node steps', unit: 'V' },
    inductance: { symbol: 'L', name: 'inductance of one phase', unit: 'H' },
  },
  compute: (v) => (v.driving * v.esl) / (v.inductance + v.esl),
};

/** Spike of the capacitor voltage where a switch steps the current through it. */
export const eslSpike: ClosedForm<'esl' | 'current' | 'time'> = {
  name: 'Spike in the ESL at each edge',
  symbol: '\\hat V',
  unit: 'V',
  formula: 'L_\\mathrm{ESL}\\,\\frac{I}{t}',
  source: 'Definition of inductance; the time of the edge is common practice until the switches are chosen',
  assumption:
    'The current moves in a straight line over the edge. The steady state leaves the spike out: its edges take no time.',
  inputs: {
    esl,
    current: { symbol: 'I', name: 'current the switch steps', unit: 'A' },
    time: { symbol: 't', name: 'time of the edge', unit: 's' },
  },
  compute: (v) => (v.esl * v.current) / v.time,
};
