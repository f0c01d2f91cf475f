import type { ClosedForm, FormulaInput } from './closedForm.js';
import { SOURCES } from './sources.js';

const vIn: FormulaInput = { symbol: 'V_\\mathrm{in}', name: 'input voltage', unit: 'V' };
const vOut: FormulaInput = { symbol: 'V_\\mathrm{out}', name: 'output voltage', unit: 'V' };
const duty: FormulaInput = { symbol: 'D', name: 'duty ratio', unit: 'ratio' };
const fSw: FormulaInput = { symbol: 'f_\\mathrm{sw}', name: 'switching frequency', unit: 'Hz' };
const inductance: FormulaInput = { symbol: 'L', name: 'inductance of one phase', unit: 'H' };
const phaseCurrent: FormulaInput = { symbol: 'I_L', name: 'average inductor current of one phase', unit: 'A' };
const loadCurrent: FormulaInput = { symbol: 'I_\\mathrm{out}', name: 'load current', unit: 'A' };
const ripple: FormulaInput = {
  symbol: '\\Delta I_L',
  name: 'inductor ripple current of one phase, peak to peak',
  unit: 'A',
};
const phases: FormulaInput = { symbol: 'N', name: 'number of phases', unit: 'count' };
const capacitance: FormulaInput = { symbol: 'C', name: 'output capacitance at its bias', unit: 'F' };

/** Duty ratio of the loss-free stage. */
export const buckIdealDuty: ClosedForm<'vIn' | 'vOut'> = {
  name: 'Ideal duty ratio of the buck',
  symbol: 'D_0',
  unit: 'ratio',
  formula: '\\frac{V_\\mathrm{out}}{V_\\mathrm{in}}',
  source: SOURCES.erickson2,
  assumption: 'No losses, continuous conduction.',
  inputs: { vIn, vOut },
  compute: (v) => v.vOut / v.vIn,
};

/** Duty ratio with switch, winding and dead-time drops; counts from the command, dead time included. */
export const buckDuty: ClosedForm<
  'vIn' | 'vOut' | 'phaseCurrent' | 'rHigh' | 'rLow' | 'rL' | 'deadShare' | 'vBody' | 'rBody'
> = {
  name: 'Duty ratio of the buck with losses',
  symbol: 'D',
  unit: 'ratio',
  formula:
    '\\frac{V_\\mathrm{out} + I_L\\left[R_L + (1-\\delta)R_\\mathrm{LS}\\right] + \\delta\\left(V_\\mathrm{in} - I_L R_\\mathrm{HS}\\right) + 2\\delta\\left(V_F + I_L R_F\\right)}{V_\\mathrm{in} - I_L\\left(R_\\mathrm{HS} - R_\\mathrm{LS}\\right)}',
  source: SOURCES.volts,
  assumption:
    'Continuous conduction, inductor current positive and taken at its average; both dead times in the body diode.',
  inputs: {
    vIn,
    vOut,
    phaseCurrent,
    rHigh: { symbol: 'R_\\mathrm{HS}', name: 'high-side on-resistance', unit: 'ohm' },
    rLow: { symbol: 'R_\\mathrm{LS}', name: 'low-side on-resistance', unit: 'ohm' },
    rL: { symbol: 'R_L', name: 'resistance in series with the inductor, its own and a sense resistor', unit: 'ohm' },
    deadShare: { symbol: '\\delta', name: 'dead time as a share of the period', unit: 'ratio' },
    vBody: { symbol: 'V_F', name: 'body diode voltage', unit: 'V' },
    rBody: { symbol: 'R_F', name: 'body diode dynamic resistance', unit: 'ohm' },
  },
  compute: (v) =>
    (v.vOut +
      v.phaseCurrent * (v.rL + (1 - v.deadShare) * v.rLow) +
      v.deadShare * (v.vIn - v.phaseCurrent * v.rHigh) +
      2 * v.deadShare * (v.vBody + v.phaseCurrent * v.rBody)) /
    (v.vIn - v.phaseCurrent * (v.rHigh - v.rLow)),
};

