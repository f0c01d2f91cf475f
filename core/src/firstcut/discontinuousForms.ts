import type { ClosedForm, FormulaInput } from './closedForm.js';
import { SOURCES } from './sources.js';

const ratio: FormulaInput = { symbol: 'M', name: 'output over input voltage, as a magnitude', unit: 'ratio' };
const k: FormulaInput = { symbol: 'K', name: '2 L f / R, the normalised load', unit: 'ratio' };
const assumption = 'Discontinuous conduction, no losses, output voltage constant over a period.';

/** K = 2Lf/R: below its critical value conduction is discontinuous. */
export const normalisedLoad: ClosedForm<'inductance' | 'fSw' | 'resistance'> = {
  name: 'Normalised load',
  symbol: 'K',
  unit: 'ratio',
  formula: '\\frac{2\\,L\\,f_\\mathrm{sw}}{R}',
  source: SOURCES.erickson5,
  assumption: 'The load taken as the resistance it equals at this point; one phase.',
  inputs: {
    inductance: { symbol: 'L', name: 'inductance', unit: 'H' },
    fSw: { symbol: 'f_\\mathrm{sw}', name: 'switching frequency', unit: 'Hz' },
    resistance: { symbol: 'R', name: 'output voltage over load current of one phase', unit: 'ohm' },
  },
  compute: (v) => (2 * v.inductance * v.fSw) / v.resistance,
};

/** Duty ratio of a discontinuous buck: M = 2/(1+√(1+4K/D²)), solved for D. */
export const buckDiscontinuousDuty: ClosedForm<'ratio' | 'k'> = {
  name: 'Duty ratio of the buck in discontinuous conduction',
  symbol: 'D',
  unit: 'ratio',
  formula: 'M\\sqrt{\\frac{K}{1-M}}',
  source: SOURCES.erickson5,
  assumption,
  inputs: { ratio, k },
  compute: (v) => v.ratio * Math.sqrt(v.k / (1 - v.ratio)),
};

/** Duty ratio of a discontinuous boost: M = (1+√(1+4D²/K))/2, solved for D. */
export const boostDiscontinuousDuty: ClosedForm<'ratio' | 'k'> = {
  name: 'Duty ratio of the boost in discontinuous conduction',
  symbol: 'D',
  unit: 'ratio',
  formula: '\\sqrt{K\\,M\\,(M-1)}',
  source: SOURCES.erickson5,
  assumption,
  inputs: { ratio, k },
  compute: (v) => Math.sqrt(v.k * v.ratio * (v.ratio - 1)),
};

/** Duty ratio of a discontinuous buck-boost: M = D/√K, solved for D. */
export const buckBoostDiscontinuousDuty: ClosedForm<'ratio' | 'k'> = {
  name: 'Duty ratio of the buck-boost in discontinuous conduction',
  symbol: 'D',
  unit: 'ratio',
  formula: 'M\\sqrt{K}',
  source: SOURCES.erickson5,
  assumption,
  inputs: { ratio, k },
  compute: (v) => v.ratio * Math.sqrt(v.k),
};

const duty: FormulaInput = { symbol: 'D', name: 'duty ratio', unit: 'ratio' };
const critical = (
  converter: string,
  formula: string,
  compute: (v: { readonly duty: number }) => number,
): ClosedForm<'duty'> => ({
  name: `Critical load of the ${converter}`,
  symbol: 'K_\\mathrm{crit}',
  unit: 'ratio',
  formula,
  source: `${SOURCES.erickson5}, table 5.2`,
  assumption: 'No losses, output voltage constant over a period.',
  inputs: { duty },
  compute,
});

/** K at which conduction becomes discontinuous, by converter. */
export const CRITICAL_LOAD = {
  buck: critical('buck', '1-D', (v) => 1 - v.duty),
  boost: critical('boost', 'D(1-D)^2', (v) => v.duty * (1 - v.duty) ** 2),
  'buck-boost': critical('buck-boost', '(1-D)^2', (v) => (1 - v.duty) ** 2),
} as const;

/** Load current at which conduction becomes discontinuous, from the critical K. */
export const boundaryCurrent: ClosedForm<'k' | 'vOut' | 'inductance' | 'fSw' | 'phases'> = {
  name: 'Boundary load',
  symbol: 'I_\\mathrm{B}',
  unit: 'A',
  formula: 'N\\,\\frac{K_\\mathrm{crit}\\,V_\\mathrm{out}}{2\\,L\\,f_\\mathrm{sw}}',
  source: `${SOURCES.erickson5}: K = K_crit solved for the load`,
  assumption: 'No losses. Phases that share nothing but input and output.',
  inputs: {
    k: { symbol: 'K_\\mathrm{crit}', name: 'critical load', unit: 'ratio' },
    vOut: { symbol: 'V_\\mathrm{out}', name: 'output voltage, as a magnitude', unit: 'V' },
    inductance: { symbol: 'L', name: 'inductance of one phase', unit: 'H' },
    fSw: { symbol: 'f_\\mathrm{sw}', name: 'switching frequency', unit: 'Hz' },
    phases: { symbol: 'N', name: 'phases', unit: 'count' },
  },
  compute: (v) => (v.phases * v.k * v.vOut) / (2 * v.inductance * v.fSw),
};
