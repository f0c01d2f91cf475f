/** Which column of a file holds what, counted from 0. @public */
export interface ResponseColumns {
  readonly frequency: number;
  readonly gain: number;
  readonly phase: number;
}

const FREQUENCY = /freq|^f\b|hz\b/i;
const GAIN = /gain|mag|ampl|\bdb\b/i;
const PHASE = /phase|deg|°|\brad\b/i;
const LOOP = /\bloop\b/i;

/** What a heading names, without its unit and the word for gain or phase: `loop gain phase (degrees)` is `loop`. */
export const stemOf = (heading: string): string =>
  (heading.split(/[([]/)[0] ?? '')
    .replace(/\b(?:gain|magnitude|amplitude|phase|db|deg|degrees|rad)\b/gi, '')
    .replace(/\s+/g, ' ')
    .trim()
    .toLowerCase();

/**
 * The columns of the response that a file is about, by its headings: the loop's where it holds several, else the first; the phase
 * is that of the same response.
 *
 * @returns undefined where the headings do not name a frequency, a gain and a phase.
 */
export function chosenColumns(headings: readonly string[]): ResponseColumns | undefined {
  const at = headings.map((heading, column) => ({ heading, column }));
  const frequency = at.find(({ heading }) => FREQUENCY.test(heading))?.column;
  const phases = at.filter(({ heading, column }) => column !== frequency && PHASE.test(heading));
  const gains = at.filter(({ heading, column }) => column !== frequency && GAIN.test(heading) && !PHASE.test(heading));
  const gain = gains.find(({ heading }) => LOOP.test(heading)) ?? gains[0];
  const phase = phases.find(({ heading }) => gain && stemOf(heading) === stemOf(gain.heading)) ?? phases[0];
  return frequency === undefined || !gain || !phase ? undefined : { frequency, gain: gain.column, phase: phase.column };
}