/** Peak-to-peak inductor ripple current. */
export const buckRipple: ClosedForm<'vOut' | 'duty' | 'fSw' | 'inductance'> = {
  name: 'Inductor ripple current of the buck',
  symbol: '\\Delta I_L',
  unit: 'A',
  formula: '\\frac{V_\\mathrm{out}\\,(1-D)}{f_\\mathrm{sw}\\,L}',
  source: SOURCES.erickson2,
  assumption:
    'No drops in the off-time, output voltage constant over a period. Peak to peak; sources that call half of it the ripple differ by 2.',
  inputs: { vOut, duty, fSw, inductance },
  compute: (v) => (v.vOut * (1 - v.duty)) / (v.fSw * v.inductance),
};

/** Inductance that gives a wanted ripple ratio. */
export const buckInductance: ClosedForm<'vOut' | 'duty' | 'fSw' | 'ratio' | 'phaseCurrent'> = {
  name: 'Inductance from the ripple ratio',
  symbol: 'L',
  unit: 'H',
  formula: '\\frac{V_\\mathrm{out}\\,(1-D)}{f_\\mathrm{sw}\\,r\\,I_L}',
  source: `${SOURCES.erickson2}, solved for L; the ripple ratio itself is common practice`,
  assumption: 'Taken at the highest input voltage, where the ripple of a buck is largest, and at full load.',
  inputs: {
    vOut,
    duty,
    fSw,
    ratio: { symbol: 'r', name: 'inductor ripple ratio, peak to peak over average', unit: 'ratio' },
    phaseCurrent,
  },
  compute: (v) => (v.vOut * (1 - v.duty)) / (v.fSw * v.ratio * v.phaseCurrent),
};

export const peakCurrent: ClosedForm<'phaseCurrent' | 'ripple'> = {
  name: 'Peak inductor current',
  symbol: '\\hat I_L',
  unit: 'A',
  formula: 'I_L + \\tfrac{1}{2}\\Delta I_L',
  source: SOURCES.erickson2,
  assumption: 'Triangular ripple.',
  inputs: { phaseCurrent, ripple },
  compute: (v) => v.phaseCurrent + v.ripple / 2,
};

export const valleyCurrent: ClosedForm<'phaseCurrent' | 'ripple'> = {
  name: 'Valley inductor current',
  symbol: '\\check I_L',
  unit: 'A',
  formula: 'I_L - \\tfrac{1}{2}\\Delta I_L',
  source: SOURCES.erickson2,
  assumption: 'Triangular ripple.',
  inputs: { phaseCurrent, ripple },
  compute: (v) => v.phaseCurrent - v.ripple / 2,
};

export const inductorRms: ClosedForm<'phaseCurrent' | 'ripple'> = {
  name: 'Inductor RMS current',
  symbol: 'I_{L,\\mathrm{rms}}',
  unit: 'A',
  formula: '\\sqrt{I_L^2 + \\tfrac{1}{12}\\Delta I_L^2}',
  source: SOURCES.waveformRms,
  assumption: 'Triangular ripple.',
  inputs: { phaseCurrent, ripple },
  compute: (v) => Math.hypot(v.phaseCurrent, v.ripple / Math.sqrt(12)),
};

export const outputCapacitorRms: ClosedForm<'ripple'> = {
  name: 'Output capacitor RMS current of one phase',
  symbol: 'I_{C,\\mathrm{rms}}',
  unit: 'A',
  formula: '\\frac{\\Delta I_\\Sigma}{2\\sqrt{3}}',
  source: SOURCES.waveformRms,
  assumption: 'The capacitors take the whole triangular ripple of the summed phases.',
  inputs: { ripple: { symbol: '\\Delta I_\\Sigma', name: 'ripple of the summed inductor currents', unit: 'A' } },
  compute: (v) => v.ripple / Math.sqrt(12),
};

/** RMS current of the input capacitors of one or more interleaved phases. */
export const buckInputCapacitorRms: ClosedForm<'loadCurrent' | 'duty' | 'phases' | 'ripple'> = {
  name: 'Input capacitor RMS current of the interleaved buck',
  symbol: 'I_{\\mathrm{Cin,rms}}',
  unit: 'A',
  formula:
    '\\sqrt{I_\\mathrm{out}^2\\,x\\,y + \\frac{N\\,\\Delta I_L^2}{12\\,D^2}\\left[(m+1)^2x^3 + m^2y^3\\right]},\\quad x = D-\\tfrac{m}{N},\\; y = \\tfrac{m+1}{N}-D,\\; m=\\lfloor N D\\rfloor',
  source:
    'Interleaved buck input current, by waveform integration (derived; for one phase the standard √(D(1−D)) form)',
  assumption: 'The source supplies direct current only; the ripple term is referred to the ripple of one phase.',
  inputs: { loadCurrent, duty, phases, ripple },
  compute: ({ loadCurrent: i, duty: d, phases: n, ripple: r }) => {
    const m = Math.floor(n * d + 1e-12);
    const x = d - m / n;
    const y = (m + 1) / n - d;
    return Math.sqrt(i * i * x * y + ((n * r * r) / (12 * d * d)) * ((m + 1) ** 2 * x ** 3 + m ** 2 * y ** 3));
  },
};

