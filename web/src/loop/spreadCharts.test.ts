import { describe, expect, test } from '@jest/globals';
import type { DrawnSample, SampleBatch } from '../engine/loopSurvey';
import { bandChart, cloudChart } from './spreadCharts';

const sample = (crossover: number | undefined, phaseMargin: number | undefined, pass: boolean): DrawnSample => ({
  crossover,
  phaseMargin,
  gainMayRise: 10,
  stable: true,
  misses: pass ? [] : ['phase margin'],
});

describe('the cloud of margins', () => {
  test('a point for each set with a crossover, those that fail filled, the asked margin within the picture', () => {
    const { marks, curves, x, y } = cloudChart(
      [sample(40e3, 55, true), sample(50e3, 41, false), sample(undefined, undefined, false)],
      { phaseMargin: 50 } as never,
    );
    expect(marks.map((mark) => [mark.x, mark.y, mark.here])).toEqual([
      [40e3, 55, false],
      [50e3, 41, true],
    ]);
    expect(curves[0]?.y).toEqual([50, 50]);
    expect(y.min).toBeLessThanOrEqual(41);
    expect(y.max).toBeGreaterThanOrEqual(55);
    expect(x.min).toBeLessThan(40e3);
    expect(x.max).toBeGreaterThan(50e3);
  });
  test('two thousand sets are thinned, evenly', () => {
    const samples = Array.from({ length: 2000 }, (_, k) => sample(40e3 + k, 50, true));
    const { marks } = cloudChart(samples, {} as never);
    expect(marks.length).toBeLessThanOrEqual(800);
    expect((marks[1]?.x ?? 0) - (marks[0]?.x ?? 0)).toBe(3);
  });
});

describe('the band of gains', () => {
  test('holds the batches of all workers', () => {
    const batch = (least: number[], most: number[]): SampleBatch => ({
      samples: [],
      frequencies: [1e3, 1e4],
      least: Float64Array.from(least),
      most: Float64Array.from(most),
    });
    const { curves, y } = bandChart([batch([10, -12], [20, -5]), batch([12, -15], [25, -8])]);
    expect(curves[0]?.y).toEqual([10, -15]);
    expect(curves[1]?.y).toEqual([25, -5]);
    expect(y.min).toBe(-20);
    expect(y.max).toBe(40);
  });
});
