import { describe, expect, test } from '@jest/globals';
import { complete, VOLTAGE } from '../../testing/loopStage.js';
import { CELL, LEVELS, levelsOf, stepped } from './configuration.js';
import { crossingOfCubic } from './crossingOfCubic.js';
import { RecurringParts } from './recurringParts.js';
import { Run } from './run.js';
import { restOfStage } from './rest.js';
import { loadStep } from './scenario.js';
import { asSimulated, simulatedStage } from './simulatedStage.js';

const CONDITION = { inputVoltage: 12, load: { kind: 'current', current: 4 } } as const;

/** A configuration of a settled stage, and the state it stands at. */
function settledRun(): Run {
  const scenario = loadStep(1, undefined, 10);
  const drawn = simulatedStage(asSimulated(complete({}, VOLTAGE)), CONDITION, scenario);
  if (typeof drawn === 'string') throw new Error(drawn);
  const rest = restOfStage(drawn, CONDITION, scenario, undefined);
  if (typeof rest === 'string') throw new Error(rest);
  return new Run(drawn, rest.start, { step: () => undefined });
}

describe('a part of a cell', () => {
  test('is made of its binary digits', () => {
    expect([...levelsOf(CELL / 2 + CELL / 8 + 1)]).toEqual([1, 3, LEVELS]);
  });
  test('that comes up often in a run gets a step of its own, which leads where its halvings lead', () => {
    const { configuration, layout, z } = settledRun();
    const ticks = 780_141;
    const parts = new RecurringParts();
    const asked = Array.from({ length: 50 }, () => parts.stepOver(configuration, ticks));
    const part = asked.at(-1);
    expect(asked.findIndex((one) => one !== undefined)).toBeGreaterThan(5);
    // Another run begins to count anew, whatever was kept.
    expect(new RecurringParts().stepOver(configuration, ticks)).toBeUndefined();
    if (!part) throw new Error('no step');
    const whole = new Float64Array(layout.size);
    stepped(whole, z, part, layout);
    let from = z;
    for (const level of levelsOf(ticks)) {
      const onto = new Float64Array(layout.size);
      configuration.step(onto, from, level);
      from = onto;
    }
    whole.forEach((value, i) => {
      const moved = Math.abs((from[i] as number) - (z[i] as number));
      expect(Math.abs(value - (from[i] as number))).toBeLessThanOrEqual(
        1e-11 * moved + 1e-13 * Math.abs(from[i] as number),
      );
    });
    expect(whole).not.toEqual(z);
  });
  test('no more of them than memory bears: the rest go by halvings', () => {
    const { configuration } = settledRun();
    const parts = new RecurringParts();
    for (let ticks = 1; ticks < 2000; ticks += 1) parts.stepOver(configuration, ticks);
    for (let k = 0; k < 100; k += 1) expect(parts.stepOver(configuration, 1_000_003)).toBeUndefined();
  });
});

describe('a crossing by the cubic through both ends', () => {
  test('is exact where the waveform is one', () => {
    // (u − 0.3)(u² + 1) = −0.3 + u − 0.3 u² + u³
    const slope = (u: number) => 1 - 0.6 * u + 3 * u * u;
    expect(crossingOfCubic(-0.3, 1.4, slope(0), slope(1))).toBeCloseTo(0.3, 12);
  });
  test('of a sine over a thirtieth of its period is good to 10⁻⁶ of the step', () => {
    const step = (2 * Math.PI) / 30;
    const at = (phase: number) => Math.sin(phase);
    for (const share of [0.1, 0.45, 0.8]) {
      const begin = -share * step;
      const found = crossingOfCubic(at(begin), at(begin + step), step * Math.cos(begin), step * Math.cos(begin + step));
      expect(Math.abs(found - share)).toBeLessThan(1e-6);
    }
  });
});
