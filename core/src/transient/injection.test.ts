import { describe, expect, test } from '@jest/globals';
import { AVERAGE, complete, CURRENT, TYPE_2, VOLTAGE } from '../../testing/loopStage.js';
import { decibels, degreesOf, ratio } from '../linalg/complex.js';
import type { OperatingCondition } from '../powerstage/powerStage.js';
import { loopAt } from '../smallsignal/loopResponse.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { injectedSweep, injectLoop } from './injection.js';

const FULL: OperatingCondition = { inputVoltage: 12, load: { kind: 'current', current: 12 } };
const DIODE = { diode: { forwardVoltage: 0.4, dynamicResistance: 0.01 } };
const FOUR = { inductor: { inductance: 8.8e-6, resistance: 0.02 } };
const BOOST = {
  topology: 'boost',
  targets: { inputVoltage: { min: 12, max: 12 }, outputVoltage: 24, outputCurrent: { min: 0.5, max: 2 } },
};

describe('injection in the simulator and the exact loop, which know nothing of each other', () => {
  test.each<[string, CompleteStage, OperatingCondition]>([
    ['voltage mode', complete({}, VOLTAGE), FULL],
    ['voltage mode, four phases', complete({ phases: 4 }, VOLTAGE, FOUR), FULL],
    ['peak current mode', complete({}, CURRENT), FULL],
    ['average current mode', complete({}, AVERAGE), FULL],
    [
      'a diode, in discontinuous conduction',
      complete({ rectifier: 'diode' }, CURRENT, DIODE),
      { inputVoltage: 12, load: { kind: 'current', current: 0.3 } },
    ],
    [
      'a boost stage',
      complete(BOOST, {
        ...CURRENT,
        compensator: { ...TYPE_2, components: { ...TYPE_2.components, rLower: 1154, rZero: 3e3, cZero: 20e-9 } },
      }),
      { inputVoltage: 12, load: { kind: 'current', current: 2 } },
    ],
  ])('agree in %s from a hundredth to 0.49 of the switching frequency', (_, stage, condition) => {
    for (const share of [0.01, 0.03, 0.1, 0.25, 0.4, 0.49]) {
      const found = injectLoop(stage, condition, share * stage.clock);
      if (found.kind === 'failed') throw new Error(found.reason);
      const exact = loopAt(stage, condition, [found.frequency]);
      if (exact.kind === 'unsolved') throw new Error(exact.reason);
      const [point] = exact.points;
      const apart = ratio(found.loop, point?.loop ?? { re: NaN, im: NaN });
      expect(found.settled).toBe(true);
      expect(Math.abs(decibels(apart))).toBeLessThan(0.05);
      expect(Math.abs(degreesOf(apart))).toBeLessThan(0.5);
    }
  });
  test('where there is no loop, or no clock, that is said', () => {
    const open = injectLoop(complete({}, { scheme: 'open-loop' }), FULL, 50e3);
    expect(open).toMatchObject({ kind: 'failed', reason: expect.stringMatching(/\w{3} \w/) });
    const clockless = injectLoop(
      complete({}, { scheme: 'constant-on-time', reference: 0.6, onTime: 550e-9 }),
      FULL,
      50e3,
    );
    expect(clockless).toMatchObject({ kind: 'failed', reason: expect.stringMatching(/constant on-time has no clock/) });
  });
  test('a sweep goes from a hundredth to 0.49 of the switching frequency, no frequency twice', () => {
    const sweep = injectedSweep(500e3, 24);
    expect(sweep[0]).toBeCloseTo(5e3, 6);
    expect(sweep.at(-1)).toBeCloseTo(245e3, 6);
    expect(new Set(sweep).size).toBe(sweep.length);
    expect([...sweep].sort((a, b) => a - b)).toEqual(sweep);
  });
});
