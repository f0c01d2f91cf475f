import Papa from 'papaparse';
import { commasOf, withoutComma, type CommaMeaning } from '../quantity/comma.js';
import { parseQuantity } from '../quantity/engineering.js';
import { CHANNELS, CHANNEL_NAMES, type Channel, type Reading } from './reading.js';

/** Lines read from a text of columns. @public */
export interface ReadReadings {
  readonly readings: readonly Reading[];
  /** Which column was taken for what, in words, to be shown. */
  readonly taken: string;
  /** Of the columns; undefined for what is left aside. */
  readonly columns: readonly (Channel | 'limited' | 'note' | 'at' | undefined)[];
  /** Cells that are no number, by line and column from 1. */
  readonly unread: readonly { readonly line: number; readonly column: number; readonly text: string }[];
}

/** Lines of one paste or file. */
const MOST = 5_000;

/** What heads a column, as people and instruments write it. The first that fits. */
const HEADINGS: readonly (readonly [RegExp, Channel | 'limited' | 'note' | 'at'])[] = [
  [/limit/i, 'limited'],
  [/note|remark|comment/i, 'note'],
  [/^(t|time|at)\b.*\bs\b|^at$|^time/i, 'at'],
  [/temp|°C|^T$/i, 'temperature'],
  [/(Δ|d|delta)\s*i\s*L|inductor.*ripple|ripple.*(inductor|current)/i, 'inductorRipple'],
  [/ripple|pp$/i, 'outputRipple'],
  [/(v|volt).*supply|supply.*(v|volt)|v[_ ]?set/i, 'supplyVoltage'],
  [/(v|volt).*load|load.*(v|volt)/i, 'loadVoltage'],
  [/^(v|u)[_ ]?(in|e)\b|input.*volt/i, 'inputVoltage'],
  [/^i[_ ]?(in|e)\b|input.*curr/i, 'inputCurrent'],
  [/^(v|u)[_ ]?(out|o|a)\b|output.*volt/i, 'outputVoltage'],
  [/^i[_ ]?(out|o|a|load)\b|output.*curr|load.*curr|^load/i, 'outputCurrent'],
];

/** Columns of a text without a heading, by how many there are: the order in which they are written down. */
const USUAL: Readonly<Record<number, readonly Channel[]>> = {
  4: ['inputVoltage', 'inputCurrent', 'outputVoltage', 'outputCurrent'],
  5: ['inputVoltage', 'inputCurrent', 'outputVoltage', 'outputCurrent', 'outputRipple'],
};

const PREFIXES: Readonly<Record<string, number>> = { m: 1e-3, µ: 1e-6, μ: 1e-6, u: 1e-6, k: 1e3 };

