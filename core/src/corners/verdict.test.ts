import { expect, test } from '@jest/globals';
import { marginText } from './verdict.js';

test.each([
  [0.034, '3.4 %'],
  [0.35, '35 %'],
  [1, '100 %'],
  [11.84, 'over 100 %'],
  [-0.02, '-2.0 %'],
  [-3, 'under -100 %'],
  [NaN, 'not worked'],
  [Infinity, 'not worked'],
])('a margin of %d reads %s', (margin, text) => {
  expect(marginText(margin)).toBe(text);
});
