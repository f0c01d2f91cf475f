import type { ClosedForm, FormulaInput } from '../firstcut/closedForm.js';

const DERIVED = 'derived here from the charge of a capacitor, i = C dv/dt';

/** Frequency of an oscillator that is set by a resistor and a capacitor. */
export const oscillatorFrequency: ClosedForm<'k' | 'resistance' | 'capacitance' | 'discharge'> = {
  name: 'Frequency of the oscillator',
  symbol: 'f',
  unit: 'Hz',
  formula: '\\frac{1}{RC/k+t_d}',
  source: `RC oscillator, ${DERIVED}`,
  assumption:
    'k is stated with the controller. Charged through R between two shares of its supply it is 1/ln((1−v₁)/(1−v₂)), by a mirrored current V_R/R over ΔV it is V_R/ΔV.',
  inputs: {
    k: { symbol: 'k', name: 'constant of the controller', unit: 'ratio' },
    resistance: { symbol: 'R', name: 'resistor', unit: 'ohm' },
    capacitance: { symbol: 'C', name: 'capacitor', unit: 'F' },
    discharge: { symbol: 't_d', name: 'time of discharge', unit: 's' },
  },
  compute: (v) => 1 / ((v.resistance * v.capacitance) / v.k + v.discharge),
};

/** Time in which the reference rises, where a current charges a capacitor up to it. */
export const softStartTime: ClosedForm<'capacitance' | 'reference' | 'current'> = {
  name: 'Soft-start time',
  symbol: 't_\\mathrm{ss}',
  unit: 's',
  formula: '\\frac{C\\,V_\\mathrm{ref}}{I_\\mathrm{ss}}',
  source: 'i = C dv/dt (definition)',
  assumption: 'The pin is charged by a constant current and compared with the reference.',
  inputs: {
    capacitance: { symbol: 'C', name: 'capacitor', unit: 'F' },
    reference: { symbol: 'V_\\mathrm{ref}', name: 'reference voltage', unit: 'V' },
    current: { symbol: 'I_\\mathrm{ss}', name: 'current of the pin', unit: 'A' },
  },
  compute: (v) => (v.capacitance * v.reference) / v.current,
};

/** Current that charges the output while the reference rises. */
export const chargingCurrent: ClosedForm<'output' | 'vOut' | 'capacitance' | 'reference' | 'current'> = {
  name: 'Current into the output capacitors meanwhile',
  symbol: 'I_C',
  unit: 'A',
  formula:
    '\\frac{C_\\mathrm{out}V_\\mathrm{out}}{t_\\mathrm{ss}}=\\frac{C_\\mathrm{out}V_\\mathrm{out}I_\\mathrm{ss}}{C\\,V_\\mathrm{ref}}',
  source: 'i = C dv/dt (definition)',
  assumption:
    'A straight ramp; the load comes on top. A boost first charges its output through the rectifier, and that inrush nothing limits.',
  inputs: {
    output: { symbol: 'C_\\mathrm{out}', name: 'output capacitance', unit: 'F' },
    vOut: { symbol: 'V_\\mathrm{out}', name: 'output voltage', unit: 'V' },
    ...softStartTime.inputs,
  },
  compute: (v) => (v.output * v.vOut) / softStartTime.compute(v),
};

const lockOutInputs = {
  threshold: { symbol: 'V_\\mathrm{th}', name: 'threshold, rising', unit: 'V' },
  falling: { symbol: 'V_\\mathrm{tf}', name: 'threshold, falling', unit: 'V' },
  upper: { symbol: 'R_t', name: 'upper resistor', unit: 'ohm' },
  lower: { symbol: 'R_b', name: 'lower resistor', unit: 'ohm' },
  hysteresis: { symbol: 'I_h', name: 'current into the divider while it is on', unit: 'A' },
  standing: { symbol: 'I_p', name: 'current into the divider always', unit: 'A' },
} as const satisfies Record<string, FormulaInput>;
type LockOut = keyof typeof lockOutInputs;

/** Input voltage at which a stage is let on. */
export const lockOutOn: ClosedForm<LockOut> = {
  name: 'Turns on above',
  symbol: 'V_\\mathrm{on}',
  unit: 'V',
  formula: 'V_\\mathrm{th}\\left(1+\\frac{R_t}{R_b}\\right)-I_pR_t',
  source: 'Divider with hysteresis current, derived here (Kirchhoff’s current law at the pin)',
  assumption: 'The pin itself draws nothing but what is stated.',
  inputs: lockOutInputs,
  compute: (v) => v.threshold * (1 + v.upper / v.lower) - v.standing * v.upper,
};

