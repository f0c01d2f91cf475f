import type { CommaMeaning } from '../quantity/comma.js';
import { headingsOf, numericColumns } from './numericColumns.js';

/** A waveform read from a text of columns. @public */
export interface ReadWaveform {
  /** s, ascending. */
  readonly time: Float64Array;
  /** V or A, as the file has it. */
  readonly value: Float64Array;
  /** How the text was taken, to be shown. */
  readonly taken: string;
  readonly headings: readonly string[];
  readonly column: number;
}

/** Points of one waveform: more than a long record of an oscilloscope. */
const MOST = 1_000_000;
const PREFIXES: Readonly<Record<string, number>> = { n: 1e-9, u: 1e-6, µ: 1e-6, μ: 1e-6, m: 1e-3, k: 1e3 };
const TIME = /time|^t\b|second/i;

/** Factor of the unit in a heading, such as `time (µs)` or `CH1 [mV]`. */
export function factorOf(heading: string): number {
  const prefix = /[([\s](?<prefix>[nuµμmk])(?:s|V|A)\b/.exec(heading)?.groups?.['prefix'];
  return prefix === undefined ? 1 : (PREFIXES[prefix] ?? 1);
}

/**
 * Read a waveform as an oscilloscope writes it: a column of time and one or more of values, with or without a heading; delimiter and
 * decimal comma are recognised, and ms, µs, ns, mV and mA of a heading.
 *
 * @param column which holds the values; the first after the time's where it is not said.
 * @returns a sentence for what is wrong and where.
 * @public
 */
export function readWaveform(
  text: string,
  { column, commas }: { readonly column?: number | undefined; readonly commas?: CommaMeaning | undefined } = {},
): ReadWaveform | string {
  const table = numericColumns(text, { expected: 'time and voltage', least: 2, most: MOST, commas });
  if (typeof table === 'string') return table;
  const { rows, headings, number } = table;
  const at = Math.max(
    0,
    headings.findIndex((heading) => TIME.test(heading)),
  );
  const from = column ?? (at === 0 ? 1 : 0);
  const perTime = factorOf(headings[at] ?? '');
  const perValue = factorOf(headings[from] ?? '');
  const time = new Float64Array(rows.length);
  const value = new Float64Array(rows.length);
  for (const [k, { line, cells }] of rows.entries()) {
    const t = number(cells[at]);
    const v = number(cells[from]);
    if (!Number.isFinite(t))
      return `Line ${String(line)} has the time “${cells[at] ?? ''}”; it must be a number in seconds.`;
    if (!Number.isFinite(v)) return `Line ${String(line)} has the value “${cells[from] ?? ''}”; it must be a number.`;
    time[k] = perTime * t;
    value[k] = perValue * v;
    if (k > 0 && time[k] < (time[k - 1] as number)) return `Line ${String(line)} goes back in time.`;
  }
  if (rows.length < 2) return 'The file has fewer than two points.';
  const all = headingsOf(table);
  return {
    time,
    value,
    taken: `${String(rows.length)} points, ${table.between} between, decimal ${table.decimal}, ${all[from] ?? ''} against ${all[at] ?? ''}`,
    headings: all,
    column: from,
  };
}
