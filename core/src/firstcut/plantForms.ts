import type { ClosedForm, FormulaInput } from './closedForm.js';

const TABLE =
  'R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 8, Table 8.2 (canonical small-signal parameters)';
const LOSSLESS =
  'Continuous conduction, resistive load, no losses but those named; phases as one of the inductance of one over their number.';

const inputVoltage: FormulaInput = { symbol: 'V_g', name: 'input voltage', unit: 'V' };
const outputVoltage: FormulaInput = { symbol: 'V', name: 'output voltage, magnitude', unit: 'V' };
const duty: FormulaInput = { symbol: 'D', name: 'duty ratio', unit: 'ratio' };
const complement: FormulaInput = {
  symbol: "D'",
  name: 'share of the period in which the inductor feeds the output: one for the buck',
  unit: 'ratio',
};
const inductance: FormulaInput = { symbol: 'L', name: 'inductance, all phases together', unit: 'H' };
const capacitance: FormulaInput = { symbol: 'C', name: 'output capacitance', unit: 'F' };
const resistance: FormulaInput = { symbol: 'R', name: 'load resistance', unit: 'ohm' };
const series: FormulaInput = {
  symbol: 'R_L',
  name: 'resistance in series with the inductor, switches weighted by their share',
  unit: 'ohm',
};
const esr: FormulaInput = { symbol: 'r_C', name: 'ESR of the output capacitor', unit: 'ohm' };

/** Duty ratio to output at low frequency, V. For the buck with losses: V_g R/(R + R_L). */
export const buckDutyGain: ClosedForm<'inputVoltage' | 'resistance' | 'series'> = {
  name: 'Duty to output, low frequency',
  symbol: 'G_{d0}',
  unit: 'V',
  formula: 'V_g\\,\\frac{R}{R+R_L}',
  source: `${TABLE}, buck, with the divider of load and series resistance`,
  assumption: LOSSLESS,
  inputs: { inputVoltage, resistance, series },
  compute: (v) => (v.inputVoltage * v.resistance) / (v.resistance + v.series),
};

/** Duty ratio to output of boost (V/D′) and buck-boost (V/(D D′)) at low frequency, V. */
export const steppedDutyGain: ClosedForm<'outputVoltage' | 'complement' | 'share'> = {
  name: 'Duty to output, low frequency',
  symbol: 'G_{d0}',
  unit: 'V',
  formula: "\\frac{V}{s\\,D'},\\quad s = 1\\text{ (boost)},\\; D\\text{ (buck-boost)}",
  source: `${TABLE}, boost and buck-boost`,
  assumption: LOSSLESS,
  inputs: {
    outputVoltage,
    complement,
    share: { symbol: 's', name: 'one for the boost, the duty ratio for the buck-boost', unit: 'ratio' },
  },
  compute: (v) => v.outputVoltage / (v.share * v.complement),
};

/** Resonance of the output filter, Hz, seen through the share of the period in which the inductor feeds it. */
export const plantResonance: ClosedForm<'complement' | 'inductance' | 'capacitance' | 'resistance' | 'series' | 'esr'> =
  {
    name: 'Resonance of the plant',
    symbol: 'f_0',
    unit: 'Hz',
    formula: "\\frac{1}{2\\pi}\\sqrt{\\frac{D'^2R+R_L}{LC\\,(R+r_C)}}",
    source: `${TABLE}, with series resistance and ESR (derived here from the averaged circuit)`,
    assumption: `${LOSSLESS} The ESR in the sum is exact for the buck.`,
    inputs: { complement, inductance, capacitance, resistance, series, esr },
    compute: (v) =>
      Math.sqrt(
        (v.complement ** 2 * v.resistance + v.series) / (v.inductance * v.capacitance * (v.resistance + v.esr)),
      ) /
      (2 * Math.PI),
  };

/** Quality factor of that resonance. */
export const plantQuality: ClosedForm<'complement' | 'inductance' | 'capacitance' | 'resistance' | 'series' | 'esr'> = {
  name: 'Quality factor of the resonance',
  symbol: 'Q',
  unit: 'ratio',
  formula:
    "\\frac{\\sqrt{a_2}}{a_1},\\; a_1 = \\frac{C\\,(r_CR_t+D'^2R\\,r_C+R_LR)+L}{R_t},\\; a_2 = \\frac{LC(R+r_C)}{R_t},\\; R_t = D'^2R+R_L",
  source: `${TABLE}, with series resistance and ESR (derived here from the averaged circuit)`,
  assumption: `${LOSSLESS} The ESR in the sum is exact for the buck.`,
  inputs: { complement, inductance, capacitance, resistance, series, esr },
  compute: (v) => {
    const total = v.complement ** 2 * v.resistance + v.series;
    const a1 =
      (v.capacitance * (v.esr * v.complement ** 2 * v.resistance + v.series * (v.resistance + v.esr)) + v.inductance) /
      total;
    const a2 = (v.inductance * v.capacitance * (v.resistance + v.esr)) / total;
    return Math.sqrt(a2) / a1;
  },
};

/** Zero of the output capacitor's ESR, Hz. */
export const esrZero: ClosedForm<'capacitance' | 'esr'> = {
  name: 'ESR zero',
  symbol: 'f_\\mathrm{ESR}',
  unit: 'Hz',
  formula: '\\frac{1}{2\\pi r_CC}',
  source: TABLE,
  assumption: 'One bank, or the one that carries the ripple.',
  inputs: { capacitance, esr },
  compute: (v) => 1 / (2 * Math.PI * v.esr * v.capacitance),
};

/** What a disturbance of the inductor current is multiplied by each period under peak current mode. */
export const currentLoopMultiplier: ClosedForm<'duty' | 'slopeShare'> = {
  name: 'Multiplier of the current loop',
  symbol: '\\alpha',
  unit: 'ratio',
  formula: "-\\frac{1-m_a/m_2}{D'/D+m_a/m_2}",
  source:
    'R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 12, section 12.1 (oscillation for D > 0.5)',
  assumption: 'The output stands still: a large output capacitor, a slow voltage loop.',
  inputs: {
    duty,
    slopeShare: { symbol: 'm_a/m_2', name: 'artificial ramp over the falling slope', unit: 'ratio' },
  },
  compute: (v) => -(1 - v.slopeShare) / ((1 - v.duty) / v.duty + v.slopeShare),
};

/** Quality factor of the pair of poles at half the switching frequency under peak current mode. */
export const halfFrequencyQuality: ClosedForm<'duty' | 'slopeShare'> = {
  name: 'Quality factor at half the switching frequency',
  symbol: 'Q_p',
  unit: 'ratio',
  formula: "\\frac{1}{\\pi\\,(m_cD'-\\tfrac12)},\\quad m_c = 1+\\frac{m_a}{m_1} = 1+\\frac{m_a}{m_2}\\,\\frac{D}{D'}",
  source: 'R. B. Ridley, A New, Continuous-Time Model for Current-Mode Control, IEEE Trans. Power Electron. 6 (1991)',
  assumption: 'Negative where pulses alternate. The voltage loop is slow.',
  inputs: {
    duty,
    slopeShare: { symbol: 'm_a/m_2', name: 'artificial ramp over the falling slope', unit: 'ratio' },
  },
  compute: (v) => {
    const complement = 1 - v.duty;
    // The rising slope is D'/D times the falling one.
    const ramp = (v.slopeShare * v.duty) / complement;
    return 1 / (Math.PI * ((1 + ramp) * complement - 1 / 2));
  },
};