/** Ripple of the summed phase currents over the ripple of one phase. */
export const summedRipple: ClosedForm<'ripple' | 'duty' | 'phases'> = {
  name: 'Ripple of the summed inductor currents',
  symbol: '\\Delta I_\\Sigma',
  unit: 'A',
  formula:
    '\\Delta I_L\\,\\frac{N\\left(D-\\frac{m}{N}\\right)\\left(\\frac{m+1}{N}-D\\right)}{D(1-D)},\\quad m=\\lfloor N D\\rfloor',
  source: SOURCES.interleaving,
  assumption: 'Equal phases, evenly interleaved; normalised to the ripple of one phase.',
  inputs: { ripple, duty, phases },
  compute: ({ ripple: r, duty: d, phases: n }) => {
    const m = Math.floor(n * d + 1e-12);
    return (r * n * (d - m / n) * ((m + 1) / n - d)) / (d * (1 - d));
  },
};

/** Output ripple of a triangle into C and ESR: exact peak to peak of the two together. */
export const outputRipple: ClosedForm<'ripple' | 'duty' | 'phases' | 'fSw' | 'capacitance' | 'esr'> = {
  name: 'Output ripple of a capacitor with ESR',
  symbol: '\\Delta V_\\mathrm{out}',
  unit: 'V',
  formula:
    '\\sum_{k=1}^{2}\\Delta I_\\Sigma\\begin{cases}\\dfrac{T_k}{8C}+\\dfrac{R_C^2C}{2T_k} & 2R_CC<T_k\\\\[2ex] \\dfrac{R_C}{2} & \\text{else}\\end{cases}',
  source:
    'Parabola of the charge plus the ESR step of the same triangle, peak of each slope found exactly (derived here)',
  assumption:
    'All ripple current in one capacitor with series resistance; T₁ and T₂ are the rising and falling times of the summed triangle.',
  inputs: {
    ripple: { symbol: '\\Delta I_\\Sigma', name: 'ripple of the summed inductor currents', unit: 'A' },
    duty,
    phases,
    fSw,
    capacitance,
    esr: { symbol: 'R_C', name: 'equivalent series resistance of the output capacitance', unit: 'ohm' },
  },
  compute: ({ ripple: r, duty: d, phases: n, fSw: f, capacitance: c, esr }) => {
    const m = Math.floor(n * d + 1e-12);
    const rise = (d - m / n) / f;
    const fall = ((m + 1) / n - d) / f;
    // On each slope, i runs linearly over ±r/2 in time t; v = esr·i + charge/C has its turning point at esr·C from the middle.
    const half = (t: number): number =>
      t === 0 ? (esr * r) / 2 : 2 * esr * c < t ? r * (t / (8 * c) + (esr * esr * c) / (2 * t)) : (r * esr) / 2;
    return half(rise) + half(fall);
  },
};

/** RMS current of a switch that carries the inductor current for a share of the period. */
export const switchRms: ClosedForm<'share' | 'phaseCurrent' | 'ripple'> = {
  name: 'Switch RMS current',
  symbol: 'I_{\\mathrm{rms}}',
  unit: 'A',
  formula: '\\sqrt{\\alpha\\left(I_L^2 + \\tfrac{1}{12}\\Delta I_L^2\\right)}',
  source: SOURCES.waveformRms,
  assumption: 'Trapezoidal current during the conducting share of the period.',
  inputs: {
    share: { symbol: '\\alpha', name: 'conducting share of the period', unit: 'ratio' },
    phaseCurrent,
    ripple,
  },
  compute: (v) => Math.sqrt(v.share * (v.phaseCurrent ** 2 + v.ripple ** 2 / 12)),
};
