import { describe, expect, test } from '@jest/globals';
import { complete, TYPE_3, VOLTAGE } from '../../testing/loopStage.js';
import { completeStage } from '../stage/completeStage.js';
import type { Stage } from '../stage/schema.js';
import { otherClamps } from './otherClamps.js';
import { loadStep } from './scenario.js';
import { simulate } from './simulate.js';

const limitedTo = (limits: object): Stage =>
  complete({}, { ...VOLTAGE, compensator: { ...TYPE_3, amplifier: { kind: 'op-amp', ...limits } } }).stage;
const dip = (stage: Stage): number => {
  const made = completeStage(stage);
  if (!made.ok) throw new Error('parts are missing');
  const run = simulate(
    made.value,
    { inputVoltage: 12, load: { kind: 'current', current: 12 } },
    loadStep(-11.5, undefined, 300),
  );
  if (run.kind === 'failed') throw new Error(run.reason);
  return run.measures.undershoot;
};

describe('an amplifier limited otherwise', () => {
  test.each([
    ['both limits', { outputMin: 0, outputMax: 1.1 }],
    ['the upper limit alone', { outputMax: 1.1 }],
    ['the lower limit alone', { outputMin: 0 }],
  ])('of one with %s is one without', (_, limits) => {
    const other = otherClamps(limitedTo(limits));
    expect(other?.limited).toBe(false);
    expect(other?.stage).toEqual(limitedTo({}));
  });
  test('of one without is one held at the valley of the ramp, and dips less after a release', () => {
    const other = otherClamps(limitedTo({}));
    expect(other?.limited).toBe(true);
    expect(other?.words).toMatch(/0 V or above/);
    if (!other) throw new Error('no other');
    expect(dip(limitedTo({}))).toBeGreaterThan(1.3 * dip(other.stage));
  });
  test('there is none where no amplifier integrates', () => {
    expect(otherClamps(complete({}, { scheme: 'open-loop' }).stage)).toBeUndefined();
  });
});
