import { describe, expect, test } from '@jest/globals';
import { settledFrequency } from './settledFrequency.js';

/** The frequencies looked at on the way, the last one's answer among them. */
function looked(from: number, next: (frequency: number) => number | undefined): { seen: number[]; found: number } {
  const seen: number[] = [];
  const found = settledFrequency(from, (frequency) => {
    seen.push(frequency);
    const following = next(frequency);
    return { found: frequency, ...(following !== undefined && { next: following }) };
  });
  return { seen, found };
}

describe('a frequency that follows from itself', () => {
  // f ← (f + 3 f*)/4 closes three quarters of the distance each time.
  const towards = (goal: number) => (frequency: number) => (frequency + 3 * goal) / 4;
  test.each([1, 1e3, 1e6])('is within a ten-thousandth, from below and above, at %d Hz as elsewhere', (goal) => {
    for (const from of [goal / 2, 2 * goal]) {
      const { seen, found } = looked(from, towards(goal));
      expect(Math.abs(found / goal - 1)).toBeLessThan(1.4e-4);
      // Distance left: 4^-n of a half or of one, until 3/4 of it is within 1e-4: seven or eight looks.
      expect(seen.length).toBeGreaterThanOrEqual(7);
      expect(seen.length).toBeLessThanOrEqual(8);
      expect(seen.at(-1)).toBe(found);
    }
  });
  test('that never comes to rest is left after thirty rounds', () => {
    const { seen } = looked(1, (frequency) => (frequency === 1 ? 2 : 1));
    expect(seen).toHaveLength(30);
  });
  test('is the last where nothing follows', () => {
    expect(looked(5, (frequency) => (frequency > 7 ? undefined : frequency + 1)).seen).toEqual([5, 6, 7, 8]);
  });
});
