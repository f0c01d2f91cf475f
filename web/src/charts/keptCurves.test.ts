import { expect, test } from '@jest/globals';
import type { Curve } from './curves';
import { dropCurves, keepCurves, keptCurves, MOST_KEPT, withKept } from './keptCurves';

const curve = (y: number, words = 'loss'): Curve => ({
  words,
  x: [0, 1],
  y: [y, y],
  colour: '--trace-1',
  dash: [],
  fill: 'axis',
});

test('each set kept has its number and its dash, the oldest goes first, and other pictures are left alone', () => {
  for (const y of [1, 2, 3, 4]) keepCurves('a', [curve(y)]);
  keepCurves('b', [curve(9, '')]);
  const drawn = withKept([], keptCurves('a'));
  expect(drawn).toHaveLength(MOST_KEPT);
  expect(drawn.map(({ words, y }) => [words, y[0]])).toEqual([
    ['kept 2: loss', 2],
    ['kept 3: loss', 3],
    ['kept 4: loss', 4],
  ]);
  expect(new Set(drawn.map(({ dash }) => dash.join())).size).toBe(MOST_KEPT);
  // What is shaded now is not shaded twice.
  for (const one of drawn) expect(one.fill).toBeUndefined();
  // Of another corner, and said to be.
  keepCurves('c', [curve(1), curve(2, '')], '20.0 V, 2.00 A');
  expect(withKept([], keptCurves('c')).map(({ words }) => words)).toEqual([
    'kept 1: 20.0 V, 2.00 A: loss',
    'kept 1: 20.0 V, 2.00 A',
  ]);
  dropCurves('a');
  expect(keptCurves('a')).toEqual([]);
  expect(withKept([curve(1, '')], keptCurves('b')).map(({ words }) => words)).toEqual(['now', 'kept 1']);
  expect(withKept([curve(1, '')], []).map(({ words }) => words)).toEqual(['']);
  expect(withKept([curve(1), curve(2, '')], keptCurves('b')).map(({ words }) => words)).toEqual(['loss', '', 'kept 1']);
});
