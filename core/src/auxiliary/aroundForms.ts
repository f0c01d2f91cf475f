import type { ClosedForm, FormulaInput } from '../firstcut/closedForm.js';

const OHM = 'Ohm’s law (definition)';
const CHARGING = 'Charging of a capacitor through a resistor (definition)';

const vIn: FormulaInput = { symbol: 'V_\\mathrm{in}', name: 'input voltage', unit: 'V' };
const vOut: FormulaInput = { symbol: 'V_\\mathrm{out}', name: 'output voltage', unit: 'V' };
const inputCurrent: FormulaInput = { symbol: 'I_\\mathrm{in}', name: 'highest input current', unit: 'A' };
const inputCapacitance: FormulaInput = { symbol: 'C_\\mathrm{in}', name: 'input capacitance', unit: 'F' };

/** Ripple that a resistor from the switch node lays on a capacitor to the output. */
export const injectedRipple: ClosedForm<'vIn' | 'vOut' | 'frequency' | 'resistance' | 'capacitance'> = {
  name: 'Ripple at the comparator',
  symbol: '\\Delta V',
  unit: 'V',
  formula: '\\frac{(V_\\mathrm{in}-V_\\mathrm{out})\\,V_\\mathrm{out}/V_\\mathrm{in}}{f\\,R\\,C}',
  source: 'i = C dv/dt (definition), of a buck in continuous conduction',
  assumption:
    'RC is many periods, and the capacitor from this node to the feedback pin many times smaller than C. The comparator wants some 15 to 50 mV: common practice.',
  inputs: {
    vIn,
    vOut,
    frequency: { symbol: 'f', name: 'switching frequency', unit: 'Hz' },
    resistance: { symbol: 'R', name: 'resistor from the switch node', unit: 'ohm' },
    capacitance: { symbol: 'C', name: 'capacitor to the output', unit: 'F' },
  },
  compute: (v) => ((v.vIn - v.vOut) * (v.vOut / v.vIn)) / (v.frequency * v.resistance * v.capacitance),
};

/** Voltage at which the output of an amplifier is to be held, so that it does not wind up. */
export const clampVoltage: ClosedForm<'valley' | 'ramp' | 'duty'> = {
  name: 'Clamp at',
  symbol: 'V_\\mathrm{c}',
  unit: 'V',
  formula: 'V_v+D_\\mathrm{max}V_m',
  source: 'Comparison with the ramp (definition)',
  assumption:
    'At its least it still reaches the highest duty ratio; the more it stands above that, the longer the output overshoots after a short.',
  inputs: {
    valley: { symbol: 'V_v', name: 'foot of the ramp', unit: 'V' },
    ramp: { symbol: 'V_m', name: 'height of the ramp', unit: 'V' },
    duty: { symbol: 'D_\\mathrm{max}', name: 'highest duty ratio wanted', unit: 'ratio' },
  },
  compute: (v) => v.valley + v.duty * v.ramp,
};

const preload = { vOut, resistance: { symbol: 'R', name: 'resistor', unit: 'ohm' } } as const satisfies Record<
  string,
  FormulaInput
>;
/** Current of a resistor across the output. */
export const preloadCurrent: ClosedForm<keyof typeof preload> = {
  name: 'Current of the preload',
  symbol: 'I_p',
  unit: 'A',
  formula: '\\frac{V_\\mathrm{out}}{R}',
  source: OHM,
  assumption: 'Always there: what leaks into the output must be less.',
  inputs: preload,
  compute: (v) => v.vOut / v.resistance,
};
/** What it takes. */
export const preloadLoss: ClosedForm<keyof typeof preload> = {
  name: 'Loss of the preload',
  symbol: 'P_p',
  unit: 'W',
  formula: '\\frac{V_\\mathrm{out}^2}{R}',
  source: OHM,
  assumption: 'Take a resistor of twice that at least: common practice.',
  inputs: preload,
  compute: (v) => v.vOut ** 2 / v.resistance,
};
/** What it costs at full load, as a share of the output power. */
export const preloadShare: ClosedForm<keyof typeof preload | 'current'> = {
  name: 'Share of the output power it costs',
  symbol: 'p',
  unit: 'ratio',
  formula: '\\frac{I_p}{I_\\mathrm{out}}',
  source: OHM,
  assumption: 'The efficiency at full load falls by about this share of itself; at light load by much more.',
  inputs: { ...preload, current: { symbol: 'I_\\mathrm{out}', name: 'full load', unit: 'A' } },
  compute: (v) => v.vOut / v.resistance / v.current,
};

