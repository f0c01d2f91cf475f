import { formatQuantity, parseQuantity } from '../quantity/engineering.js';
import { UNITS } from '../quantity/unit.js';
import { problemSentence } from '../stage/problemSentence.js';
import { checked } from '../stage/readStage.js';
import { LIBRARY_SCHEMAS, partColumns, type PartColumn, type PartKind, type PartOf } from './libraryPart.js';

/** A row that cannot be taken: which, for which column, and why. */
export interface RefusedRow {
  /** As counted in the file: the heading is row 1. */
  readonly row: number;
  /** The heading of the column at fault; empty where it is the row as a whole. */
  readonly column: string;
  readonly sentence: string;
}

/** What a file of parts holds. */
export interface ReadParts<K extends PartKind> {
  readonly parts: readonly PartOf<K>[];
  readonly refused: readonly RefusedRow[];
}

/** Which column of a file goes into which field of a part; headings that are absent are left out. */
export type ColumnMapping = Readonly<Record<string, string>>;

const plain = (text: string): string => text.toLowerCase().replace(/[^a-z0-9]/g, '');
/** A heading with its unit: `inductance [µH]`, `L (uH)`. */
const HEADING = /^(?<words>[^[(]*)(?:[[(](?<unit>[^\])]*)[\])])?\s*$/;

/** The mapping a file suggests by its headings: field names and their words, whatever their case and spacing. */
export function suggestedMapping(kind: PartKind, headings: readonly string[]): ColumnMapping {
  const columns = partColumns(kind);
  const mapping: Record<string, string> = {};
  for (const heading of headings) {
    const words = plain(HEADING.exec(heading)?.groups?.['words'] ?? heading);
    const found = columns.find(({ key, words: own }) => plain(key) === words || plain(own) === words);
    if (found && !Object.values(mapping).includes(found.key)) mapping[heading] = found.key;
  }
  return mapping;
}

/** One cell as the value of a field, or why it cannot be. */
function cellValue(column: PartColumn, heading: string, text: string): { value: unknown } | { sentence: string } {
  const { meta, curve } = column;
  if (curve) {
    const points = text.split(';').map((pair) => pair.split(':').map((one) => Number(one.trim())));
    return points.every((pair) => pair.length === 2 && pair.every(Number.isFinite))
      ? { value: points }
      : { sentence: `“${text}” is not a curve; write its points as 0:1; 12:0.55.` };
  }
  if (!meta) return { value: text };
  const unit = HEADING.exec(heading)?.groups?.['unit']?.trim() ?? '';
  // A bare number takes the unit of its heading; without one it is in the SI unit.
  const withUnit = /^[-+]?[\d.,]+(?:e[-+]?\d+)?$/i.test(text) && unit !== '' ? `${text} ${unit}` : text;
  const read = parseQuantity(withUnit, meta.unit);
  if (read.ok) return { value: read.value };
  return { sentence: `“${text}” cannot be read as ${meta.quantity} in ${UNITS[meta.unit].symbol || 'plain numbers'}.` };
}

/**
 * Read rows of text as parts. A row with a fault is refused whole; nothing is guessed.
 *
 * @param rows cells by heading, as a CSV reader gives them.
 */
export function readPartRows<K extends PartKind>(
  kind: K,
  rows: readonly Readonly<Record<string, string>>[],
  mapping: ColumnMapping,
): ReadParts<K> {
  const columns = new Map(partColumns(kind).map((column) => [column.key, column]));
  const parts: PartOf<K>[] = [];
  const refused: RefusedRow[] = [];
  const names = new Set<string>();
  rows.forEach((cells, index) => {
    const row = index + 2;
    const faults: RefusedRow[] = [];
    const document: Record<string, unknown> = {};
    for (const [heading, key] of Object.entries(mapping)) {
      const column = columns.get(key);
      const text = (cells[heading] ?? '').trim();
      if (!column || text === '') continue;
      const read = cellValue(column, heading, text);
      if ('sentence' in read) faults.push({ row, column: heading, sentence: read.sentence });
      else document[key] = read.value;
    }
    if (faults.length === 0) faults.push(...partFaults(kind, document, row, mapping, names, parts));
    refused.push(...faults);
  });
  return { parts, refused };
}

/** Check a gathered part; take it when it has no fault. */
function partFaults<K extends PartKind>(
  kind: K,
  document: Readonly<Record<string, unknown>>,
  row: number,
  mapping: ColumnMapping,
  names: Set<string>,
  parts: PartOf<K>[],
): readonly RefusedRow[] {
  const headingOf = (key: string): string => Object.entries(mapping).find(([, field]) => field === key)?.[0] ?? key;
  const read = checked(LIBRARY_SCHEMAS[kind] as never, document);
  if (!read.ok)
    return read.problems.map((problem) => ({
      row,
      column: headingOf(problem.path.split(/[.[]/)[0] ?? ''),
      sentence: problemSentence(problem),
    }));
  const part = read.value as PartOf<K>;
  if (names.has(part.name))
    return [{ row, column: headingOf('name'), sentence: `The name “${part.name}” stands twice in the file.` }];
  names.add(part.name);
  parts.push(part);
  return [];
}

/** A part as the cells of a CSV row, by field name, readable again by {@link readPartRows}. */
export function partCells(kind: PartKind, part: Readonly<Record<string, unknown>>): Readonly<Record<string, string>> {
  return Object.fromEntries(
    partColumns(kind).map(({ key, curve }) => {
      const value = part[key];
      if (value === undefined) return [key, ''];
      if (curve) return [key, (value as [number, number][]).map((pair) => pair.join(':')).join('; ')];
      return [key, typeof value === 'number' ? String(value) : typeof value === 'string' ? value : ''];
    }),
  );
}

/** A cell as a table shows it. */
export function partCellText({ key, meta, curve }: PartColumn, part: Readonly<Record<string, unknown>>): string {
  const value = part[key];
  if (value === undefined || curve) return '';
  if (typeof value === 'number') return meta ? formatQuantity(value, meta.unit, 3) : String(value);
  return typeof value === 'string' ? value : '';
}
