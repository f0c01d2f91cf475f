import { applied, type AppliedForm, type ClosedForm } from '../firstcut/closedForm.js';
import type { Unit } from '../quantity/unit.js';
import { preferredAtMost, nearestPreferred } from '../quantity/preferredValues.js';
import {
  chargingCurrent,
  chokeSenseResistor,
  lockOutOff,
  lockOutOn,
  oscillatorFrequency,
  senseLimit,
  softStartTime,
  trimmerLeast,
  trimmerMost,
} from './auxiliaryForms.js';
import {
  clampVoltage,
  controllerSees,
  diodeLoss,
  fuseLoss,
  fuseRating,
  injectedRipple,
  inrushIntegral,
  invertingOff,
  invertingOn,
  prechargeEnergy,
  prechargePeak,
  prechargeTime,
  preloadCurrent,
  preloadLoss,
  preloadShare,
  reverseVoltage,
  suppressorCurrent,
  suppressorEnergy,
  suppressorPower,
  switchLoss,
} from './aroundForms.js';
import {
  connectorDrop,
  connectorLoss,
  contactsNeeded,
  planeDrop,
  planeResistance,
  wireDensity,
  wireDrop,
  wireGauge,
  wireLoss,
  wireStiffness,
} from './leadForms.js';
import { resistivityAt } from '../magnetics/copper.js';
import { spreadOf, type Spread, type Tolerance } from './spread.js';

/** A value that goes into a part around the controller. */
export interface AuxiliaryField {
  readonly key: string;
  readonly words: string;
  readonly unit: Unit;
  /** What may be typed. */
  readonly range: readonly [number, number];
  readonly tolerance: Tolerance;
}

/** What a stage brings along: undefined where it does not say. */
export interface AuxiliaryGround {
  readonly frequency: number;
  readonly reference: number | undefined;
  readonly vOut: number;
  readonly vInLeast: number;
  readonly vInMost: number;
  /** A, the most that any corner draws; 0 where none has an operating point. */
  readonly inputCurrent: number;
  readonly outputCurrent: number;
  /** F, without bias. */
  readonly inputCapacitance: number;
  readonly ramp: number | undefined;
  readonly dutyMax: number | undefined;
  readonly inverting: boolean;
  readonly sourceResistance: number | undefined;
  readonly outputCapacitance: number | undefined;
  readonly softStart: number | undefined;
  readonly rising: number | undefined;
  readonly falling: number | undefined;
  readonly currentLimit: number | undefined;
  readonly peak: number | undefined;
  readonly inductance: number | undefined;
  readonly windingResistance: number | undefined;
}

type Values = Readonly<Record<string, number>>;

/** A part around the controller: what it takes, what it does, and values that do what the stage asks. */
export interface Auxiliary {
  readonly words: string;
  /** Left out: around the controller. */
  readonly group?: 'leads';
  /** Whether a stage has a use for it; left out where every stage has. */
  readonly fits?: (ground: AuxiliaryGround) => boolean;
  readonly fields: readonly AuxiliaryField[];
  /** Results, the first of which the parts are chosen for. */
  readonly forms: readonly ClosedForm[];
  /** What of it is bought: a field, or a result by its place. Left out where the stage file has a place for it. */
  readonly buys?: readonly ({ readonly field: string } | { readonly result: number })[];
  /** Parts that do what the stage asks, with what of its data is typical. */
  readonly proposed: (ground: AuxiliaryGround) => Values;
}

const OHMS = [1, 1e8] as const;
const FARADS = [1e-12, 1e-2] as const;
const VOLTS = [1e-3, 1000] as const;
const field = (
  key: string,
  words: string,
  unit: Unit,
  range: readonly [number, number],
  tolerance: Tolerance,
): AuxiliaryField => ({ key, words, unit, range, tolerance });

/** Tolerances of usual parts: common practice. */
const RESISTOR: Tolerance = { share: 0.01 };
const CERAMIC: Tolerance = { share: 0.1 };
const STABLE: Tolerance = { share: 0.05 };
/** A trimmer is wound or printed, and no better than this. */
const TRIMMER: Tolerance = { share: 0.2 };
const REFERENCE: Tolerance = { share: 0.01 };

