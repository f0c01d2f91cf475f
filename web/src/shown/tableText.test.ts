import { expect, test } from '@jest/globals';
import { tableAsText } from './tableText';

test('rows are lines between tabs, numbers in SI without the noise of rounding, and nothing is an empty cell', () => {
  const text = tableAsText(
    ['part', 'inductance, H'],
    [
      ['LX7', 6.8e-6],
      ['tab\tand\nline', 0.1 + 0.2],
      ['none', undefined],
      ['not worked', NaN],
    ],
  );
  expect(text.split('\n')).toEqual([
    'part\tinductance, H',
    'LX7\t0.0000068',
    'tab and line\t0.3',
    'none\t',
    'not worked\t',
  ]);
});
