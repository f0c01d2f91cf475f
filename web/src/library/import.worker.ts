import {
  commasOfRows,
  type ColumnMapping,
  type CommaMeaning,
  type FileCommas,
  type PartKind,
  type RefusedRow,
} from '@yundro/core';
import { expose } from 'comlink';
import { batchesOf, partsOfTable, tableFromFile, type PartTable } from './partFiles';

/** What the page needs of a file to ask where its columns go. */
export interface OpenedTable {
  readonly fileName: string;
  readonly headings: readonly string[];
  readonly first: Readonly<Record<string, string>>;
  readonly rows: number;
}

/** What comes of a file by a mapping. */
export interface ReadTable {
  readonly parts: number;
  readonly batches: number;
  /** The first of the faults, and the rows that have one. */
  readonly refused: readonly RefusedRow[];
  readonly faults: number;
  readonly refusedRows: number;
  readonly commas: FileCommas;
}

/** Faults handed to the page; the rest are counted. */
const LISTED = 50;

let table: PartTable | undefined;
let batches: readonly (readonly unknown[])[] = [];

/** Reads a file of parts off the page's thread, and keeps its rows: a page only needs to know what came of them. */
const importing = {
  /** @throws Error with a sentence where the file holds no parts. */
  async open(kind: PartKind, file: File): Promise<OpenedTable> {
    table = await tableFromFile(kind, file);
    const { fileName, headings, rows } = table;
    return { fileName, headings, first: rows[0] ?? {}, rows: rows.length };
  },
  read(kind: PartKind, mapping: ColumnMapping, said: CommaMeaning | undefined): ReadTable {
    if (!table) throw new Error('No file is open.');
    const commas = commasOfRows(kind, table.rows, mapping);
    const { parts, refused } = partsOfTable(kind, table, mapping, said ?? commas.settled);
    batches = batchesOf(parts);
    return {
      parts: parts.length,
      batches: batches.length,
      refused: refused.slice(0, LISTED),
      faults: refused.length,
      refusedRows: new Set(refused.map(({ row }) => row)).size,
      commas,
    };
  },
  /** One batch of what was read last. */
  batch: (index: number): readonly unknown[] => batches[index] ?? [],
};

export type Importing = typeof importing;

expose(importing);
