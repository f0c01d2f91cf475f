import { afterEach, describe, expect, test } from '@jest/globals';
import {
  compensatorResponse,
  completeCompensator,
  magnitude,
  product,
  stageSchema,
  type Compensator,
} from '@yundro/core';
import { endShaping, shape, useShaping } from './shaping';

const stage = stageSchema.parse({
  format: 'yundro-stage',
  version: 1,
  topology: 'buck',
  targets: { inputVoltage: { min: 12, max: 12 }, outputVoltage: 3.3, outputCurrent: { max: 8 } },
  control: { scheme: 'voltage-mode', reference: 0.6, rampAmplitude: 1 },
});
const compensator = {
  network: 'type-2',
  amplifier: { kind: 'op-amp' },
  components: { rUpper: 10e3, rLower: 2.22e3, rZero: 10e3, cZero: 1e-9, cPole: 1e-11 },
} as Compensator;
const frequencies = [1e2, 1e3, 1e4, 1e5];
const plant = (inputVoltage: number, gain: number) => ({
  inputVoltage,
  outputCurrent: 8,
  points: frequencies.map((frequency) => ({ frequency, value: { re: 0, im: (-gain * 1e3) / frequency } })),
});

/** What the pictures draw. */
const seen = useShaping.getState;
afterEach(endShaping);

describe('a compensator while it is being shaped', () => {
  test('the loop of the corner looked at is its plant times the compensator', () => {
    shape(stage, compensator, [plant(10, 1), plant(14, 2)], { inputVoltage: 14, outputCurrent: 8 });
    const whole = completeCompensator({ ...stage.control, compensator });
    if (!whole.ok) throw new Error('not whole');
    const response = compensatorResponse(whole.value);
    const { shaped, corners } = seen();
    expect(shaped?.style).toBe('shaped');
    shaped?.values.forEach((value, k) => {
      const frequency = frequencies[k] ?? NaN;
      const expected = product({ re: 0, im: (-2 * 1e3) / frequency }, response(frequency));
      expect(magnitude(value)).toBeCloseTo(magnitude(expected), 9);
    });
    expect(corners?.map(({ inputVoltage }) => inputVoltage)).toEqual([10, 14]);
  });
  test('the stronger plant crosses over higher', () => {
    shape(stage, compensator, [plant(10, 1), plant(14, 2)], { inputVoltage: 14, outputCurrent: 8 });
    const crossovers =
      seen().corners?.map(({ crossover }) => (crossover.kind === 'found' ? crossover.value : NaN)) ?? [];
    expect(crossovers[1]).toBeGreaterThan(crossovers[0] ?? NaN);
  });
  test('a network that lacks a part shows nothing; let go, nothing stays', () => {
    const lacking = { ...compensator.components, rZero: undefined } as Compensator['components'];
    shape(stage, { ...compensator, components: lacking }, [plant(10, 1)], { inputVoltage: 10, outputCurrent: 8 });
    expect(seen().shaped).toBeUndefined();
    shape(stage, compensator, [plant(10, 1)], { inputVoltage: 10, outputCurrent: 8 });
    expect(seen().corners).toHaveLength(1);
    endShaping();
    expect(seen()).toEqual({ shaped: undefined, corners: undefined });
  });
});
