import type { Complex } from '../linalg/complex.js';
import type { CommaMeaning } from '../quantity/comma.js';
import type { ResponsePoint } from '../smallsignal/margins.js';
import { headingsOf, numericColumns } from './numericColumns.js';
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

const PREFIXES: Readonly<Record<string, number>> = { k: 1e3, M: 1e6, G: 1e9, m: 1e-3 };
/** Points a response may have: more are not a response of this kind. */
const MOST = 20_000;

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
  const table = numericColumns(text, {
    expected: 'frequency, dB and degrees',
    least: 3,
    most: MOST,
    commas: reading.commas,
  });
  if (typeof table === 'string') return table;
  const { rows, headings: headed, number } = table;
  const named = chosenColumns(headed);
  const chosen = reading.columns ?? named ?? { frequency: 0, gain: 1, phase: 2 };
  const scale = prefixOf(headed[chosen.frequency] ?? '');
  const radians = /\brad\b/i.test(headed[chosen.phase] ?? '');
  const points: ResponsePoint[] = [];
  for (const { line, cells } of rows) {
    const frequency = scale * number(cells[chosen.frequency]);
    const gain = number(cells[chosen.gain]);
    const phase = number(cells[chosen.phase]);
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
  const stem = headed.length > 0 ? stemOf(headed[chosen.gain] ?? '') : '';
  const columns =
    reading.columns !== undefined || (named && headed.length > 0)
      ? `columns by their headings${stem === '' ? '' : `: ${stem}`}`
      : 'columns taken as frequency, dB, degrees';
  return {
    points,
    taken: `${String(points.length)} points, ${table.between} between, decimal ${table.decimal}, ${columns}`,
    headings: headingsOf(table),
    columns: chosen,
    commas: table.commas,
  };
}

function polar(decibels: number, degrees: number, convention: PhaseConvention): Complex {
  const size = 10 ** (decibels / 20);
  const angle = ((convention === 'margin' ? degrees - 180 : degrees) * Math.PI) / 180;
  return { re: size * Math.cos(angle), im: size * Math.sin(angle) };
}
