import { commasOf, withoutComma, type CommaMeaning, type FileCommas } from '../quantity/comma.js';
import { formatQuantity, parseQuantity } from '../quantity/engineering.js';
import { UNITS } from '../quantity/unit.js';
import { problemSentence } from '../stage/problemSentence.js';
import { checked } from '../stage/readStage.js';
import { LIBRARY_SCHEMAS, partColumns, type PartColumn, type PartKind, type PartOf } from './libraryPart.js';

/** A row that cannot be taken: which, for which column, and why. @public */
export interface RefusedRow {
  /** As counted in the file: the heading is row 1. */
  readonly row: number;
  /** The heading of the column at fault; empty where it is the row as a whole. */
  readonly column: string;
  readonly sentence: string;
}

/** What a file of parts holds. @public */
export interface ReadParts<K extends PartKind> {
  readonly parts: readonly PartOf<K>[];
  readonly refused: readonly RefusedRow[];
}

/** Which column of a file goes into which field of a part; headings that are absent are left out. @public */
export type ColumnMapping = Readonly<Record<string, string>>;

const plain = (text: string): string => text.toLowerCase().replace(/[^a-z0-9]/g, '');

/** A heading with its unit, `inductance [µH]` or `L (uH)`, in its two parts. */
function headingParts(heading: string): { readonly words: string; readonly unit: string } {
  const open = heading.search(/[[(]/);
  if (open < 0) return { words: heading, unit: '' };
  const behind = heading.slice(open + 1).trimEnd();
  const closed = behind.endsWith(']') || behind.endsWith(')');
  return closed ? { words: heading.slice(0, open), unit: behind.slice(0, -1).trim() } : { words: heading, unit: '' };
}

/** The mapping a file suggests by its headings: field names and their words, whatever their case and spacing. @public */
export function suggestedMapping(kind: PartKind, headings: readonly string[]): ColumnMapping {
  const columns = partColumns(kind);
  const mapping: Record<string, string> = {};
  for (const heading of headings) {
    const words = plain(headingParts(heading).words);
    const found = columns.find(({ key, words: own }) => plain(key) === words || plain(own) === words);
    if (found && !Object.values(mapping).includes(found.key)) mapping[heading] = found.key;
  }
  return mapping;
}

/** One cell as the value of a field, or why it cannot be. */
function cellValue(
  column: PartColumn,
  heading: string,
  text: string,
  commas: CommaMeaning | undefined,
): { value: unknown } | { sentence: string } {
  const { meta, curve, list } = column;
  if (list) return { value: text.split(/[\s;,]+/).filter((word) => word !== '') };
  if (curve) {
    const points = text
      .split(';')
      .map((pair) => pair.split(':').map((one) => Number(withoutComma(one.trim(), commas) ?? NaN)));
    return points.every((pair) => pair.length === 2 && pair.every(Number.isFinite))
      ? { value: points }
      : { sentence: `“${text}” is not a curve; write its points as 0:1; 12:0.55.` };
  }
  if (!meta) return { value: text };
  const { unit } = headingParts(heading);
  // A bare number takes the unit of its heading; without one it is in the SI unit.
  const withUnit = /^[-+]?[\d.,]+(?:e[-+]?\d+)?$/i.test(text) && unit !== '' ? `${text} ${unit}` : text;
  const read = parseQuantity(withUnit, meta.unit, commas);
  if (read.ok) return { value: read.value };
  const [problem] = read.problems;
  if (problem?.code === 'ambiguous-quantity') return { sentence: problemSentence(problem) };
  return { sentence: `“${text}” cannot be read as ${meta.quantity} in ${UNITS[meta.unit].symbol || 'plain numbers'}.` };
}

/** What the numbers of a file say of its commas, by the columns that hold numbers. @public */
export function commasOfRows(
  kind: PartKind,
  rows: readonly Readonly<Record<string, string>>[],
  mapping: ColumnMapping,
): FileCommas {
  const numeric = new Set(partColumns(kind).flatMap(({ key, meta, curve }) => (meta && !curve ? [key] : [])));
  const headings = Object.entries(mapping).flatMap(([heading, key]) => (numeric.has(key) ? [heading] : []));
  return commasOf(rows.flatMap((cells) => headings.map((heading) => cells[heading] ?? '')));
}

/**
 * Read rows of text as parts. A row with a fault is refused whole; nothing is guessed.
 *
 * @param rows cells by heading, as a CSV reader gives them.
 * @param commas what a comma means that may mean either (`1,000`); without it such cells are refused.
 * @public
 */
export function readPartRows<K extends PartKind>(
  kind: K,
  rows: readonly Readonly<Record<string, string>>[],
  mapping: ColumnMapping,
  commas?: CommaMeaning,
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
      const read = cellValue(column, heading, text, commas);
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

const cellOf = (value: unknown): string =>
  typeof value === 'string' || typeof value === 'number' ? String(value) : JSON.stringify(value);

/** The points of a curve in one cell; what is no point is kept as it is, to be refused by its own text. */
const curveCell = (points: readonly unknown[]): string =>
  points.map((point) => (Array.isArray(point) ? point.map(cellOf).join(':') : cellOf(point))).join('; ');

/** A part as the cells of a CSV row, by field name, readable again by {@link readPartRows}. @public */
export function partCells(kind: PartKind, part: Readonly<Record<string, unknown>>): Readonly<Record<string, string>> {
  return Object.fromEntries(
    partColumns(kind).map(({ key, curve, list, meta }) => {
      const value = part[key];
      if (value === undefined) return [key, ''];
      if (curve && Array.isArray(value)) return [key, curveCell(value)];
      if (list && Array.isArray(value)) return [key, value.join(' ')];
      // A bare area would be read as square centimetres.
      return [key, typeof value === 'number' && meta?.unit === 'm²' ? `${cellOf(value)} m²` : cellOf(value)];
    }),
  );
}

/** A cell as a table shows it. @public */
export function partCellText({ key, meta, curve, list }: PartColumn, part: Readonly<Record<string, unknown>>): string {
  const value = part[key];
  if (value === undefined || curve) return '';
  if (list && Array.isArray(value)) return value.join(' ');
  if (typeof value === 'number') return meta ? formatQuantity(value, meta.unit, 3) : String(value);
  return typeof value === 'string' ? value : '';
}
