import { describe, expect, test } from '@jest/globals';
import type { Waveforms } from '@yundro/core';
import { aligned } from './overlays';
import { runCurve } from './runCurves';

const COUNT = 100_000;
const time = Float64Array.from({ length: COUNT }, (_, k) => k * 1e-9);
const flat = (peakAt: number, peak: number, level = 0): Float64Array =>
  Float64Array.from({ length: COUNT }, (_, k) => (k === peakAt ? peak : level));
const waves = (values: Float64Array): Waveforms => ({
  time,
  signals: [{ name: 'output voltage', unit: 'V', least: values, most: values }],
});

describe('a run as a picture', () => {
  test('a peak of one point in a hundred thousand is drawn, at its own place as the picture is drawn out', () => {
    const values = flat(54_321, 7);
    const signal = { least: values, most: values };
    const whole = runCurve({ time }, signal, { from: 0, to: 1e-4 });
    expect(whole.x.length).toBeLessThan(7000);
    expect(Math.max(...whole.y.map(Number))).toBe(7);
    const part = runCurve({ time }, signal, { from: 54.3e-6, to: 54.35e-6 });
    expect(part.x.length).toBeLessThan(60);
    expect(part.x[part.y.indexOf(7)]).toBeCloseTo(54.321e-6, 12);
  });
  test('what is laid over is moved, and looked for where it was', () => {
    const values = flat(1000, 3);
    const moved = runCurve(
      { time },
      { least: values, most: values },
      { from: 2e-6, to: 4e-6 },
      { shift: 2e-6, lift: 1 },
    );
    expect(moved.x[moved.y.indexOf(4)]).toBeCloseTo(3e-6, 12);
  });
  test('a record is laid over a run by its farthest excursion and its beginning', () => {
    const { shift, lift } = aligned(waves(flat(2000, 4, 5)), waves(flat(5000, 3, 3.3)));
    expect(lift).toBeCloseTo(-1.7, 12);
    // The run itself never leaves its first value but at its peak.
    expect(shift).toBeCloseTo(3e-6, 12);
  });
});
