import { AUXILIARIES, auxiliaryOutcomes, type Auxiliary, type AuxiliaryName } from '../auxiliary/auxiliaries.js';
import { elementWords } from '../powerstage/elementWords.js';
import { placedParts, type PlacedPart } from '../powerstage/placedParts.js';
import { commaSeparated } from '../quantity/commaSeparated.js';
import { formatQuantity } from '../quantity/engineering.js';
import type { Unit } from '../quantity/unit.js';
import { pathKey, valueAt, type StagePath } from '../stage/place.js';
import { stageField, type Stage } from '../stage/schema.js';

/** A line of the list of parts. @public */
export interface PartsLine {
  readonly key: string;
  readonly side: PlacedPart['side'] | 'control' | 'around';
  readonly words: string;
  readonly count: number;
  /** What is asked of it, in engineering notation. */
  readonly value: string;
  /** The record it was chosen from; undefined where a value alone is known. */
  readonly name: string | undefined;
  /** Of one, in the currency of the records; undefined where the record does not say. */
  readonly price: number | undefined;
  /** m */
  readonly length: number | undefined;
  readonly width: number | undefined;
}

/** Values that were chosen of parts around the controller, by their names and fields. @public */
export type ChosenAuxiliaries = Readonly<Partial<Record<string, Readonly<Record<string, number>>>>>;

/** What of a part's data names it, in this order. */
const SHOWN: readonly (readonly [key: string, unit: Unit, words?: string])[] = [
  ['inductance', 'H'],
  ['capacitance', 'F'],
  ['onResistance', 'ohm'],
  ['ratedCurrent', 'A'],
  ['clampingVoltage', 'V', 'clamps at'],
  ['forwardVoltage', 'V', 'drops'],
  ['resistance', 'ohm'],
  ['saturationCurrent', 'A', 'saturates at'],
  ['drainSourceVoltageMax', 'V'],
  ['reverseVoltageMax', 'V'],
  ['ratedVoltage', 'V'],
  ['blockingVoltageMax', 'V'],
  ['standOffVoltage', 'V', 'stands off'],
];

/** What is asked of a part, in words. */
function valueOf(part: Readonly<Record<string, unknown>>): string {
  const kind = typeof part['kind'] === 'string' ? [part['kind']] : [];
  const values = SHOWN.flatMap(([key, unit, words]) => {
    const value = part[key];
    if (typeof value !== 'number' || value === 0) return [];
    const text = formatQuantity(value, unit, 3);
    return [words === undefined ? text : `${words} ${text}`];
  });
  return [...values, ...kind].join(', ');
}

/** Where the stage file keeps the networks of its controller, and whether each phase has one. */
const NETWORKS: readonly (readonly [path: StagePath, ofEachPhase: boolean])[] = [
  [['control', 'compensator', 'components'], false],
  [['control', 'currentAmplifier'], true],
  [['control', 'rippleInjection'], false],
];

const unsized = { name: undefined, price: undefined, length: undefined, width: undefined } as const;

/** A part of which a value alone is known. */
const plain = (
  key: string,
  side: PartsLine['side'],
  words: string,
  value: number,
  unit: Unit,
  count = 1,
): PartsLine => ({ ...unsized, key, side, words, count, value: formatQuantity(value, unit, 4) });

/** The controller and its networks. */
function controlLines(stage: Stage, trimmed: boolean): readonly PartsLine[] {
  const { control, phases } = stage;
  const line = (path: StagePath, value: unknown, count: number): readonly PartsLine[] => {
    const meta = stageField(path);
    if (typeof value !== 'number' || value === 0 || !meta) return [];
    return [plain(pathKey(path), 'control', meta.quantity, value, meta.unit, count)];
  };
  const networks = NETWORKS.flatMap(([path, ofEachPhase]) =>
    Object.entries((valueAt(stage, path) ?? {}) as Readonly<Record<string, unknown>>)
      // A trimmer takes the place of the divider.
      .filter(([key]) => !(trimmed && (key === 'rUpper' || key === 'rLower')))
      .flatMap(([key, value]) => line([...path, key], value, ofEachPhase ? phases : 1)),
  );
  const { controller } = control;
  return [
    ...(controller === undefined
      ? []
      : [
          {
            ...unsized,
            key: 'controller',
            side: 'control' as const,
            words: 'controller',
            count: 1,
            value: '',
            name: controller,
          },
        ]),
    ...line(['control', 'senseResistance'], control.senseResistance, phases),
    ...networks,
  ];
}

/** What was chosen around the controller and has no place in the stage file. */
function aroundLines(chosen: ChosenAuxiliaries): readonly PartsLine[] {
  return (Object.keys(AUXILIARIES) as AuxiliaryName[]).flatMap((name) => {
    const auxiliary: Auxiliary = AUXILIARIES[name];
    const values = chosen[name];
    if (!values) return [];
    return (auxiliary.buys ?? []).flatMap((bought): PartsLine[] => {
      const found =
        'field' in bought
          ? { value: values[bought.field], of: auxiliary.fields.find(({ key }) => key === bought.field) }
          : {
              value: auxiliaryOutcomes(name, values)[bought.result]?.spread.nominal,
              of: auxiliary.forms[bought.result],
            };
      if (found.value === undefined || !found.of) return [];
      const of = 'words' in found.of ? found.of.words : found.of.name;
      const key = `${name}.${'field' in bought ? bought.field : String(bought.result)}`;
      return [plain(key, 'around', `${auxiliary.words}: ${of.toLowerCase()}`, found.value, found.of.unit)];
    });
  });
}

/**
 * Every part of a stage that is to be bought: those of its file with what is asked of them, its controller and networks, and what was chosen
 * around the controller.
 *
 * @param chosen values of parts around the controller that have no place in the stage file.
 * @public
 */
export function partsList(stage: Stage, chosen: ChosenAuxiliaries = {}): readonly PartsLine[] {
  const placed = placedParts(stage).map(({ element, side, part, count }): PartsLine => {
    const { name, price, length, width } = part;
    const value = valueOf(part as Readonly<Record<string, unknown>>);
    return { key: element, side, words: elementWords(element).words, count, value, name, price, length, width };
  });
  return [...placed, ...controlLines(stage, chosen['trimmer'] !== undefined), ...aroundLines(chosen)];
}

/** What all of them cost, and how many lines do not say. @public */
export function priceOf(lines: readonly PartsLine[]): { readonly stated: number; readonly unstated: number } {
  const priced = lines.filter(({ price }) => price !== undefined);
  return {
    stated: priced.reduce((sum, { price = 0, count }) => sum + price * count, 0),
    unstated: lines.length - priced.length,
  };
}

/** The list as comma-separated values; lengths in m. @public */
export const partsCsv = (lines: readonly PartsLine[]): string =>
  commaSeparated([
    ['part', 'side', 'count', 'value', 'record', 'price each', 'length (m)', 'width (m)'],
    ...lines.map(({ words, side, count, value, name, price, length, width }) => [
      words,
      side,
      count,
      // A spreadsheet searches for what is typed: with plain spaces.
      value.replace(/[\u00a0\u2009\u202f]/g, ' '),
      name,
      price,
      length,
      width,
    ]),
  ]);
