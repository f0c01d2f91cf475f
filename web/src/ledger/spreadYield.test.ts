import { expect, test } from '@jest/globals';
import { yieldWords } from './spreadYield';

const of = (missing: Parameters<typeof yieldWords>[0]['missing']) => ({
  stage: {} as Parameters<typeof yieldWords>[0]['stage'],
  corner: { inputVoltage: 20, outputCurrent: 2, temperature: 25 },
  count: 200,
  missing,
});

test('the yield of a margin counts the sets that miss it and those without a loop, and other quantities have none', () => {
  expect(yieldWords(of({ 'phase margin': 3, loop: 1, 'gain margin': 50 }), 'phase margin')).toMatch(
    /^kept by 98\.0 % of 200 sets of parts at 20\.0.V, 2\.00.A$/,
  );
  expect(yieldWords(of({ 'phase margin': 3, loop: 1 }), 'gain margin')).toContain('99.5 %');
  expect(yieldWords(of({}), 'phase margin')).toContain('100.0 %');
  expect(yieldWords(of({}), 'subharmonic margin')).toBeUndefined();
});
