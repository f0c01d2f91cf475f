import { commasOf, withoutComma, type CommaMeaning } from '../quantity/comma.js';

/** Columns of numbers in a text, as an instrument writes them: delimiter, decimal sign and heading are recognised. */
export interface NumericColumns {
  /** Cells of the lines that hold numbers, with the number of the line, from 1. */
  readonly rows: readonly { readonly line: number; readonly cells: readonly string[] }[];
  /** Headings, one to a column; empty where the file has none. */
  readonly headings: readonly string[];
  readonly width: number;
  /** What stands between the columns. */
  readonly between: string;
  /** What stands before the fraction. */
  readonly decimal: 'comma' | 'point';
  /** Where commas may be decimal signs or marks of thousands: how they were taken, and the first such cell. */
  readonly commas: { readonly meaning: CommaMeaning; readonly example: string } | undefined;
  /** A cell as a number; NaN for anything else. */
  readonly number: (cell: string | undefined) => number;
}

const DELIMITERS = [
  ['\t', 'tabs'],
  [';', 'semicolons'],
  [',', 'commas'],
] as const;

const unquoted = (cell: string): string => cell.trim().replace(/^"|"$/g, '').trim();

/** A number with a decimal point or a decimal comma; NaN for anything else. */
const numberOf = (text: string, commas: CommaMeaning | undefined = 'decimal'): number => {
  const cell = unquoted(text);
  return /^[-+]?[\d.,]+(?:[eE][-+]?\d+)?$/.test(cell) ? Number(withoutComma(cell, commas)) : NaN;
};

/** Lines looked at to see what stands between the columns. */
const LOOKED_AT = 2000;

/** What stands between the columns: what splits most lines into numbers, so many columns at least. */
function delimiterOf(lines: readonly string[], least: number): (typeof DELIMITERS)[number] | readonly [RegExp, string] {
  const candidates = [...DELIMITERS, [/\s+/, 'spaces'] as const];
  const looked = lines.slice(0, LOOKED_AT);
  const score = ([delimiter]: (typeof candidates)[number]): number =>
    looked.filter((line) => {
      const cells = line.trim().split(delimiter);
      return cells.length >= least && cells.slice(0, least).every((cell) => Number.isFinite(numberOf(cell)));
    }).length;
  return candidates.reduce((best, one) => (score(one) > score(best) ? one : best), candidates[0] ?? [',', 'commas']);
}

/**
 * Read columns of numbers.
 *
 * @param expected the columns in words, for the sentence where there are none.
 * @param least columns that there are at least.
 * @param most lines of numbers that are read.
 * @returns a sentence where there are no numbers, or too many.
 */
export function numericColumns(
  text: string,
  {
    expected,
    least,
    most,
    commas,
  }: {
    readonly expected: string;
    readonly least: number;
    readonly most: number;
    readonly commas: CommaMeaning | undefined;
  },
): NumericColumns | string {
  const lines = text.split(/\r\n|\r|\n/);
  const [delimiter, between] = delimiterOf(lines, least);
  const cellsOf = (line: string): readonly string[] => line.trim().split(delimiter);
  const first = lines.findIndex((line) => Number.isFinite(numberOf(cellsOf(line)[0] ?? '')));
  if (first < 0) return `The file has no line that begins with a number; expected are columns of ${expected}.`;
  const width = cellsOf(lines[first] ?? '').length;
  const heading = first > 0 ? cellsOf(lines[first - 1] ?? '').map(unquoted) : [];
  const rows = lines.slice(first).flatMap((line, k) => {
    const blank = line.trim() === '' || /^[#%]/.test(line.trim());
    return blank ? [] : [{ line: first + k + 1, cells: cellsOf(line) }];
  });
  if (rows.length > most) return `The file has more than ${String(most)} points.`;
  const { settled, ambiguous } = commasOf(rows.flatMap(({ cells }) => cells.map(unquoted)));
  const meaning = commas ?? settled ?? 'decimal';
  return {
    rows,
    headings: heading.length === width ? heading : [],
    width,
    between,
    decimal: settled === 'decimal' || (ambiguous !== undefined && meaning === 'decimal') ? 'comma' : 'point',
    commas: ambiguous !== undefined && settled === undefined ? { meaning, example: ambiguous } : undefined,
    number: (cell) => numberOf(cell ?? '', meaning),
  };
}

/** The headings, or the numbers of the columns where there are none. */
export const headingsOf = ({ headings, width }: NumericColumns): readonly string[] =>
  Array.from({ length: width }, (_, k) => headings[k] ?? `column ${String(k + 1)}`);
