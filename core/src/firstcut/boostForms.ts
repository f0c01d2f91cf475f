import type { ClosedForm, FormulaInput } from './closedForm.js';
import { SOURCES } from './sources.js';

const vIn: FormulaInput = { symbol: 'V_\\mathrm{in}', name: 'input voltage', unit: 'V' };
const vOut: FormulaInput = { symbol: 'V_\\mathrm{out}', name: 'output voltage', unit: 'V' };
const duty: FormulaInput = { symbol: 'D', name: 'duty ratio', unit: 'ratio' };
const fSw: FormulaInput = { symbol: 'f_\\mathrm{sw}', name: 'switching frequency', unit: 'Hz' };
const inductance: FormulaInput = { symbol: 'L', name: 'inductance of one phase', unit: 'H' };
const phaseCurrent: FormulaInput = { symbol: 'I_L', name: 'average inductor current of one phase', unit: 'A' };
const loadCurrent: FormulaInput = { symbol: 'I_\\mathrm{out}', name: 'load current', unit: 'A' };

/** Duty ratio of the loss-free boost. */
export const boostIdealDuty: ClosedForm<'vIn' | 'vOut'> = {
  name: 'Ideal duty ratio of the boost',
  symbol: 'D_0',
  unit: 'ratio',
  formula: '1-\\frac{V_\\mathrm{in}}{V_\\mathrm{out}}',
  source: SOURCES.erickson2,
  assumption: 'No losses, continuous conduction.',
  inputs: { vIn, vOut },
  compute: (v) => 1 - v.vIn / v.vOut,
};

/** Duty ratio of the loss-free buck-boost. */
export const buckBoostIdealDuty: ClosedForm<'vIn' | 'vOut'> = {
  name: 'Ideal duty ratio of the buck-boost',
  symbol: 'D_0',
  unit: 'ratio',
  formula: '\\frac{V_\\mathrm{out}}{V_\\mathrm{in}+V_\\mathrm{out}}',
  source: SOURCES.erickson2,
  assumption: 'No losses, continuous conduction. The output voltage as a magnitude.',
  inputs: { vIn, vOut },
  compute: (v) => v.vOut / (v.vIn + v.vOut),
};

/** Duty ratio of the output leg of a loss-free four-switch stage whose input leg runs at a fixed duty ratio. */
export const transitionIdealDuty: ClosedForm<'vIn' | 'vOut' | 'inputDuty'> = {
  name: 'Ideal duty ratio of the output leg in the transition region',
  symbol: 'D_0',
  unit: 'ratio',
  formula: '1-\\frac{D_\\mathrm{in}\\,V_\\mathrm{in}}{V_\\mathrm{out}}',
  source: `${SOURCES.erickson2}: volt-second balance of the inductor between two legs`,
  assumption: 'No losses, continuous conduction.',
  inputs: {
    vIn,
    vOut,
    inputDuty: { symbol: 'D_\\mathrm{in}', name: 'duty ratio of the input leg', unit: 'ratio' },
  },
  compute: (v) => 1 - (v.inputDuty * v.vIn) / v.vOut,
};

/** Highest conversion ratio of a boost whose only loss is the resistance of its inductor. */
export const boostPeakRatio: ClosedForm<'load' | 'resistance'> = {
  name: 'Highest conversion ratio with inductor resistance',
  symbol: 'M_\\mathrm{max}',
  unit: 'ratio',
  formula: '\\tfrac12\\sqrt{\\frac{R}{R_L}}',
  source: `${SOURCES.erickson3}, boost with inductor copper loss: the maximum of M(D), at D = 1 − √(R_L/R)`,
  assumption: 'The inductor resistance is the only loss; small ripple, one phase.',
  inputs: {
    load: { symbol: 'R', name: 'load resistance', unit: 'ohm' },
    resistance: {
      symbol: 'R_L',
      name: 'resistance in series with the inductor, its own and a sense resistor',
      unit: 'ohm',
    },
  },
  compute: (v) => Math.sqrt(v.load / v.resistance) / 2,
};

