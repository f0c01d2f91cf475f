import type { ClosedForm } from './closedForm.js';

/** Right-half-plane zero of a boost (`share` one) or buck-boost stage (`share` the duty ratio), Hz. */
export const rightHalfPlaneZero: ClosedForm<'resistance' | 'duty' | 'inductance' | 'share'> = {
  name: 'Right-half-plane zero',
  symbol: 'f_z',
  unit: 'Hz',
  formula: '\\frac{(1-D)^2\\,R}{2\\pi\\,s\\,L},\\quad s = 1\\text{ (boost)},\\; D\\text{ (buck-boost)}',
  source:
    'R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 8 (canonical small-signal parameters of boost and buck-boost)',
  assumption:
    'Continuous conduction, no losses; interleaved phases count as one of the inductance of one over their number.',
  inputs: {
    resistance: { symbol: 'R', name: 'load resistance', unit: 'ohm' },
    duty: { symbol: 'D', name: 'duty ratio', unit: 'ratio' },
    inductance: { symbol: 'L', name: 'inductance, all phases together', unit: 'H' },
    share: { symbol: 's', name: 'one for the boost, the duty ratio for the buck-boost', unit: 'ratio' },
  },
  compute: (v) => ((1 - v.duty) ** 2 * v.resistance) / (2 * Math.PI * v.share * v.inductance),
};

/**
 * Share of a right-half-plane zero below which a crossover should stay, for its lag would else eat the phase margin. Between a third
 * and a tenth are in use; a stage may state its own. Common practice. @public
 */
export const RIGHT_HALF_PLANE_ZERO_SHARE = 1 / 5;
