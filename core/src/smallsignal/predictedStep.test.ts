import { describe, expect, test } from '@jest/globals';
import { complete, CURRENT, VOLTAGE } from '../../testing/loopStage.js';
import { magnitude } from '../linalg/complex.js';
import { inputImpedances } from './inputImpedance.js';
import { interpolated } from './interpolated.js';
import { loopAt } from './loopResponse.js';
import { predictedStep, type PredictedStep } from './predictedStep.js';

function step(control: object, from: number, to: number, over: object = {}): PredictedStep {
  const found = predictedStep(complete(over, control), 12, from, to);
  if (typeof found === 'string') throw new Error(found);
  return found;
}

describe('a predicted step of load', () => {
  test('up and down from one orbit are mirrored, and in proportion', () => {
    const up = step(VOLTAGE, 8, 9);
    const down = step(VOLTAGE, 8, 7);
    const twice = step(VOLTAGE, 8, 10);
    up.change.forEach((value, k) => {
      expect(down.change[k]).toBeCloseTo(-value, 9);
      expect(twice.change[k]).toBeCloseTo(2 * value, 9);
    });
  });
  test('the output comes back to where it was, as the compensator integrates', () => {
    const { change, deviation, time } = step(VOLTAGE, 8, 12);
    expect(Math.abs(change.at(-1) ?? NaN)).toBeLessThan(0.01 * deviation);
    expect(deviation).toBeGreaterThan(0.02);
    expect(time.every((value, k) => k === 0 || value >= (time[k - 1] ?? 0))).toBe(true);
  });
  // The largest change is near ΔI times the largest output impedance for a well damped loop (common practice).
  test('its size goes with the largest output impedance', () => {
    const report = loopAt(complete({}, CURRENT), { inputVoltage: 12, load: { kind: 'current', current: 8 } }, []);
    const peak = report.kind === 'solved' ? report.outputImpedancePeak.impedance : NaN;
    const { change } = step(CURRENT, 8, 9);
    const largest = -Math.min(...change);
    expect(largest / peak).toBeGreaterThan(0.7);
    expect(largest / peak).toBeLessThan(1.4);
  });
  test('a step that asks for more than the whole duty ratio is marked', () => {
    expect(step(VOLTAGE, 8, 8.2).beyond).toBe(false);
    expect(step(VOLTAGE, 1, 60).beyond).toBe(true);
  });
  test('three phases: each share of the period is followed', () => {
    const { change, deviation } = step(CURRENT, 8, 12, { phases: 3 });
    expect(deviation).toBeGreaterThan(0);
    expect(Math.abs(change.at(-1) ?? NaN)).toBeLessThan(0.02 * deviation);
  });
  test('an unstable loop has no step, and says so', () => {
    const fast = { ...VOLTAGE, rampAmplitude: 0.1 };
    expect(predictedStep(complete({}, fast), 12, 8, 9)).toBe('the loop is unstable');
  });
});

describe('what a stage shows its source', () => {
  const condition = { inputVoltage: 12, load: { kind: 'current' as const, current: 8 } };
  test('within the bandwidth of the loop it is constant power: −V²/P', () => {
    const filter = { inputFilter: { inductance: 1e-6, resistance: 0.01 } };
    const found = inputImpedances(complete({}, VOLTAGE, filter), condition, [50]);
    if (typeof found === 'string') throw new Error(found);
    const [point] = found.points;
    const power = (12 * 12) / (3.3 * 8);
    expect(magnitude(point?.closed ?? { re: 0, im: 0 }) / power).toBeGreaterThan(0.9);
    expect(magnitude(point?.closed ?? { re: 0, im: 0 }) / power).toBeLessThan(1);
    expect(point?.closed.re).toBeLessThan(0);
  });
  test('without filter and source impedance there is nothing to compare', () => {
    expect(inputImpedances(complete(), condition, [50])).toMatch(/neither an input filter nor a source impedance/);
  });
});

describe('a response between its points', () => {
  test('meets them and stays beyond the ends', () => {
    const between = interpolated([
      { frequency: 10, value: { re: 1, im: 0 } },
      { frequency: 1000, value: { re: 3, im: -4 } },
    ]);
    expect(between(10)).toEqual({ re: 1, im: 0 });
    expect(between(100)).toEqual({ re: 2, im: -2 });
    expect(between(1e6)).toEqual({ re: 3, im: -4 });
  });
});
