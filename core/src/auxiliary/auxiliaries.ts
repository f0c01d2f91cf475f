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
  readonly fields: readonly AuxiliaryField[];
  /** Results, the first of which the parts are chosen for. */
  readonly forms: readonly ClosedForm[];
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
    proposed: ({ inductance = 10e-6, windingResistance = 10e-3 }) => ({
      inductance,
      resistance: Math.max(1e-6, windingResistance),
      capacitance: 100e-9,
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