/** Ripple of an inductor that stands across the input during the on-time: boost and buck-boost. */
export const onTimeRipple: ClosedForm<'vIn' | 'duty' | 'fSw' | 'inductance'> = {
  name: 'Inductor ripple current from the on-time',
  symbol: '\\Delta I_L',
  unit: 'A',
  formula: '\\frac{V_\\mathrm{in}\\,D}{f_\\mathrm{sw}\\,L}',
  source: SOURCES.erickson2,
  assumption: 'No drops in the on-time. Peak to peak.',
  inputs: { vIn, duty, fSw, inductance },
  compute: (v) => (v.vIn * v.duty) / (v.fSw * v.inductance),
};

/** Inductance from the ripple ratio where the inductor stands across a voltage during the on-time. */
export const onTimeInductance: ClosedForm<'onVoltage' | 'duty' | 'fSw' | 'ratio' | 'phaseCurrent'> = {
  name: 'Inductance from the ripple ratio',
  symbol: 'L',
  unit: 'H',
  formula: '\\frac{V_\\mathrm{on}\\,D}{f_\\mathrm{sw}\\,r\\,I_L}',
  source: `${SOURCES.erickson2}, solved for L; the ripple ratio itself is common practice`,
  assumption: 'Taken at full load and the input voltage of the range at which the ratio is largest.',
  inputs: {
    onVoltage: { symbol: 'V_\\mathrm{on}', name: 'voltage across the inductor during the on-time', unit: 'V' },
    duty,
    fSw,
    ratio: { symbol: 'r', name: 'inductor ripple ratio, peak to peak over average', unit: 'ratio' },
    phaseCurrent,
  },
  compute: (v) => (v.onVoltage * v.duty) / (v.fSw * v.ratio * v.phaseCurrent),
};

/** Output capacitance of a stage whose output capacitor alone feeds the load during the on-time. */
export const pulsedOutputCapacitance: ClosedForm<'loadCurrent' | 'duty' | 'fSw' | 'outputRipple'> = {
  name: 'Output capacitance of a pulsed output',
  symbol: 'C',
  unit: 'F',
  formula: '\\frac{I_\\mathrm{out}\\,D}{f_\\mathrm{sw}\\,\\Delta V}',
  source: `${SOURCES.erickson2}: boost output ripple`,
  assumption: 'ESR neglected; interleaving neglected, which lies on the safe side.',
  inputs: {
    loadCurrent,
    duty,
    fSw,
    outputRipple: { symbol: '\\Delta V', name: 'output ripple, peak to peak', unit: 'V' },
  },
  compute: (v) => (v.loadCurrent * v.duty) / (v.fSw * v.outputRipple),
};

/** Capacitance that takes a triangular ripple current. */
export const triangleCapacitance: ClosedForm<'ripple' | 'fSw' | 'limit'> = {
  name: 'Capacitance for a triangular ripple current',
  symbol: 'C',
  unit: 'F',
  formula: '\\frac{\\Delta I}{8\\,f_\\mathrm{sw}\\,\\Delta V}',
  source: SOURCES.erickson2,
  assumption: 'ESR neglected.',
  inputs: {
    ripple: { symbol: '\\Delta I', name: 'ripple current, peak to peak', unit: 'A' },
    fSw,
    limit: { symbol: '\\Delta V', name: 'ripple voltage, peak to peak', unit: 'V' },
  },
  compute: (v) => v.ripple / (8 * v.fSw * v.limit),
};

/** Capacitance that feeds a pulsed current drawn for a share of the period. */
export const pulsedCapacitance: ClosedForm<'pulse' | 'duty' | 'fSw' | 'limit'> = {
  name: 'Capacitance for a pulsed current',
  symbol: 'C',
  unit: 'F',
  formula: '\\frac{I\\,D(1-D)}{f_\\mathrm{sw}\\,\\Delta V}',
  source: `${SOURCES.erickson2}: charge balance of the capacitor`,
  assumption: 'Flat pulses, the source supplies direct current only, ESR neglected.',
  inputs: {
    pulse: { symbol: 'I', name: 'height of the current pulse, all phases together', unit: 'A' },
    duty,
    fSw,
    limit: { symbol: '\\Delta V', name: 'ripple voltage, peak to peak', unit: 'V' },
  },
  compute: (v) => (v.pulse * v.duty * (1 - v.duty)) / (v.fSw * v.limit),
};