/** Input voltage at which it is locked out again. */
export const lockOutOff: ClosedForm<LockOut> = {
  ...lockOutOn,
  name: 'Turns off below',
  symbol: 'V_\\mathrm{off}',
  formula: 'V_\\mathrm{tf}\\left(1+\\frac{R_t}{R_b}\\right)-(I_p+I_h)R_t',
  compute: (v) => v.falling * (1 + v.upper / v.lower) - (v.standing + v.hysteresis) * v.upper,
};

const trimmerInputs = {
  reference: { symbol: 'V_\\mathrm{ref}', name: 'reference voltage', unit: 'V' },
  upper: { symbol: 'R_1', name: 'upper resistor', unit: 'ohm' },
  trimmer: { symbol: 'R_p', name: 'trimmer between them', unit: 'ohm' },
  lower: { symbol: 'R_2', name: 'lower resistor', unit: 'ohm' },
} as const satisfies Record<string, FormulaInput>;
type Trimmer = keyof typeof trimmerInputs;

/** Least output of a divider with a trimmer between its resistors, the wiper at the pin. */
export const trimmerLeast: ClosedForm<Trimmer> = {
  name: 'Output with the wiper at the top',
  symbol: 'V_\\mathrm{min}',
  unit: 'V',
  formula: 'V_\\mathrm{ref}\\left(1+\\frac{R_1}{R_2+R_p}\\right)',
  source: 'Feedback divider (definition)',
  assumption:
    'The wiper goes to the feedback pin, so that a wiper that lifts opens the loop: a resistor from the pin to ground of some megohms, or the trimmer in the lower arm, keeps the output down then.',
  inputs: trimmerInputs,
  compute: (v) => v.reference * (1 + v.upper / (v.lower + v.trimmer)),
};
export const trimmerMost: ClosedForm<Trimmer> = {
  ...trimmerLeast,
  name: 'Output with the wiper at the bottom',
  symbol: 'V_\\mathrm{max}',
  formula: 'V_\\mathrm{ref}\\left(1+\\frac{R_1+R_p}{R_2}\\right)',
  compute: (v) => v.reference * (1 + (v.upper + v.trimmer) / v.lower),
};

/** Peak current of a choke at which a comparator ends the pulse. */
export const senseLimit: ClosedForm<'threshold' | 'resistance' | 'offset' | 'gain'> = {
  name: 'Current limit',
  symbol: 'I_\\mathrm{lim}',
  unit: 'A',
  formula: '\\frac{V_\\mathrm{th}/A-V_\\mathrm{os}}{R_s}',
  source: 'Ohm’s law (definition)',
  assumption: 'What the current still rises by within the delay of comparator and driver comes on top, V_L t/L.',
  inputs: {
    threshold: { symbol: 'V_\\mathrm{th}', name: 'threshold of the comparator', unit: 'V' },
    gain: { symbol: 'A', name: 'gain of the amplifier before it', unit: 'ratio' },
    offset: { symbol: 'V_\\mathrm{os}', name: 'offset at its input', unit: 'V' },
    resistance: { symbol: 'R_s', name: 'resistance that is sensed', unit: 'ohm' },
  },
  compute: (v) => (v.threshold / v.gain - v.offset) / v.resistance,
};

/** Resistor of the filter that follows the current of a choke. */
export const chokeSenseResistor: ClosedForm<'inductance' | 'resistance' | 'capacitance'> = {
  name: 'Resistor beside the choke',
  symbol: 'R',
  unit: 'ohm',
  formula: '\\frac{L}{R_L\\,C}',
  source: 'Equal time constants of choke and filter, derived here: the capacitor then carries R_L i',
  assumption: 'At one temperature and current: copper gains 0.39 % per kelvin, the inductance falls with current.',
  inputs: {
    inductance: { symbol: 'L', name: 'inductance of the choke', unit: 'H' },
    resistance: { symbol: 'R_L', name: 'resistance of its winding', unit: 'ohm' },
    capacitance: { symbol: 'C', name: 'capacitor of the filter', unit: 'F' },
  },
  compute: (v) => v.inductance / (v.resistance * v.capacitance),
};
