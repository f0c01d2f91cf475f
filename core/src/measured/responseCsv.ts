import { decibels, type Complex } from '../linalg/complex.js';
import type { LoopPoint } from '../smallsignal/loopResponse.js';
import { unwrapped } from '../smallsignal/margins.js';

/** A response to be written: its heading and its values, one for each frequency. */
export interface WrittenResponse {
  readonly words: string;
  readonly values: readonly Complex[];
}

/** Responses as text of columns: frequency in Hz, then dB and degrees of each, phases without jumps. @public */
export function responseCsv(frequencies: readonly number[], responses: readonly WrittenResponse[]): string {
  const heads = responses.flatMap(({ words }) => [`${words} (dB)`, `${words} phase (degrees)`]);
  const phases = responses.map(({ values }) => unwrapped(values));
  const rows = frequencies.map((frequency, k) =>
    [
      frequency,
      ...responses.flatMap(({ values }, r) => {
        const value = values[k];
        return [value ? decibels(value) : NaN, phases[r]?.[k] ?? NaN];
      }),
    ].join(','),
  );
  return `${[['frequency (Hz)', ...heads].join(','), ...rows].join('\n')}\n`;
}

/** The responses of a loop as they are written, in order. */
const LOOP_COLUMNS = [
  ['plant', 'plant'],
  ['compensator', 'compensator'],
  ['loop', 'loop gain'],
  ['outputImpedance', 'output impedance (ohm)'],
  ['line', 'input to output'],
  ['inductorCurrent', 'control to inductor current (A/V)'],
] as const;

/** Every response of a loop as text of columns. @public */
export const loopCsv = (points: readonly LoopPoint[]): string =>
  responseCsv(
    points.map(({ frequency }) => frequency),
    LOOP_COLUMNS.map(([of, words]) => ({ words, values: points.map((point) => point[of]) })),
  );