export const AUXILIARIES = {
  oscillator: {
    words: 'Oscillator',
    fields: [
      field('k', 'Constant of the controller', 'ratio', [1e-3, 1e3], { share: 0.05 }),
      field('resistance', 'Resistor', 'ohm', OHMS, RESISTOR),
      field('capacitance', 'Capacitor', 'F', FARADS, STABLE),
      field('discharge', 'Time of discharge', 's', [0, 1e-3], { share: 0.2 }),
    ],
    forms: [oscillatorFrequency],
    buys: [{ field: 'resistance' }, { field: 'capacitance' }],
    proposed: ({ frequency }) => {
      const [k, discharge, capacitance] = [1.443, 100e-9, 470e-12];
      const resistance = Math.max(100, ((1 / frequency - discharge) * k) / capacitance);
      return { k, discharge, capacitance, resistance: nearestPreferred(resistance, 'E96') };
    },
  },
  softStart: {
    words: 'Soft start',
    fields: [
      field('current', 'Current of the pin', 'A', [1e-9, 1e-2], { share: 0.25 }),
      field('reference', 'Reference', 'V', VOLTS, REFERENCE),
      field('capacitance', 'Capacitor', 'F', FARADS, CERAMIC),
      field('output', 'Output capacitance', 'F', [1e-9, 1], { share: 0.2 }),
      field('vOut', 'Output voltage', 'V', VOLTS, {}),
    ],
    forms: [softStartTime, chargingCurrent],
    buys: [{ field: 'capacitance' }],
    proposed: ({ reference = 0.8, vOut, outputCapacitance = 100e-6, softStart = 5e-3 }) => {
      const current = 5e-6;
      const capacitance = nearestPreferred((softStart * current) / reference, 'E12');
      return { current, reference, capacitance, output: outputCapacitance, vOut };
    },
  },
  lockOut: {
    words: 'Lock-out',
    fields: [
      field('threshold', 'Threshold, rising', 'V', VOLTS, { share: 0.03 }),
      field('falling', 'Threshold, falling', 'V', VOLTS, { share: 0.03 }),
      field('upper', 'Upper resistor', 'ohm', OHMS, RESISTOR),
      field('lower', 'Lower resistor', 'ohm', OHMS, RESISTOR),
      field('hysteresis', 'Current while on', 'A', [0, 1e-2], { share: 0.25 }),
      field('standing', 'Current always', 'A', [0, 1e-2], { share: 0.3 }),
    ],
    forms: [lockOutOn, lockOutOff],
    buys: [{ field: 'upper' }, { field: 'lower' }],
    // R_t = V_hys/I_h and R_b = R_t/(V_on/V_th − 1): the same divider turned round.
    proposed: ({ rising, falling, vInLeast }) => {
      const [threshold, hysteresis] = [1.2, 3e-6];
      const on = Math.max(1.5 * threshold, rising ?? 0.9 * vInLeast);
      const off = Math.min(falling ?? 0.92 * on, 0.99 * on);
      const upper = nearestPreferred((on - off) / hysteresis, 'E96');
      return {
        threshold,
        falling: threshold,
        upper,
        lower: nearestPreferred(upper / (on / threshold - 1), 'E96'),
        hysteresis,
        standing: 0,
      };
    },
  },
  trimmer: {
    words: 'Divider with trimmer',
    fields: [
      field('reference', 'Reference', 'V', VOLTS, REFERENCE),
      field('upper', 'Upper resistor', 'ohm', OHMS, RESISTOR),
      field('trimmer', 'Trimmer', 'ohm', OHMS, TRIMMER),
      field('lower', 'Lower resistor', 'ohm', OHMS, RESISTOR),
    ],
    forms: [trimmerLeast, trimmerMost],
    buys: [{ field: 'upper' }, { field: 'trimmer' }, { field: 'lower' }],
    // A span of five percent each way about the output, for a lower arm of some ten kilohms.
    proposed: ({ reference = 0.8, vOut }) => {
      const [low, high] = [Math.max(reference, 0.95 * vOut), 1.05 * vOut];
      const whole = 10e3 * (vOut / reference);
      // Both ends: R₂ + R_p = whole · V_ref/low, R₂ = whole · V_ref/high.
      const lower = preferredAtMost((whole * reference) / high, 'E96');
      const least = (whole * reference) / low - lower;
      const trimmer = TRIMMERS.find((value) => 0.8 * value >= least) ?? least;
      return { reference, lower, trimmer, upper: nearestPreferred(Math.max(100, whole - lower - trimmer), 'E96') };
    },
  },
  sense: {
    words: 'Current limit',
    fields: [
      field('threshold', 'Threshold of the comparator', 'V', [1e-3, 10], { share: 0.1 }),
      field('gain', 'Gain before it', 'ratio', [0.1, 1000], { share: 0.02 }),
      field('offset', 'Offset', 'V', [-0.1, 0.1], { by: 1e-3 }),
      field('resistance', 'Sense resistor', 'ohm', [1e-5, 100], RESISTOR),
    ],
    forms: [senseLimit],
    // The least limit is to stand clear of the peak by a tenth.
    proposed: ({ currentLimit, peak }) => {
      const [threshold, gain, offset] = [0.05, 1, 0];
      const limit = currentLimit ?? 1.3 * (peak ?? 1);
      return { threshold, gain, offset, resistance: preferredAtMost(threshold / limit, 'E24') };
    },
  },
  chokeSense: {
    words: 'Sensing by the choke',
    fields: [
      field('inductance', 'Inductance', 'H', [1e-9, 1], { share: 0.2 }),
      field('resistance', 'Resistance of the winding', 'ohm', [1e-6, 100], { share: 0.08 }),
      field('capacitance', 'Capacitor of the filter', 'F', FARADS, STABLE),
    ],
    forms: [chokeSenseResistor],
    buys: [{ result: 0 }, { field: 'capacitance' }],
    proposed: ({ inductance = 10e-6, windingResistance = 10e-3 }) => ({
      inductance,
      resistance: Math.max(1e-6, windingResistance),
      capacitance: 100e-9,
    }),
  },
  rippleInjection: {
    words: 'Ripple injection',
    fits: ({ vInLeast, vOut, inverting }) => vInLeast > vOut && !inverting,
    fields: [
      field('vIn', 'Input voltage', 'V', VOLTS, {}),
      field('vOut', 'Output voltage', 'V', VOLTS, {}),
      field('frequency', 'Switching frequency', 'Hz', [1e3, 1e8], { share: 0.1 }),
      field('resistance', 'Resistor from the switch node', 'ohm', OHMS, RESISTOR),
      field('capacitance', 'Capacitor to the output', 'F', FARADS, CERAMIC),
    ],
    forms: [injectedRipple],
    // Twenty-five millivolts at the lowest input, where it is least: common practice for a comparator without an amplifier before it.
    proposed: ({ vInLeast, vOut, frequency }) => {
      const [asked, capacitance] = [25e-3, 10e-9];
      const vIn = Math.max(vInLeast, 1.05 * vOut);
      const onTime = vOut / vIn / frequency;
      const resistance = preferredAtMost(((vIn - vOut) * onTime) / (asked * capacitance), 'E24');
      return { vIn, vOut, frequency, resistance, capacitance };
    },
  },
  clamp: {
    words: 'Clamp of the amplifier',
    fields: [
      field('valley', 'Foot of the ramp', 'V', [0, 10], { share: 0.1 }),
      field('ramp', 'Height of the ramp', 'V', [1e-3, 20], { share: 0.1 }),
      field('duty', 'Highest duty ratio wanted', 'ratio', [0.01, 1], {}),
    ],
    forms: [clampVoltage],
    proposed: ({ ramp = 1, dutyMax = 0.95 }) => ({ valley: 0, ramp, duty: dutyMax }),
  },
  preload: {
    words: 'Preload',
    fields: [
      field('vOut', 'Output voltage', 'V', VOLTS, {}),
      field('resistance', 'Resistor', 'ohm', OHMS, RESISTOR),
      field('current', 'Full load', 'A', [1e-3, 1e4], {}),
    ],
    forms: [preloadCurrent, preloadLoss, preloadShare],
    // Half a percent of full load: enough to bleed leakage and bootstrap currents. Common practice.
    proposed: ({ vOut, outputCurrent }) => ({
      vOut,
      resistance: nearestPreferred(vOut / (0.005 * outputCurrent), 'E24'),
      current: outputCurrent,
    }),
  },
  fuse: {
    words: 'Input fuse',
    fields: [
      field('current', 'Highest input current', 'A', [1e-3, 1e4], {}),
      field('share', 'Share it may carry for long', 'ratio', [0.1, 1], {}),
      field('fuse', 'Resistance of the fuse, warm', 'ohm', [1e-5, 100], { share: 0.3 }),
      field('warm', 'Share left at the ambient', 'ratio', [0.1, 1.2], {}),
      field('vIn', 'Highest input voltage', 'V', VOLTS, {}),
      field('capacitance', 'Input capacitance', 'F', FARADS, { share: 0.2 }),
      field('resistance', 'Resistance it is charged through', 'ohm', [1e-3, 1e6], { share: 0.1 }),
    ],
    forms: [fuseRating, inrushIntegral, fuseLoss],
    // A tenth of a volt at its rating: what small fuses drop, from memory.
    proposed: ({ inputCurrent, vInMost, inputCapacitance, sourceResistance = 0.1 }) => ({
      current: Math.max(1e-3, inputCurrent),
      fuse: Math.min(100, (0.1 * 0.75 * 0.9) / Math.max(1e-3, inputCurrent)),
      share: 0.75,
      warm: 0.9,
      vIn: vInMost,
      capacitance: Math.max(1e-6, inputCapacitance),
      resistance: Math.max(0.01, sourceResistance),
    }),
  },
  reversePolarity: {
    words: 'Reverse polarity',
    fields: [
      field('current', 'Highest input current', 'A', [1e-3, 1e4], {}),
      field('drop', 'Drop of a diode', 'V', [0.05, 3], { share: 0.2 }),
      field('resistance', 'On-resistance of a switch instead', 'ohm', [1e-5, 10], { share: 0.5 }),
      field('vIn', 'Highest input voltage', 'V', VOLTS, {}),
      field('capacitance', 'Input capacitance', 'F', FARADS, {}),
    ],
    forms: [diodeLoss, switchLoss, reverseVoltage],
    // A drop of a tenth of the diode's: a switch that is worth its gate circuit.
    proposed: ({ inputCurrent, vInMost, inputCapacitance }) => {
      const [current, drop] = [Math.max(1e-3, inputCurrent), 0.5];
      const resistance = Math.min(10, preferredAtMost((0.1 * drop) / current, 'E12'));
      return { current, drop, resistance, vIn: vInMost, capacitance: Math.max(1e-6, inputCapacitance) };
    },
  },
  suppressor: {
    words: 'Transient suppressor',
    fields: [
      field('surge', 'Open voltage of the surge', 'V', VOLTS, {}),
      field('resistance', 'Its source resistance', 'ohm', [1e-3, 1e4], {}),
      field('clamping', 'Clamping voltage at that current', 'V', VOLTS, { share: 0.05 }),
      field('time', 'Time to half its value', 's', [1e-9, 10], {}),
    ],
    forms: [suppressorCurrent, suppressorPower, suppressorEnergy],
    // A clamp a third above the highest input; the surge is to be typed in from the standard of the product.
    proposed: ({ vInMost }) => ({ surge: 3 * vInMost, resistance: 2, clamping: 1.4 * vInMost, time: 50e-6 }),
  },
  precharge: {
    words: 'Precharge',
    fields: [
      field('vIn', 'Highest input voltage', 'V', VOLTS, {}),
      field('capacitance', 'Input capacitance', 'F', FARADS, { share: 0.2 }),
      field('resistance', 'Resistor', 'ohm', OHMS, RESISTOR),
    ],
    forms: [prechargePeak, prechargeTime, prechargeEnergy],
    // No more at the first instant than the stage draws at its most.
    proposed: ({ vInMost, inputCapacitance, inputCurrent }) => ({
      vIn: vInMost,
      capacitance: Math.max(1e-6, inputCapacitance),
      resistance: nearestPreferred(Math.max(1, vInMost / Math.max(0.1, inputCurrent)), 'E12'),
    }),
  },
  invertingBuck: {
    words: 'Inverting on a buck controller',
    fits: ({ inverting }) => inverting,
    fields: [
      field('vIn', 'Highest input voltage', 'V', VOLTS, {}),
      field('vOut', 'Size of the output voltage', 'V', VOLTS, {}),
      field('threshold', 'Threshold of the enable pin', 'V', VOLTS, { share: 0.05 }),
      field('upper', 'Resistor from the input', 'ohm', OHMS, RESISTOR),
      field('lower', 'Resistor to its ground pin', 'ohm', OHMS, RESISTOR),
    ],
    forms: [controllerSees, invertingOn, invertingOff],
    buys: [{ field: 'upper' }, { field: 'lower' }],
    proposed: ({ vInLeast, vInMost, vOut }) => {
      const [threshold, lower] = [1.2, 10e3];
      const upper = nearestPreferred(Math.max(1e3, lower * ((0.9 * vInLeast) / threshold - 1)), 'E96');
      return { vIn: vInMost, vOut, threshold, upper, lower };
    },
  },
  wires: {
    words: 'Wires to the stage',
    group: 'leads',
    fields: [
      field('current', 'Current', 'A', [1e-3, 1e4], {}),
      field('length', 'Length, one way', 'm', [1e-3, 1e3], {}),
      field('diameter', 'Diameter of the copper of one', 'm', [1e-5, 0.05], {}),
      field('count', 'In parallel', 'count', [1, 100], {}),
      field('resistivity', 'Resistivity of warm copper, Ω m', 'ratio', [1e-8, 1e-7], { share: 0.02 }),
    ],
    forms: [wireDrop, wireLoss, wireDensity, wireGauge, wireStiffness],
    // Four amperes a square millimetre, in free air: common practice.
    proposed: ({ inputCurrent, outputCurrent }) => {
      const current = Math.max(inputCurrent, outputCurrent);
      return {
        current,
        length: 0.5,
        diameter: Math.sqrt((4 * current) / (Math.PI * 4e6)),
        count: 1,
        resistivity: resistivityAt(60),
      };
    },
  },
  connector: {
    words: 'Connector',
    group: 'leads',
    fields: [
      field('current', 'Current', 'A', [1e-3, 1e4], {}),
      field('rated', 'Rated current of a contact', 'A', [1e-3, 1e3], {}),
      field('share', 'Share it carries beside loaded neighbours', 'ratio', [0.1, 1], {}),
      field('contacts', 'Contacts of each pole', 'count', [1, 200], {}),
      field('resistance', 'Resistance of a contact', 'ohm', [1e-5, 1], { share: 0.5 }),
    ],
    forms: [contactsNeeded, connectorDrop, connectorLoss],
    proposed: ({ inputCurrent, outputCurrent }) => {
      const current = Math.max(inputCurrent, outputCurrent);
      return { current, rated: 9, share: 0.7, contacts: Math.ceil(current / 6.3), resistance: 10e-3 };
    },
  },
  plane: {
    words: 'Plane between two points',
    group: 'leads',
    fields: [
      field('current', 'Current', 'A', [1e-3, 1e4], {}),
      field('apart', 'Between their middles', 'm', [1e-3, 2], {}),
      field('radius', 'Radius of each', 'm', [1e-4, 0.1], {}),
      field('thickness', 'Thickness of the foil', 'm', [5e-6, 1e-3], { share: 0.15 }),
      field('resistivity', 'Resistivity of warm copper, Ω m', 'ratio', [1e-8, 1e-7], { share: 0.02 }),
    ],
    forms: [planeResistance, planeDrop],
    proposed: ({ outputCurrent }) => ({
      current: outputCurrent,
      apart: 50e-3,
      radius: 2e-3,
      thickness: 35e-6,
      resistivity: resistivityAt(60),
    }),
  },
} as const satisfies Record<string, Auxiliary>;

/** Values in which trimmers are sold, Ω: common practice. */
const TRIMMERS = [100, 200, 500, 1e3, 2e3, 5e3, 10e3, 20e3, 50e3, 100e3, 200e3, 500e3, 1e6] as const;

export type AuxiliaryName = keyof typeof AUXILIARIES;

/** A result of a part around the controller: as stated, at its worst, and how it came about. @public */
export interface AuxiliaryOutcome {
  readonly spread: Spread;
  readonly form: AppliedForm;
}

/**
 * What a part around the controller does, over the tolerances of its values.
 *
 * @param values by the keys of its fields, SI.
 * @param tolerances of some of them, in place of the usual ones.
 * @public
 */
export function auxiliaryOutcomes(
  name: AuxiliaryName,
  values: Values,
  tolerances: Readonly<Partial<Record<string, Tolerance>>> = {},
): readonly AuxiliaryOutcome[] {
  const { fields, forms } = AUXILIARIES[name];
  const usual = Object.fromEntries(fields.map(({ key, tolerance }) => [key, tolerance]));
  return (forms as readonly ClosedForm[]).map((form) => ({
    spread: spreadOf(form, values, { ...usual, ...tolerances }),
    form: applied(form, values),
  }));
}
