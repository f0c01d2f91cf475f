import type { Stage } from '../stage/schema.js';
import { PART_KINDS, type PartKind, type PartOf } from './libraryPart.js';
import { kindAt } from './placeKinds.js';
import { withController } from './withController.js';
import { partCells, readPartRows, suggestedMapping, type RefusedRow } from './readPartRows.js';

/** The records a design is chosen from, by kind. @public */
export type Inventory = { readonly [K in PartKind]: readonly PartOf<K>[] };

/** A record of any kind with its kind beside it: of a capacitor what it is made of. @public */
export type InventoryRecord = { readonly kind: string; readonly name: string } & Readonly<Record<string, unknown>>;

const CAPACITORS = new Set(['ceramic', 'polymer', 'electrolytic', 'film', 'tantalum']);
const kindOf = (word: string): PartKind | undefined =>
  CAPACITORS.has(word) ? 'capacitor' : PART_KINDS.find((kind) => kind === word);

/** Words that name records: kinds of part, and of capacitor. @public */
export const RECORD_KINDS: readonly string[] = [...PART_KINDS, ...CAPACITORS];

/** All records in one list. @public */
export const recordsOf = (inventory: Inventory): readonly InventoryRecord[] =>
  PART_KINDS.flatMap((kind) => (inventory[kind] as readonly { name: string }[]).map((part) => ({ kind, ...part })));

/** Records of one kind, or of one kind of capacitor. @public */
export const recordsOfKind = (records: readonly InventoryRecord[], kind: string): readonly InventoryRecord[] =>
  records.filter((one) => one.kind === kind || (kind === 'capacitor' && CAPACITORS.has(one.kind)));

/**
 * Rows of a file as an inventory. Each says what it is in its column `kind`.
 *
 * @param rows cells by heading, as a CSV reader gives them.
 * @public
 */
export function inventoryOfRows(rows: readonly Readonly<Record<string, string>>[]): {
  readonly inventory: Inventory;
  readonly refused: readonly RefusedRow[];
} {
  const refused: RefusedRow[] = [];
  rows.forEach((row, k) => {
    const word = (row['kind'] ?? '').trim();
    if (kindOf(word) === undefined)
      refused.push({
        row: k + 2,
        column: 'kind',
        sentence: `“${word}” is no kind of part; write ${RECORD_KINDS.filter((one) => one !== 'capacitor').join(', ')}.`,
      });
  });
  const of = <K extends PartKind>(kind: K): readonly PartOf<K>[] => {
    const places = rows.flatMap((row, k) => (kindOf((row['kind'] ?? '').trim()) === kind ? [k] : []));
    const own = places.map((k) => rows[k] ?? {});
    const headings = [...new Set(own.flatMap((row) => Object.keys(row)))];
    const read = readPartRows(kind, own, suggestedMapping(kind, headings));
    refused.push(...read.refused.map((one) => ({ ...one, row: (places[one.row - 2] ?? 0) + 2 })));
    return read.parts;
  };
  return {
    inventory: {
      inductor: of('inductor'),
      capacitor: of('capacitor'),
      mosfet: of('mosfet'),
      diode: of('diode'),
      core: of('core'),
      controller: of('controller'),
    },
    refused,
  };
}

/** A record of a JSON file as cells, so that it takes the same way in as a row of CSV. @public */
export function recordCells(record: Readonly<Record<string, unknown>>): Readonly<Record<string, string>> {
  const word = typeof record['kind'] === 'string' ? record['kind'] : '';
  const kind = kindOf(word);
  return { ...(kind ? partCells(kind, record) : {}), kind: word };
}

/**
 * A stage whose named parts are filled up from the records of that name: what the stage states itself stays, but for what its controller
 * fixes.
 *
 * @public
 */
export function withRecords(stage: Stage, inventory: Inventory): Stage {
  const parts = Object.fromEntries(
    Object.entries(stage.parts).map(([place, part]) => {
      const filled = (one: unknown): unknown => {
        const name = (one as { readonly name?: unknown }).name;
        const kind = kindAt(place);
        const records: readonly { readonly name: string }[] = kind ? inventory[kind] : [];
        const record = records.find((other) => other.name === name);
        return record ? { ...record, ...(one as object) } : one;
      };
      return [place, Array.isArray(part) ? part.map(filled) : filled(part)];
    }),
  );
  const record = inventory.controller.find(({ name }) => name === stage.control.controller);
  const filled = { ...stage, parts: parts };
  return record ? withController(filled, record) : filled;
}
