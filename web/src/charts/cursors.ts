import type { PictureData } from './reading';
import { readAt, written } from './reading';

/** Letters of the cursors. */
export const CURSOR_LETTERS = ['A', 'B'] as const;

/** Another cursor: the first, the second, and then the first anew. */
export const withCursor = (cursors: readonly number[], at: number): readonly number[] =>
  cursors.length >= CURSOR_LETTERS.length ? [at] : [...cursors, at];

/** What the cursors say: where they stand; and of two the distance, with its reciprocal over time, and by how much each curve differs. */
export function cursorWords(
  cursors: readonly number[],
  { x, y, curves }: Pick<PictureData, 'x' | 'y' | 'curves'>,
): string {
  const log = x.logarithmic === true;
  const places = cursors.map((at, k) => `${CURSOR_LETTERS[k] ?? ''} ${written(at, x)}`);
  const [a, b] = cursors;
  if (a === undefined || b === undefined) return places.join(', ');
  const apart = Math.abs(b - a);
  const frequency = x.unit === 's' && apart > 0 ? ` (${written(1 / apart, { ...x, unit: 'Hz' })})` : '';
  const first = new Map(readAt(curves, a, log).map(({ words, value }) => [words, value]));
  const differences = readAt(curves, b, log).flatMap(({ words, value }) => {
    const before = first.get(words);
    return before === undefined ? [] : [`${words} ${written(value - before, y)}`];
  });
  return [`${places.join(', ')}, from A to B ${written(apart, x)}${frequency}`, ...differences].join(', ');
}
