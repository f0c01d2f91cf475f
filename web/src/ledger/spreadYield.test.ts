import { expect, test } from '@jest/globals';
import type { Missed } from '@yundro/core';
import { yieldWords } from './spreadYield';

const of = (...misses: readonly (readonly Missed[])[]): Parameters<typeof yieldWords>[0] => ({
  stage: {} as Parameters<typeof yieldWords>[0]['stage'],
  corner: { inputVoltage: 20, outputCurrent: 2, temperature: 25 },
  samples: misses.map((one) => ({ misses: one })),
});

test('the yield of a margin leaves out the sets that miss it, that have no loop or are unstable, each once', () => {
  const scattered = of(
    [],
    ['phase margin'],
    ['loop'],
    ['stability', 'phase margin'],
    ['stability'],
    ['gain margin'],
    [],
    [],
  );
  expect(yieldWords(scattered, 'phase margin')).toMatch(/^kept by 50\.0 % of 8 sets of parts at 20\.0.V, 2\.00.A$/);
  expect(yieldWords(scattered, 'gain margin')).toContain('50.0 %');
  expect(yieldWords(of([], ['gain margin']), 'phase margin')).toContain('100.0 % of 2');
  expect(yieldWords(of([]), 'subharmonic margin')).toBeUndefined();
});
