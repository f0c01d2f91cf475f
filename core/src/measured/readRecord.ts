import { headingsOf, numericColumns } from './numericColumns.js';
import { factorOf } from './readWaveform.js';

/** A record of an oscilloscope: time, and one or more traces. @public */
export interface ReadRecord {
  /** s, ascending. */
  readonly time: Float64Array;
  readonly traces: readonly { readonly heading: string; readonly values: Float64Array }[];
  /** How the text was taken, to be shown. */
  readonly taken: string;
}

/** Points of one record. */
const MOST = 200_000;
const MOST_TRACES = 8;

/**
 * Read a record of several traces, the first column its time; delimiter, decimal comma and prefixes of the headings are recognised.
 *
 * @returns a sentence for what is wrong and where.
 * @public
 */
export function readRecord(text: string): ReadRecord | string {
  const table = numericColumns(text, {
    expected: 'time and one trace or more',
    least: 2,
    most: MOST,
    commas: undefined,
  });
  if (typeof table === 'string') return table;
  const { rows, number } = table;
  const headings = headingsOf(table);
  const columns = Math.min(table.width, MOST_TRACES + 1);
  const read = Array.from({ length: columns }, () => new Float64Array(rows.length));
  const factors = headings.map((heading) => factorOf(heading));
  for (const [k, { line, cells }] of rows.entries()) {
    for (let c = 0; c < columns; c += 1) {
      const value = number(cells[c]);
      if (!Number.isFinite(value))
        return `Line ${String(line)}, column ${String(c + 1)} has “${cells[c] ?? ''}”; it must be a number.`;
      (read[c] as Float64Array)[k] = (factors[c] ?? 1) * value;
    }
    if (k > 0 && (read[0]?.[k] ?? 0) <= (read[0]?.[k - 1] ?? 0)) return `Line ${String(line)} does not go on in time.`;
  }
  const [time = new Float64Array(), ...traces] = read;
  return {
    time,
    traces: traces.map((values, c) => ({ heading: headings[c + 1] ?? '', values })),
    taken: `${String(rows.length)} points of ${String(traces.length)} trace${traces.length === 1 ? '' : 's'}, ${table.between} between, decimal ${table.decimal}`,
  };
}
