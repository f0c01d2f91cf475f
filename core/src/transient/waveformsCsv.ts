import type { Waveforms } from './recorder.js';

/** Waveforms as CSV: time, then a column each; where points stand for more than one, the least and the greatest. @public */
export function waveformsCsv({ time, signals }: Waveforms): string {
  const columns = signals.flatMap(({ name, unit, least, most }) =>
    least.every((value, i) => value === most[i])
      ? [{ heading: `${name} (${unit})`, values: least }]
      : [
          { heading: `${name} least (${unit})`, values: least },
          { heading: `${name} greatest (${unit})`, values: most },
        ],
  );
  const lines = Array.from(time, (t, i) => [t, ...columns.map(({ values }) => values[i] ?? 0)].join(','));
  return `${['time (s)', ...columns.map(({ heading }) => heading)].join(',')}\n${lines.join('\n')}\n`;
}
