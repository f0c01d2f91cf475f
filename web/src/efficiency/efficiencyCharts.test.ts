import { describe, expect, test } from '@jest/globals';
import type { EfficiencyCurve, OperatingMode } from '@yundro/core';
import { efficiencyChart, frequencyChart, lossChart, MODE_WORDS } from './efficiencyCharts';

const curve = (mode: OperatingMode, efficiencies: readonly number[], frequency = 400e3): EfficiencyCurve =>
  ({
    mode,
    points: efficiencies.map((efficiency, i) => ({
      outputCurrent: 0.1 * 10 ** i,
      efficiency,
      switchingFrequency: frequency / (i + 1),
      losses: { highSideConduction: 0.3, inductorCopper: 0.1, highSideGate: 0.1, total: 0.5 },
    })),
  }) as unknown as EfficiencyCurve;

describe('pictures over load', () => {
  test('efficiency: over a logarithmic axis of load, down to the tenth below the least', () => {
    const chart = efficiencyChart([curve('forced-pwm', [0.52, 0.9, 0.95])], ({ mode }) => MODE_WORDS[mode]);
    expect(chart?.x).toMatchObject({ min: 0.1, max: 10, logarithmic: true });
    expect(chart?.y).toMatchObject({ min: 0.5, max: 1 });
    expect(chart?.y.label?.(0.9)).toBe('90 %');
    expect(chart?.curves[0]).toMatchObject({ words: 'forced PWM', y: [0.52, 0.9, 0.95] });
  });
  test('a baseline goes across, and takes part in the scale', () => {
    const baseline = { words: 'linear', efficiency: 0.31 };
    const chart = efficiencyChart([curve('forced-pwm', [0.8, 0.9])], () => '', baseline);
    expect(chart?.curves.at(-1)).toMatchObject({ words: 'linear', x: [0.1, 1], y: [0.31, 0.31] });
    expect(chart?.y.min).toBeCloseTo(0.2, 9);
  });
  test('several modes: each in its own colour and dash, named where it is by itself', () => {
    const curves = [curve('forced-pwm', [0.5, 0.9, 0.95]), curve('pulse-skipping', [0.8, 0.9, 0.95])];
    const drawn = efficiencyChart(curves, ({ mode }) => mode)?.curves ?? [];
    expect(new Set(drawn.map(({ colour }) => colour)).size).toBe(2);
    expect(drawn.map(({ labelAbove }) => labelAbove)).toEqual([false, true]);
  });
  test('one point is no curve, and no curve is no picture', () => {
    expect(efficiencyChart([curve('forced-pwm', [0.9])], () => '')).toBeUndefined();
    expect(frequencyChart([curve('forced-pwm', [0.9])])).toBeUndefined();
    expect(lossChart(curve('forced-pwm', [0.9]))).toBeUndefined();
  });
  test('frequency: both axes logarithmic, with room above and below', () => {
    const chart = frequencyChart([curve('pulse-skipping', [0.8, 0.9], 200e3)]);
    expect(chart?.y).toMatchObject({ min: 100e3 / 1.5, max: 300e3, logarithmic: true });
    expect(chart?.curves[0]?.y).toEqual([200e3, 100e3]);
  });
  test('losses: kind upon kind, as shares whose last line is all of it', () => {
    const chart = lossChart(curve('forced-pwm', [0.8, 0.9]));
    const tops = chart?.curves.map(({ y }) => y[0]) ?? [];
    expect(tops.at(-1)).toBeCloseTo(1, 12);
    expect([...tops].sort((a, b) => (a ?? 0) - (b ?? 0))).toEqual(tops);
    expect(chart?.curves.map(({ fill }) => fill)).toEqual(['axis', ...tops.slice(1).map(() => 'previous')]);
  });
  test('a kind that hardly counts anywhere is left to the others', () => {
    const tiny = curve('forced-pwm', [0.8, 0.9]);
    const points = tiny.points.map((point) => ({
      ...point,
      losses: { highSideConduction: 0.4999, inductorCopper: 0.0001, total: 0.5 },
    }));
    expect(lossChart({ ...tiny, points })?.curves).toHaveLength(1);
  });
});
