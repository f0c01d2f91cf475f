import { expect, test } from '@jest/globals';
import { standing } from './proposalWords';

const whole = { missed: [], simulated: true, noLoop: undefined, notJudged: [] };

test('a load step is only said to hold where one was simulated', () => {
  expect(standing(whole)).toContain('the simulated load step among them');
  expect(standing({ ...whole, simulated: false })).toBe('Every target holds; no load step is asked for.');
});
test('what was not judged is named, and nothing is said of every target then', () => {
  const words = standing({ ...whole, simulated: false, notJudged: ['load step', 'phase margin'] });
  expect(words).toBe('What is judged holds. Not judged: load step, phase margin.');
});
test('without a loop nothing more is promised than what was judged', () => {
  const words = standing({ ...whole, noLoop: 'no network was found', notJudged: ['load step'] });
  expect(words).toBe('What is judged holds, but it has no loop: no network was found. Not judged: load step.');
});
test('what is missed comes first', () => {
  expect(standing({ ...whole, missed: ['efficiency'], noLoop: 'none' })).toMatch(/^It misses efficiency\./);
});
