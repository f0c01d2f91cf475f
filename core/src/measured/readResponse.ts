import type { Complex } from '../linalg/complex.js';
import type { ResponsePoint } from '../smallsignal/margins.js';

/** A response read from a text of columns. */
export interface ReadResponse {
  readonly points: readonly ResponsePoint[];
  /** How the text was taken, to be shown: delimiter, decimal sign, columns. */
  readonly taken: string;
}

/** What an analyser calls the phase of a loop: that of the loop gain, or what is left of it to the limit. */
export type PhaseConvention = 'loop-gain' | 'margin';

const DELIMITERS = [
  ['\t', 'tabs'],
  [';', 'semicolons'],
  [',', 'commas'],
] as const;
const FREQUENCY = /freq|^f\b|hz\b/i;
const GAIN = /gain|mag|ampl|\bdb\b/i;
const PHASE = /phase|deg|°|\brad\b/i;
const PREFIXES: Readonly<Record<string, number>> = { k: 1e3, M: 1e6, G: 1e9, m: 1e-3 };
/** Points a response may have: more are not a response of this kind. */
const MOST = 20_000;

/** A number with a decimal point or a decimal comma. */
const numberOf = (text: string): number => {
  const trimmed = text.trim().replace(/^"|"$/g, '').trim();
  return /^[-+]?[\d.,]+(?:[eE][-+]?\d+)?$/.test(trimmed) ? Number(trimmed.replace(',', '.')) : NaN;
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
 * recognised; a heading may name the columns in any order, and kHz, MHz or rad.
 *
 * @param convention what the phase column holds; with `margin` 0° is the limit and 180° are taken off.
 * @returns the points by ascending frequency, or a sentence for what is wrong and where.
 */
export function readResponse(text: string, convention: PhaseConvention = 'loop-gain'): ReadResponse | string {
  const lines = text.split(/\r\n|\r|\n/);
  const [delimiter, words] = delimiterOf(lines);
  const cellsOf = (line: string): readonly string[] => line.trim().split(delimiter);
  const isData = (line: string): boolean => Number.isFinite(numberOf(cellsOf(line)[0] ?? ''));
  const first = lines.findIndex(isData);
  if (first < 0)
    return 'The file has no line that begins with a number; expected are columns of frequency, dB and degrees.';
  const heading = cellsOf(lines[first - 1] ?? '').map((cell) => cell.trim().replace(/^"|"$/g, ''));
  const named = (pattern: RegExp, taken: readonly number[]): number =>
    heading.findIndex((cell, k) => pattern.test(cell) && !taken.includes(k));
  const f = named(FREQUENCY, []);
  const p = named(PHASE, [f]);
  const g = named(GAIN, [f, p]);
  const byName = f >= 0 && g >= 0 && p >= 0;
  const [atF, atG, atP] = byName ? [f, g, p] : [0, 1, 2];
  const scale = byName ? prefixOf(heading[f] ?? '') : 1;
  const radians = byName && /\brad\b/i.test(heading[p] ?? '');
  const points: ResponsePoint[] = [];
  for (let k = first; k < lines.length; k += 1) {
    const line = lines[k] ?? '';
    if (line.trim() === '' || /^[#%]/.test(line.trim())) continue;
    const cells = cellsOf(line);
    const frequency = scale * numberOf(cells[atF] ?? '');
    const gain = numberOf(cells[atG] ?? '');
    const phase = numberOf(cells[atP] ?? '');
    const at = `Line ${String(k + 1)}`;
    if (!(frequency > 0)) return `${at} has the frequency “${cells[atF] ?? ''}”; it must be a number above 0 Hz.`;
    if (!Number.isFinite(gain)) return `${at} has the gain “${cells[atG] ?? ''}”; it must be a number in dB.`;
    if (!Number.isFinite(phase)) return `${at} has the phase “${cells[atP] ?? ''}”; it must be a number in degrees.`;
    points.push({ frequency, value: polar(gain, radians ? (phase * 180) / Math.PI : phase, convention) });
    if (points.length > MOST) return `The file has more than ${String(MOST)} points.`;
  }
  if (points.length < 2) return 'The file has fewer than two points.';
  points.sort((a, b) => a.frequency - b.frequency);
  const comma = typeof delimiter !== 'string' || delimiter !== ',' ? /\d,\d/.test(lines[first] ?? '') : false;
  const columns = byName ? `columns by their headings` : 'columns taken as frequency, dB, degrees';
  return {
    points,
    taken: `${String(points.length)} points, ${words} between, decimal ${comma ? 'comma' : 'point'}, ${columns}`,
  };
}

function polar(decibels: number, degrees: number, convention: PhaseConvention): Complex {
  const size = 10 ** (decibels / 20);
  const angle = ((convention === 'margin' ? degrees - 180 : degrees) * Math.PI) / 180;
  return { re: size * Math.cos(angle), im: size * Math.sin(angle) };
}
