import {
  PART_BATCH,
  PART_KINDS,
  partCells,
  partColumns,
  readPartRows,
  type ColumnMapping,
  type LibraryPart,
  type PartKind,
  type CommaMeaning,
  type ReadParts,
} from '@yundro/core';
import Papa from 'papaparse';
import { download } from '../shown/download';

/** Rows of text as a file holds them, whatever its format. */
export interface PartTable {
  readonly fileName: string;
  readonly headings: readonly string[];
  readonly rows: readonly Readonly<Record<string, string>>[];
}

/** A part of a JSON file as cells, so that it takes the same way in as a row of CSV. */
function cellsOf(kind: PartKind, part: unknown): Readonly<Record<string, string>> {
  const known = partCells(kind, part as Record<string, unknown>);
  const keys = Object.keys(part as Record<string, unknown>);
  // What the library does not know still gets a column, so that the designer sees that it is left out.
  return Object.fromEntries(keys.map((key) => [key, known[key] ?? String((part as Record<string, unknown>)[key])]));
}

/** Read a CSV or JSON file of parts into a table of text. @throws Error with a sentence when it is neither. */
export async function tableFromFile(kind: PartKind, file: File): Promise<PartTable> {
  const text = await file.text();
  if (/^\s*[[{]/.test(text)) {
    let content: unknown;
    try {
      content = JSON.parse(text);
    } catch {
      throw new Error(`${file.name} starts like JSON and is not complete.`);
    }
    const list = Array.isArray(content) ? content : (content as { parts?: unknown }).parts;
    if (!Array.isArray(list) || !list.every((part) => typeof part === 'object' && part !== null))
      throw new Error(`${file.name} holds no list of parts.`);
    const rows = list.map((part: unknown) => cellsOf(kind, part));
    return { fileName: file.name, headings: [...new Set(rows.flatMap((row) => Object.keys(row)))], rows };
  }
  const { data, meta } = Papa.parse<Record<string, string>>(text, {
    header: true,
    skipEmptyLines: 'greedy',
    transform: undefused,
  });
  const headings = (meta.fields ?? []).filter((heading) => heading.trim() !== '');
  if (headings.length === 0 || data.length === 0) throw new Error(`${file.name} holds no table with a heading row.`);
  return { fileName: file.name, headings, rows: data };
}

/** The parts of a table by a mapping, and the rows refused. */
export const partsOfTable = (
  kind: PartKind,
  { rows }: PartTable,
  mapping: ColumnMapping,
  commas?: CommaMeaning,
): ReadParts<PartKind> => readPartRows(kind, rows, mapping, commas);

/** What a spreadsheet would run as a formula: text that begins like one and is no number. */
const FORMULA = /^(?:[=@\t\r]|[+-](?!(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?$))/i;

/** A cell of ours without the mark that kept it from being run. */
const undefused = (cell: string): string =>
  cell.startsWith("'") && FORMULA.test(cell.slice(1)) ? cell.slice(1) : cell;

/** Characters of a batch: below what the server takes in one request. */
const BATCH_TEXT = 600_000;

/** Parts in batches that the server takes: neither too many nor too long. */
export function batchesOf<T>(parts: readonly T[]): readonly (readonly T[])[] {
  const batches: T[][] = [];
  let room = 0;
  for (const part of parts) {
    const length = JSON.stringify(part).length;
    const last = batches.at(-1);
    if (last && last.length < PART_BATCH && length <= room) {
      last.push(part);
      room -= length;
    } else {
      batches.push([part]);
      room = BATCH_TEXT - length;
    }
  }
  return batches;
}

/** A table as CSV; what a spreadsheet would run is marked as text. */
export const csvOf = (fields: readonly string[], data: readonly (readonly string[])[]): string =>
  Papa.unparse({ fields: [...fields], data: data.map((row) => [...row]) }, { escapeFormulae: FORMULA });

/** Hand parts out as CSV, with the unit of each column in its heading, or as JSON. */
export function exportParts(kind: PartKind, parts: readonly LibraryPart[], format: 'csv' | 'json'): void {
  if (format === 'json') {
    download(
      `${kind}s.json`,
      'application/json',
      JSON.stringify(
        parts.map(({ part }) => part),
        null,
        2,
      ),
    );
    return;
  }
  const fields = partColumns(kind).map(({ key }) => key);
  const data = parts.map(({ part }) => {
    const cells = partCells(kind, part);
    return fields.map((key) => cells[key] ?? '');
  });
  download(`${kind}s.csv`, 'text/csv', csvOf(fields, data));
}

export const isPartKind = (text: string | null): text is PartKind => PART_KINDS.some((kind) => kind === text);
