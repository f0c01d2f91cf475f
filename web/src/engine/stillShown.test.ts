import { expect, test } from '@jest/globals';
import { stillShown } from './stillShown';

const stage = {};
const looked = { stage, corner: 3, inputVoltage: 20, outputCurrent: 8 };

test.each([
  ['another load', { ...looked, corner: 2, outputCurrent: 4 }, '20.0\u2009V, 8.00\u2009A'],
  ['another input', { ...looked, inputVoltage: 24 }, '20.0\u2009V, 8.00\u2009A'],
  ['another design at the same corner', { ...looked, stage: { other: true } }, 'the design before the last edit'],
  ['another question of the same design and corner', { ...looked, watched: 'short' }, 'what was asked before'],
])('what is shown bears the words of its own question: %s', (_, asked, words) => {
  expect(stillShown(looked, asked)).toBe(words);
});
test('a question of an input alone names no load', () => {
  expect(stillShown({ stage, inputVoltage: 20 }, { stage, inputVoltage: 29.2 })).toBe('20.0\u2009V input');
});
