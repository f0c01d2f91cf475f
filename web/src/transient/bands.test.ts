import { describe, expect, test } from '@jest/globals';
import type { Occurrence } from '@yundro/core';
import { bandsOf } from './bands';

const at = (time: number, what: Occurrence['what'], phase = 0): Occurrence => ({ time, phase, what });

describe('what the controller does, as bands', () => {
  test('the same period after period is one stretch; something else, or a pause, begins another', () => {
    const bands = bandsOf(
      [at(0, 'begins'), at(1, 'skipped'), at(2, 'skipped'), at(3, 'limit'), at(4, 'comparator'), at(9, 'limit')],
      1,
    );
    expect(bands).toEqual([
      { from: 1, to: 3, words: 'no pulses' },
      { from: 3, to: 4, words: 'current limit' },
      { from: 9, to: 10, words: 'current limit' },
    ]);
  });
  test('of phase 1 alone, and nothing of its usual work', () => {
    expect(bandsOf([at(0, 'limit', 1), at(1, 'comparator'), at(2, 'on-time')], 1)).toEqual([]);
  });
});
