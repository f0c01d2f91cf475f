import { describe, expect, test } from '@jest/globals';
import { complete } from '../../testing/loopStage.js';
import { evaluateStage, type EvaluatedStage } from '../corners/evaluate.js';
import { sizeModulator } from './modulator.js';
import { slopeByRule } from './slopeCompensation.js';

function evaluated(control: object, over: object = {}): EvaluatedStage {
  const found = evaluateStage(complete(over, control).stage);
  if (!found.ok) throw new Error('not evaluated');
  return found.value;
}
const GAIN = 0.05;
/** Falling and rising slope of the sensed current without losses, V/s. */
const FALLING = (GAIN * 3.3) / 2.2e-6;
const RISING = (GAIN * (12 - 3.3)) / 2.2e-6;

describe('slope compensation by rule', () => {
  const stage = evaluated({ scheme: 'peak-current-mode', reference: 0.6, currentSenseGain: GAIN });
  test('the down-slope and half of it', () => {
    // Losses add a little to the voltage across the inductor while it falls.
    expect(slopeByRule('down-slope', stage, GAIN) / FALLING).toBeGreaterThan(1);
    expect(slopeByRule('down-slope', stage, GAIN) / FALLING).toBeLessThan(1.06);
    expect(slopeByRule('half-down-slope', stage, GAIN)).toBeCloseTo(slopeByRule('down-slope', stage, GAIN) / 2, 6);
  });
  // Q = 1/(π(m D′ − ½)): R. B. Ridley, A New, Continuous-Time Model for Current-Mode Control (1991).
  test('a quality factor of one needs none where the duty ratio is small, and what the formula says where it is large', () => {
    const duty = 3.3 / 12;
    const needed = RISING * ((1 / Math.PI + 0.5) / (1 - duty) - 1);
    expect(slopeByRule('unity-q', stage, GAIN) / needed).toBeGreaterThan(0.9);
    expect(slopeByRule('unity-q', stage, GAIN) / needed).toBeLessThan(1.4);
    const low = evaluated(
      { scheme: 'peak-current-mode', reference: 0.6, currentSenseGain: GAIN },
      { targets: { inputVoltage: { min: 40, max: 40 }, outputVoltage: 3.3, outputCurrent: { max: 8 } } },
    );
    expect(slopeByRule('unity-q', low, GAIN)).toBe(0);
  });
});

describe('what a modulator is given where the stage says nothing', () => {
  test('voltage mode: reference and ramp, each with its reason', () => {
    const { control, choices } = sizeModulator(evaluated({ scheme: 'voltage-mode' }));
    expect(control).toMatchObject({ reference: 0.8, rampAmplitude: 1 });
    expect(choices.map(({ path }) => path)).toEqual(['control.reference', 'control.rampAmplitude']);
  });
  test('what is given stays', () => {
    const { control, choices } = sizeModulator(
      evaluated({ scheme: 'voltage-mode', reference: 0.6, rampAmplitude: 1.7 }),
    );
    expect(control).toMatchObject({ reference: 0.6, rampAmplitude: 1.7 });
    expect(choices).toEqual([]);
  });
  test('average current mode: the current amplifier keeps the amplified slope below the ramp and its crossover low', () => {
    const { control } = sizeModulator(
      evaluated({ scheme: 'average-current-mode', reference: 0.6, rampAmplitude: 1, currentSenseGain: GAIN }),
    );
    const { rInput = NaN, rZero = NaN } = control.currentAmplifier ?? {};
    const gain = rZero / rInput;
    expect(gain * FALLING).toBeLessThan(1 * 500e3);
    const crossover = (gain * (RISING + FALLING)) / (2 * Math.PI * 1);
    expect(crossover).toBeLessThan(1.05 * (500e3 / 5));
    expect(crossover).toBeGreaterThan(500e3 / 12);
  });
});
