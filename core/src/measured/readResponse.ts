import type { Complex } from '../linalg/complex.js';
import { commasOf, withoutComma, type CommaMeaning } from '../quantity/comma.js';
import type { ResponsePoint } from '../smallsignal/margins.js';
import { chosenColumns, stemOf, type ResponseColumns } from './responseColumns.js';

/** A response read from a text of columns. @public */
export interface ReadResponse {
  readonly points: readonly ResponsePoint[];
  /** How the text was taken, to be shown: delimiter, decimal sign, columns. */
  readonly taken: string;
  /** The columns of the file: their headings, or their numbers where it has none. */
  readonly headings: readonly string[];
  readonly columns: ResponseColumns;
  /** Where commas may be decimal signs or marks of thousands: how they were taken, and the first such cell. */
  readonly commas: { readonly meaning: CommaMeaning; readonly example: string } | undefined;
}

/** What an analyser calls the phase of a loop: that of the loop gain, or what is left of it to the limit. @public */
export type PhaseConvention = 'loop-gain' | 'margin';

/** What the designer says of a file; the rest is read off it. @public */
export interface ResponseReading {
  /** What the phase column holds; with `margin` 0° is the limit and 180° are taken off. */
  readonly convention?: PhaseConvention;
  readonly columns?: ResponseColumns | undefined;
  /** What a comma means that may mean either. */
  readonly commas?: CommaMeaning | undefined;
}

const DELIMITERS = [
  ['\t', 'tabs'],
  [';', 'semicolons'],
  [',', 'commas'],
] as const;
const PREFIXES: Readonly<Record<string, number>> = { k: 1e3, M: 1e6, G: 1e9, m: 1e-3 };
/** Points a response may have: more are not a response of this kind. */
const MOST = 20_000;

const unquoted = (cell: string): string => cell.trim().replace(/^"|"$/g, '').trim();

/** A number with a decimal point or a decimal comma; NaN for anything else. */
const numberOf = (text: string, commas: CommaMeaning | undefined = 'decimal'): number => {
  const cell = unquoted(text);
  return /^[-+]?[\d.,]+(?:[eE][-+]?\d+)?$/.test(cell) ? Number(withoutComma(cell, commas)) : NaN;
};

/** What stands between the columns: what splits most lines into numbers, three columns at least. */
function delimiterOf(lines: readonly string[]): (typeof DELIMITERS)[number] | readonly [RegExp, string] {
  const candidates = [...DELIMITERS, [/\s+/, 'spaces'] as const];
  const score = ([delimiter]: (typeof candidates)[number]): number =>
    lines.filter((line) => {
      const cells = line.trim().split(delimiter);
      return cells.length >= 3 && cells.slice(0, 3).every((cell) => Number.isFinite(numberOf(cell)));
    }).length;
  return candidates.reduce((best, one) => (score(one) > score(best) ? one : best), candidates[0] ?? [',', 'commas']);
}

/** Factor of a unit in a heading, such as `Frequency (kHz)`. */
function prefixOf(heading: string): number {
  const prefix = /(?<prefix>[kMGm])Hz/.exec(heading)?.groups?.['prefix'];
  return prefix === undefined ? 1 : (PREFIXES[prefix] ?? 1);
}

/**
 * Read a measured gain and phase: columns of frequency, dB and degrees, with or without a heading. Delimiter and decimal comma are
 * recognised; a heading may name the columns in any order, and kHz, MHz or rad. Of a file with several responses the loop's is
 * taken, else the first.
 *
 * @returns the points by ascending frequency, or a sentence for what is wrong and where.
 * @public
 */
export function readResponse(text: string, reading: ResponseReading = {}): ReadResponse | string {
  const convention = reading.convention ?? 'loop-gain';
  const lines = text.split(/\r\n|\r|\n/);
  const [delimiter, words] = delimiterOf(lines);
  const cellsOf = (line: string): readonly string[] => line.trim().split(delimiter);
  const isData = (line: string): boolean => Number.isFinite(numberOf(cellsOf(line)[0] ?? ''));
  const first = lines.findIndex(isData);
  if (first < 0)
    return 'The file has no line that begins with a number; expected are columns of frequency, dB and degrees.';
  const width = cellsOf(lines[first] ?? '').length;
  const heading = first > 0 ? cellsOf(lines[first - 1] ?? '').map(unquoted) : [];
  const named = chosenColumns(heading);
  const chosen = reading.columns ?? named ?? { frequency: 0, gain: 1, phase: 2 };
  const rows = lines.slice(first).flatMap((line, k) => {
    const blank = line.trim() === '' || /^[#%]/.test(line.trim());
    return blank ? [] : [{ line: first + k + 1, cells: cellsOf(line) }];
  });
  if (rows.length > MOST) return `The file has more than ${String(MOST)} points.`;
  const { settled, ambiguous } = commasOf(rows.flatMap(({ cells }) => cells.map(unquoted)));
  const meaning = reading.commas ?? settled ?? 'decimal';
  const headed = heading.length === width ? heading : [];
  const scale = prefixOf(headed[chosen.frequency] ?? '');
  const radians = /\brad\b/i.test(headed[chosen.phase] ?? '');
  const points: ResponsePoint[] = [];
  for (const { line, cells } of rows) {
    const frequency = scale * numberOf(cells[chosen.frequency] ?? '', meaning);
    const gain = numberOf(cells[chosen.gain] ?? '', meaning);
    const phase = numberOf(cells[chosen.phase] ?? '', meaning);
    const at = `Line ${String(line)}`;
    if (!(frequency > 0))
      return `${at} has the frequency “${cells[chosen.frequency] ?? ''}”; it must be a number above 0 Hz.`;
    if (!Number.isFinite(gain)) return `${at} has the gain “${cells[chosen.gain] ?? ''}”; it must be a number in dB.`;
    if (!Number.isFinite(phase))
      return `${at} has the phase “${cells[chosen.phase] ?? ''}”; it must be a number in degrees.`;
    points.push({ frequency, value: polar(gain, radians ? (phase * 180) / Math.PI : phase, convention) });
  }
  if (points.length < 2) return 'The file has fewer than two points.';
  points.sort((a, b) => a.frequency - b.frequency);
  const comma = settled === 'decimal' || (ambiguous !== undefined && meaning === 'decimal') ? 'comma' : 'point';
  const headings = Array.from({ length: width }, (_, k) => headed[k] ?? `column ${String(k + 1)}`);
  const stem = headed.length > 0 ? stemOf(headed[chosen.gain] ?? '') : '';
  const columns =
    reading.columns !== undefined || (named && headed.length > 0)
      ? `columns by their headings${stem === '' ? '' : `: ${stem}`}`
      : 'columns taken as frequency, dB, degrees';
  return {
    points,
    taken: `${String(points.length)} points, ${words} between, decimal ${comma}, ${columns}`,
    headings,
    columns: chosen,
    commas: ambiguous !== undefined && settled === undefined ? { meaning, example: ambiguous } : undefined,
  };
}

function polar(decibels: number, degrees: number, convention: PhaseConvention): Complex {
  const size = 10 ** (decibels / 20);
  const angle = ((convention === 'margin' ? degrees - 180 : degrees) * Math.PI) / 180;
  return { re: size * Math.cos(angle), im: size * Math.sin(angle) };
}
