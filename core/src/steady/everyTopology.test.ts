import { execFileSync } from 'node:child_process';
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { randomStages } from '../../testing/randomStages.js';
import type { Tally } from '../../testing/sweep.js';
import { problemsSentence } from '../stage/problemSentence.js';
import { stageFromDocument } from '../stage/readStage.js';

/** Searches that may end without a solution or a proof that there is none, of 2,000: none is a wrong number. */
const MOST_GIVEN_UP = 8;

describe('random stages of every topology', () => {
  test('each ends in a balanced solution or in a reason, never in a number that is none (2,000 stages, seed 31)', () => {
    const program = new URL('../../testing/sweep.ts', import.meta.url).pathname;
    const printed = execFileSync(process.execPath, ['--import', 'tsx', program, '31', '2000'], { encoding: 'utf8' });
    const tally = JSON.parse(printed) as Tally;
    expect(tally.wrong).toEqual([]);
    // Most of these designs are sound enough to work; nearly all others are out of reach. A search that gives up says so.
    const gaveUp = Object.values(tally.gaveUp).reduce((sum, n) => sum + n, 0);
    expect(tally.solved + tally.outOfReach + gaveUp).toBe(2000);
    expect(tally.solved).toBeGreaterThan(1200);
    expect(gaveUp).toBeLessThanOrEqual(MOST_GIVEN_UP);
  }, 180_000);

  test('2,000 damaged stages are refused with a sentence (seed 37)', () => {
    const damage = fc.constantFrom<[string, unknown]>(
      ['switchingFrequency', -1],
      ['switchingFrequency', 'fast'],
      ['phases', 0],
      ['phases', 17],
      ['phases', 2.5],
      ['deadTime', 1],
      ['targets', {}],
      ['topology', 'sepic-like'],
      ['pinned', ['everything']],
      ['parts', { inductor: { inductance: 0 } }],
      ['parts', { outputCapacitors: [] }],
      ['colour', 1],
      ['version', 99],
      ['control', { dutyMax: 1.5 }],
    );
    fc.assert(
      fc.property(randomStages, damage, ({ document }, [key, value]) => {
        const read = stageFromDocument({ ...document, [key]: value });
        expect(read.ok).toBe(false);
        if (!read.ok) expect(problemsSentence(read.problems)).toMatch(/^At .*\.$/);
      }),
      { seed: 37, numRuns: 2000 },
    );
  });
});
