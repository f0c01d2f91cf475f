import { describe, expect, test } from '@jest/globals';
import { complete, VOLTAGE } from '../../testing/loopStage.js';
import { loopAt } from '../smallsignal/loopResponse.js';
import { alternatingLoad, sequenceScenario, type SequenceStep } from './sequence.js';
import { worstRate } from '../smallsignal/worstRate.js';
import { simulate, type SimulatedRun } from './simulate.js';
import type { Scenario } from './scenario.js';

const BEFORE = { inputVoltage: 12, outputCurrent: 4 };
const stage = complete({}, { ...VOLTAGE, dutyMax: 0.9 });
const run = (scenario: Scenario | string): SimulatedRun => {
  if (typeof scenario === 'string') throw new Error(scenario);
  const result = simulate(stage, { inputVoltage: 12, load: { kind: 'current', current: 4 } }, scenario);
  if (result.kind === 'failed') throw new Error(result.reason);
  return result;
};

describe('a sequence', () => {
  test('goes from each step to the next, in the order of time, whatever the order they were written in', () => {
    const scenario = sequenceScenario(
      [
        { at: 2e-4, what: 'load', to: 2 },
        { at: 0, what: 'load', to: 10, within: 2e-6 },
        { at: 1e-4, what: 'line', to: 14, within: 1e-5 },
        { at: 3e-4, what: 'short', to: 0.01 },
        { at: 4e-4, what: 'release', to: 0 },
      ],
      BEFORE,
      500e3,
      1e-4,
    );
    expect(scenario).toEqual({
      start: 'settled',
      cycles: 250,
      happenings: [
        { kind: 'load', at: 0, by: 6, slewRate: 3e6 },
        { kind: 'line', at: 1e-4, by: 2, within: 1e-5 },
        { kind: 'load', at: 2e-4, by: -8, slewRate: undefined },
        { kind: 'short', at: 3e-4, resistance: 0.01 },
        { kind: 'short', at: 4e-4, resistance: undefined },
      ],
    });
  });
  test('is run: load and input end where it says, and the output recovers from the short', () => {
    const { measures, waveforms } = run(
      sequenceScenario(
        [
          { at: 0, what: 'load', to: 8 },
          { at: 5e-5, what: 'line', to: 14 },
          { at: 1e-4, what: 'short', to: 0.05 },
          { at: 1.2e-4, what: 'release', to: 0 },
        ],
        BEFORE,
        500e3,
        8e-4,
      ),
    );
    expect(measures.finalOutputVoltage).toBeCloseTo(3.3, 2);
    expect(measures.leastOutputVoltage).toBeLessThan(1.5);
    const load = waveforms.signals.find(({ name }) => name === 'load current');
    expect(load?.most.at(-1)).toBeCloseTo(8, 6);
  });
  test.each<[readonly SequenceStep[], RegExp]>([
    [[], /has no steps/],
    [[{ at: -1e-6, what: 'load', to: 1 }], /comes before time 0/],
    [[{ at: 0, what: 'line', to: 0 }], /a stage needs an input above 0/],
    [[{ at: 0, what: 'short', to: -1 }], /0 Ω or more/],
    [[{ at: 0, what: 'release', to: 0 }], /a short that there is not/],
    [[{ at: 1, what: 'load', to: 1 }], /at most 200000 are run: 400\s?ms here/],
    [Array.from({ length: 25 }, (): SequenceStep => ({ at: 0, what: 'load', to: 1 })), /at most 24 are run/],
  ])('that cannot be is refused in a sentence: %j', (steps, says) => {
    expect(sequenceScenario(steps, BEFORE, 500e3, 1e-4)).toMatch(says);
  });
});

test('a load that alternates at the worst rate swings the simulated output as far as at any other rate', () => {
  const condition = { inputVoltage: 12, load: { kind: 'current', current: 4 } } as const;
  const loop = loopAt(stage, condition);
  if (loop.kind === 'unsolved') throw new Error(loop.reason);
  const rate = worstRate(loop.points, 500e3 / 8);
  const swing = (frequency: number): number => {
    const { measures } = run(alternatingLoad({ from: 4, to: 6 }, frequency, 500e3));
    return measures.peakOutputVoltage - measures.leastOutputVoltage;
  };
  const worst = swing(rate);
  const others = [0.1, 0.3, 0.6, 1.6, 2.5].map((factor) => swing(factor * rate));
  // Linear as it is, it finds the rate to within what the ripple adds.
  expect(worst).toBeGreaterThan(0.97 * Math.max(...others));
  expect(worst).toBeGreaterThan(1.1 * Math.min(...others));
});