/** Rated current of a fuse. */
export const fuseRating: ClosedForm<'current' | 'share' | 'warm'> = {
  name: 'Rated current, at the least',
  symbol: 'I_N',
  unit: 'A',
  formula: '\\frac{I_\\mathrm{in}}{s\\,k_T}',
  source: 'common practice: a fuse carries three quarters of its rating for long, less when it is warm',
  assumption:
    'It breaks what the source can give: its breaking capacity and voltage are above that. IEC 60127 or UL 248 decide.',
  inputs: {
    current: inputCurrent,
    share: { symbol: 's', name: 'share it may carry for long', unit: 'ratio' },
    warm: { symbol: 'k_T', name: 'share left at the ambient', unit: 'ratio' },
  },
  compute: (v) => v.current / (v.share * v.warm),
};
/** What a fuse loses. */
export const fuseLoss: ClosedForm<'current' | 'fuse'> = {
  name: 'Loss of the fuse',
  symbol: 'P_F',
  unit: 'W',
  formula: 'I_\\mathrm{in}^2R_F',
  source: OHM,
  assumption: 'Warm it has more than cold: its data sheet states the drop at the rated current.',
  inputs: { current: inputCurrent, fuse: { symbol: 'R_F', name: 'resistance of the fuse', unit: 'ohm' } },
  compute: (v) => v.current ** 2 * v.fuse,
};
/** Integral of the square of the current that charges the input. */
export const inrushIntegral: ClosedForm<'vIn' | 'capacitance' | 'resistance'> = {
  name: 'I²t of the inrush, in A²s',
  symbol: 'I^2t',
  unit: 'ratio',
  formula: '\\frac{C_\\mathrm{in}V_\\mathrm{in}^2}{2R}',
  source: `${CHARGING}: ∫ (V/R)² e^(−2t/RC) dt`,
  assumption:
    'The melting integral of the fuse is several times that: five for ten thousand times on, common practice.',
  inputs: {
    vIn,
    capacitance: inputCapacitance,
    resistance: { symbol: 'R', name: 'resistance it is charged through', unit: 'ohm' },
  },
  compute: (v) => (v.capacitance * v.vIn ** 2) / (2 * v.resistance),
};

/** Loss of a diode in the input line. */
export const diodeLoss: ClosedForm<'current' | 'drop'> = {
  name: 'Loss of a diode',
  symbol: 'P_d',
  unit: 'W',
  formula: 'I_\\mathrm{in}V_f',
  source: OHM,
  assumption: 'Simple and sure; its drop comes off the lowest input.',
  inputs: { current: inputCurrent, drop: { symbol: 'V_f', name: 'drop of the diode', unit: 'V' } },
  compute: (v) => v.current * v.drop,
};
/** Loss of a switch there instead. */
export const switchLoss: ClosedForm<'current' | 'resistance'> = {
  name: 'Loss of a switch instead',
  symbol: 'P_s',
  unit: 'W',
  formula: 'I_\\mathrm{in}^2R_\\mathrm{on}',
  source: OHM,
  assumption: 'Its body diode points the way of the current; its gate is held below its rating by a Zener diode.',
  inputs: { current: inputCurrent, resistance: { symbol: 'R_\\mathrm{on}', name: 'on-resistance', unit: 'ohm' } },
  compute: (v) => v.current ** 2 * v.resistance,
};
/** What either stands off when the supply is the wrong way round. */
export const reverseVoltage: ClosedForm<'vIn'> = {
  name: 'Blocks, the supply turned round while the input is charged',
  symbol: 'V_r',
  unit: 'V',
  formula: '2\\,V_\\mathrm{in}',
  source: 'Kirchhoff’s voltage law (definition)',
  assumption: 'The input capacitors still hold the whole input: half of it where they are empty.',
  inputs: { vIn },
  compute: (v) => 2 * v.vIn,
};

const suppressor = {
  surge: { symbol: 'V_s', name: 'open voltage of the surge', unit: 'V' },
  resistance: { symbol: 'R_s', name: 'its source resistance', unit: 'ohm' },
  clamping: { symbol: 'V_c', name: 'clamping voltage', unit: 'V' },
} as const satisfies Record<string, FormulaInput>;
const SURGE =
  'The surge is that of the standard of your product (IEC 61000-4-5 and ISO 7637-2 among them): type it in. The clamp stands below the ratings of the stage and above its highest input.';
/** Current of a surge through a suppressor. */
export const suppressorCurrent: ClosedForm<keyof typeof suppressor> = {
  name: 'Current of the surge',
  symbol: 'I_c',
  unit: 'A',
  formula: '\\frac{V_s-V_c}{R_s}',
  source: OHM,
  assumption: SURGE,
  inputs: suppressor,
  compute: (v) => Math.max(0, v.surge - v.clamping) / v.resistance,
};
/** Its power at the peak. */
export const suppressorPower: ClosedForm<keyof typeof suppressor> = {
  name: 'Peak power of the suppressor',
  symbol: 'P_c',
  unit: 'W',
  formula: 'V_cI_c',
  source: OHM,
  assumption: 'Its rating holds for one pulse at 25 °C: less when it is warm, or hit again.',
  inputs: suppressor,
  compute: (v) => v.clamping * suppressorCurrent.compute(v),
};
/** Energy that it takes. */
export const suppressorEnergy: ClosedForm<keyof typeof suppressor | 'time'> = {
  name: 'Energy of the surge in it',
  symbol: 'E_c',
  unit: 'J',
  formula: '\\frac{V_cI_c\\,t_{1/2}}{\\ln 2}',
  source: 'Integral of an exponential pulse (definition)',
  assumption: 'The current falls as the surge does; in truth it ends sooner.',
  inputs: { ...suppressor, time: { symbol: 't_{1/2}', name: 'time to half its value', unit: 's' } },
  compute: (v) => (suppressorPower.compute(v) * v.time) / Math.LN2,
};