/** Factor of the unit in a heading, such as `Iin (mA)`. */
function factorOf(heading: string): number {
  const prefix = /[([/\s](?<prefix>[mµμuk])(?:V|A)(?:pp)?\b/.exec(heading)?.groups?.['prefix'];
  return prefix === undefined ? 1 : (PREFIXES[prefix] ?? 1);
}

/** What stands between the cells: a tab, as a spreadsheet copies; else a semicolon; else a comma that a heading has too; else spaces. */
function delimiterOf(lines: readonly string[]): '\t' | ';' | ',' | ' ' {
  const [first = ''] = lines;
  if (lines.some((line) => line.includes('\t'))) return '\t';
  if (lines.some((line) => line.includes(';'))) return ';';
  if (isHeading(first)) return first.includes(',') ? ',' : ' ';
  // Between numbers a comma with a space in the line is a decimal one.
  return lines.some((line) => /\S\s+\S/.test(line.trim())) ? ' ' : ',';
}

const isHeading = (line: string): boolean => !/^\s*"?[-+]?[\d.,]/.test(line);

/**
 * Read lines of a log as they are pasted from a spreadsheet or come from a file: tabs, semicolons, commas or spaces between the cells,
 * decimal points or commas, with or without a heading, whose words and units are recognised. A cell may carry its unit (`1,25 A`).
 *
 * @param options.columns what each column is, where the designer says so.
 * @param options.commas what a comma means that may mean either.
 * @returns a sentence where there is nothing to read, or it is not said what is what.
 * @public
 */
export function readReadings(
  text: string,
  options: {
    readonly columns?: ReadReadings['columns'] | undefined;
    readonly commas?: CommaMeaning | undefined;
  } = {},
): ReadReadings | string {
  const lines = text.split(/\r\n|\r|\n/).filter((line) => line.trim() !== '' && !/^[#%]/.test(line.trim()));
  if (lines.length === 0) return 'There is nothing to read: paste lines of numbers, with a heading or without.';
  if (lines.length > MOST) return `There are ${String(lines.length)} lines; at most ${String(MOST)} are read at once.`;
  const delimiter = delimiterOf(lines);
  // Quotes and what stands in them are the parser's matter.
  const even = lines.map((line) => (delimiter === ' ' ? line.trim().replace(/\s+/g, ' ') : line)).join('\n');
  const table = Papa.parse<string[]>(even, { delimiter }).data.map((cells) => cells.map((cell) => cell.trim()));
  const [first = []] = table;
  const headed = isHeading(lines[0] ?? '');
  const body = headed ? table.slice(1) : table;
  if (body.length === 0) return 'There is a heading and no line of numbers under it.';
  const width = Math.max(...body.map((cells) => cells.length));
  const columns = options.columns ?? (headed ? first.map(columnOf) : USUAL[width]);
  if (columns === undefined)
    return `The text has ${String(width)} columns and no heading: put one above it that names them, such as Vin, Iin, Vout, Iout (those four are taken without).`;
  if (!columns.some((column) => column !== undefined && column in CHANNELS))
    return `None of the headings ${first.map((cell) => `“${cell}”`).join(', ')} names a reading: ${CHANNEL_NAMES.map((name) => CHANNELS[name].short).join(', ')}.`;
  const { settled, ambiguous } = commasOf(body.flat());
  // A table whose comma may be either is taken by what most such tables mean: three digits behind a comma are a fraction of an ampere.
  const meaning = options.commas ?? settled ?? 'decimal';
  const unread: { line: number; column: number; text: string }[] = [];
  const readings = body.map((cells, k): Reading => {
    const reading: Record<string, number | boolean | string> = {};
    cells.forEach((cell, c) => {
      const column = columns[c];
      if (column === undefined || cell === '') return;
      if (column === 'note') reading['note'] = cell.slice(0, 500);
      else if (column === 'limited') reading['limited'] = /^(1|true|yes|ja|x|limit|cc)$/i.test(cell);
      else {
        const value = numberIn(cell, column, meaning, headed ? factorOf(first[c] ?? '') : 1);
        if (value === undefined) unread.push({ line: k + 1 + (headed ? 1 : 0), column: c + 1, text: cell });
        else reading[column] = value;
      }
    });
    return reading;
  });
  const named = columns.flatMap((column, c) =>
    column === undefined
      ? []
      : [`${column in CHANNELS ? CHANNELS[column as Channel].short : column} from column ${String(c + 1)}`],
  );
  return {
    readings,
    columns,
    unread,
    taken: `${String(readings.length)} line${readings.length === 1 ? '' : 's'}, decimal ${meaning === 'decimal' && /\d,\d/.test(text) && delimiter !== ',' ? 'comma' : 'point'}; ${named.join(', ')}${
      ambiguous !== undefined && settled === undefined && delimiter !== ','
        ? `; “${ambiguous}” was read as ${withoutComma(ambiguous, meaning) ?? ambiguous}`
        : ''
    }`,
  };
}

const columnOf = (heading: string): ReadReadings['columns'][number] =>
  HEADINGS.find(([pattern]) => pattern.test(heading.trim()))?.[1];

/** The number in a cell, in SI units. The factor of a heading's unit is for bare numbers: a cell that carries its own unit means that. */
function numberIn(cell: string, column: Channel | 'at', commas: CommaMeaning, factor: number): number | undefined {
  const plain = withoutComma(cell, commas) ?? cell;
  if (/^[-+]?(\d+\.?\d*|\.\d+)(e[-+]?\d+)?$/i.test(plain)) return Number(plain) * factor;
  const read = parseQuantity(plain, column === 'at' ? 's' : CHANNELS[column].unit);
  return read.ok ? read.value : undefined;
}
