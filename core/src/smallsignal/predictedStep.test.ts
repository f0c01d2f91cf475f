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
  test('a step that asks for more than the whole duty ratio, or for less than none, is marked', () => {
    expect(step(VOLTAGE, 8, 8.2).beyond).toBe(false);
    expect(step(VOLTAGE, 1, 60).beyond).toBe(true);
    expect(step(VOLTAGE, 8, 7.8).beyond).toBe(false);
    expect(step(VOLTAGE, 60, 1).beyond).toBe(true);
  });
  test('a rising load takes the output down and a falling one up, ripple included', () => {
    for (const [to, sign] of [
      [10, -1],
      [6, 1],
    ] as const) {
      const { signal, change, deviation } = step(VOLTAGE, 8, to);
      const furthest = Math.max(...change.map((value) => sign * value));
      expect(deviation).toBe(Math.max(...signal.map((value) => sign * value)));
      expect(deviation).toBeGreaterThan(furthest);
      // On the other side it goes by a small part of that.
      expect(Math.max(...change.map((value) => -sign * value))).toBeLessThan(0.5 * furthest);
    }
  });
  test('a negative output deviates towards zero as its load rises', () => {
    const over = {
      topology: 'inverting-buck-boost',
      targets: { inputVoltage: { min: 12, max: 12 }, outputVoltage: -3.3, outputCurrent: { min: 1, max: 4 } },
    };
    const slow = {
      ...VOLTAGE,
      compensator: { network: 'integrator', components: { rUpper: 45e3, rLower: 10e3, cZero: 220e-9 } },
    };
    const { change, deviation } = step(slow, 2, 3, over);
    const furthest = change.reduce((most, value) => (Math.abs(value) > Math.abs(most) ? value : most), 0);
    expect(furthest).toBeGreaterThan(0);
    expect(deviation).toBeGreaterThan(0.9 * furthest);
  });
  test('it has recovered after the last instant outside the band, which the tolerance of the output makes', () => {
    const targets = {
      inputVoltage: { min: 12, max: 12 },
      outputVoltage: 3.3,
      outputCurrent: { min: 1, max: 12 },
      outputVoltageTolerance: 0.01,
    };
    const { time, change, band, recoveryTime } = step(VOLTAGE, 4, 12, { targets });
    expect(band).toBeCloseTo(0.033, 12);
    const outside = time.filter((_, k) => Math.abs(change[k] ?? 0) > band);
    expect(outside.length).toBeGreaterThan(3);
    expect(recoveryTime).toBe(Math.max(...outside));
    // A smaller step never leaves the band.
    expect(step(VOLTAGE, 8, 8.1, { targets }).recoveryTime).toBe(0);
    // Without a tolerance the band is a twentieth of the largest change.
    const free = step(VOLTAGE, 4, 12);
    expect(free.band).toBeCloseTo(0.05 * Math.max(...free.change.map(Math.abs)), 12);
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