const precharge = {
  vIn,
  capacitance: inputCapacitance,
  resistance: { symbol: 'R', name: 'resistor', unit: 'ohm' },
} as const satisfies Record<string, FormulaInput>;
/** Current at the first instant. */
export const prechargePeak: ClosedForm<'vIn' | 'resistance'> = {
  name: 'Current at the first instant',
  symbol: '\\hat I',
  unit: 'A',
  formula: '\\frac{V_\\mathrm{in}}{R}',
  source: OHM,
  assumption: 'The input is empty; the stage is locked out meanwhile.',
  inputs: { vIn: precharge.vIn, resistance: precharge.resistance },
  compute: (v) => v.vIn / v.resistance,
};
/** Time until the resistor may be bridged. */
export const prechargeTime: ClosedForm<'capacitance' | 'resistance'> = {
  name: 'Within 5 % after',
  symbol: 't_{95}',
  unit: 's',
  formula: 'RC_\\mathrm{in}\\ln 20',
  source: CHARGING,
  assumption: 'Then it is bridged: what is left makes a second, smaller inrush.',
  inputs: { capacitance: precharge.capacitance, resistance: precharge.resistance },
  compute: (v) => v.resistance * v.capacitance * Math.log(20),
};
/** Energy that the resistor takes. */
export const prechargeEnergy: ClosedForm<'vIn' | 'capacitance'> = {
  name: 'Energy in the resistor',
  symbol: 'E',
  unit: 'J',
  formula: '\\tfrac12 C_\\mathrm{in}V_\\mathrm{in}^2',
  source: CHARGING,
  assumption:
    'As much as the capacitors take, whatever the resistor. Into a short it takes V²/R for ever: let it be fused, or a thermistor.',
  inputs: { vIn: precharge.vIn, capacitance: precharge.capacitance },
  compute: (v) => (v.capacitance * v.vIn ** 2) / 2,
};

const SHIFTED = 'Kirchhoff’s voltage law, derived here: the ground pin of the controller is the negative output';
/** What a buck controller has to stand when it drives an inverting stage. */
export const controllerSees: ClosedForm<'vIn' | 'vOut'> = {
  name: 'The controller stands between',
  symbol: 'V_\\mathrm{ctl}',
  unit: 'V',
  formula: 'V_\\mathrm{in}+|V_\\mathrm{out}|',
  source: SHIFTED,
  assumption:
    'Below its rating with the ringing on top. Before the start its ground is pulled up by the body diode of the lower switch: the output stands a forward voltage above ground.',
  inputs: { vIn, vOut: { ...vOut, symbol: '|V_\\mathrm{out}|' } },
  compute: (v) => v.vIn + v.vOut,
};
const enable = {
  threshold: { symbol: 'V_\\mathrm{th}', name: 'threshold of the enable pin', unit: 'V' },
  upper: { symbol: 'R_t', name: 'resistor from the input', unit: 'ohm' },
  lower: { symbol: 'R_b', name: 'resistor to its ground pin', unit: 'ohm' },
} as const satisfies Record<string, FormulaInput>;
/** Input at which it comes on. */
export const invertingOn: ClosedForm<keyof typeof enable> = {
  name: 'Comes on above an input of',
  symbol: 'V_\\mathrm{on}',
  unit: 'V',
  formula: 'V_\\mathrm{th}\\left(1+\\frac{R_t}{R_b}\\right)',
  source: SHIFTED,
  assumption:
    'The output is still at ground. A signal from elsewhere wants a level shifter: its ground is not that of the pin.',
  inputs: enable,
  compute: (v) => v.threshold * (1 + v.upper / v.lower),
};
/** Input at which it goes off again. */
export const invertingOff: ClosedForm<keyof typeof enable | 'vOut'> = {
  name: 'Goes off again below',
  symbol: 'V_\\mathrm{off}',
  unit: 'V',
  formula: 'V_\\mathrm{th}\\left(1+\\frac{R_t}{R_b}\\right)-|V_\\mathrm{out}|',
  source: SHIFTED,
  assumption: 'With the output up the pin sees both voltages: below zero it never goes off by this pin.',
  inputs: { ...enable, vOut: { ...vOut, symbol: '|V_\\mathrm{out}|' } },
  compute: (v) => invertingOn.compute(v) - v.vOut,
};
