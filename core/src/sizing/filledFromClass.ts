import type { Inventory } from '../library/inventory.js';
import { typicalMosfet } from '../library/typicalMosfet.js';
import { SWITCH_WORDS } from '../stage/completeStage.js';
import type { Stage } from '../stage/schema.js';
import { stageField } from '../stage/schema.js';
import type { Unit } from '../quantity/unit.js';
import type { SwitchPlace } from '../topology/topology.js';
import { typicalRating } from './firstCut.js';

/** A datum that was filled from the class of its part. @public */
export interface Filled {
  readonly path: string;
  /** Of which part, and what. */
  readonly quantity: string;
  readonly unit: Unit;
  readonly value: number;
}

/** A stage whose losses have what its parts did not state, and what that is. @public */
export interface FilledStage {
  readonly stage: Stage;
  readonly filled: readonly Filled[];
}

const SWITCH_DATA = [
  'gateCharge',
  'gateDrainCharge',
  'gateSourceCharge',
  'gateDriveVoltage',
  'gateResistance',
  'thresholdVoltage',
  'plateauVoltage',
  'outputCharge',
  'outputChargeVoltage',
  'outputEnergy',
  'bodyDiodeVoltage',
  'bodyDiodeResistance',
  'recoveryCharge',
  'onResistanceTemperatureCoefficient',
  'junctionToCase',
  'junctionToAmbient',
] as const;
/** What belongs together: a part that states one of a group states its own, and none of the others is mixed in from another part. */
const CORE_DATA = ['coreLossCoefficient', 'coreLossFrequencyExponent', 'coreLossFluxExponent'] as const;
const DIODE_DATA = ['junctionCapacitance', 'recoveryCharge', 'leakageCurrent', 'leakageDoubling', 'junctionToCase', 'junctionToAmbient'] as const; // prettier-ignore

/** The record nearest to a part in some figures, by ratio. */
function nearest<T>(
  records: readonly T[],
  figures: readonly (readonly [(record: T) => number | undefined, number | undefined])[],
): T | undefined {
  const away = (record: T): number =>
    figures.reduce((sum, [of, value]) => {
      const own = of(record);
      return value === undefined || value === 0 || own === undefined || own === 0
        ? sum
        : sum + Math.log(own / value) ** 2;
    }, 0);
  return records.reduce<T | undefined>((best, one) => (best && away(best) <= away(one) ? best : one), undefined);
}

/** Of some data those that a part does not state, from another. */
function missing<T extends object>(part: T, from: Partial<T>, data: readonly (keyof T & string)[]): Partial<T> {
  return Object.fromEntries(
    data.flatMap((key) => (part[key] === undefined && from[key] !== undefined ? [[key, from[key]]] : [])),
  ) as Partial<T>;
}

/** The words by which a part says of itself what was filled in. */
const noted = (notes: string | undefined, words: readonly string[]): string =>
  [...(notes === undefined ? [] : [notes]), `Typical of its class, not stated: ${words.join(', ')}.`].join(' ');

/**
 * A stage with what its parts leave out of the losses filled from their class: of a switch what a typical device of its rating and
 * on-resistance has, of an inductor and a diode what the nearest record has. What is stated stands, and nothing but losses and
 * heat changes. Each part says in its notes what was filled.
 *
 * The spread of such values is wide: charges by 1.4, recovery and resistance to alternating current by 2, core loss by 1.8 either way.
 * From memory of usual data sheets.
 *
 * @param records to look for the nearest in.
 * @public
 */
export function filledFromClass(stage: Stage, records: Pick<Inventory, 'inductor' | 'diode'>): FilledStage {
  const filled: Filled[] = [];
  const parts = { ...stage.parts };
  const wordsOf = (place: string, key: string): string => stageField(['parts', place, key])?.quantity ?? key;
  function fill<T extends { readonly notes?: string | undefined }>(
    place: string,
    of: string,
    part: T,
    found: Partial<T>,
  ): T {
    const keys = Object.keys(found);
    if (keys.length === 0) return part;
    for (const key of keys) {
      const value = (found as Readonly<Record<string, unknown>>)[key];
      const unit = stageField(['parts', place, key])?.unit;
      if (typeof value === 'number' && unit !== undefined)
        filled.push({ path: `parts.${place}.${key}`, quantity: `${of}: ${wordsOf(place, key)}`, unit, value });
    }
    return {
      ...part,
      ...found,
      notes: noted(
        part.notes,
        keys.map((key) => wordsOf(place, key)),
      ),
    };
  }
  for (const [place, words] of Object.entries(SWITCH_WORDS) as [SwitchPlace, string][]) {
    const own = parts[place];
    if (!own || own.onResistance === 0) continue;
    const typical = typicalMosfet(own.drainSourceVoltageMax ?? typicalRating(stage, place), own.onResistance);
    parts[place] = fill(place, words, own, missing(own, typical, SWITCH_DATA));
  }
  const { inductor, diode } = parts;
  if (inductor) {
    const record = nearest(
      records.inductor.filter(({ couplingCoefficient }) => couplingCoefficient === undefined),
      [
        [({ inductance }) => inductance, inductor.inductance],
        [({ resistance }) => resistance, inductor.resistance],
        [({ saturationCurrent }) => saturationCurrent, inductor.saturationCurrent],
      ],
    );
    const core = record && inductor.coreLossCoefficient === undefined ? missing(inductor, record, CORE_DATA) : {};
    // What the nearest has more of it for alternating current, this has too.
    const skin = (record?.alternatingResistance ?? 0) / (record?.resistance ?? 1);
    const alternating =
      inductor.alternatingResistance === undefined && inductor.resistance > 0 && skin > 1
        ? { alternatingResistance: Number((skin * inductor.resistance).toPrecision(3)) }
        : {};
    parts.inductor = fill('inductor', 'inductor', inductor, { ...alternating, ...core });
  }
  if (diode && stage.rectifier === 'diode') {
    const record = nearest(records.diode, [
      [({ reverseVoltageMax }) => reverseVoltageMax, diode.reverseVoltageMax],
      [({ currentMax }) => currentMax, diode.currentMax ?? stage.targets.outputCurrent.max / stage.phases],
      [({ forwardVoltage, dynamicResistance }) => forwardVoltage + dynamicResistance, diode.forwardVoltage],
    ]);
    parts.diode = fill('diode', 'diode', diode, record ? missing(diode, record, DIODE_DATA) : {});
  }
  return { stage: { ...stage, parts }, filled };
}
