import { describe, expect, test } from '@jest/globals';
import type { ExpectedNode, NodeFeatures } from '@yundro/core';
import { axisOf, edgeChart, expectedChart, placeChart } from './placeCharts';

const features: NodeFeatures = { mean: 5, low: 0, high: 10, peak: 10, valley: 0, bend: 0, pulses: 1, alternation: 0 };
const time = Float64Array.of(0, 1e-6, 2e-6, 3e-6);
const node: ExpectedNode = {
  name: 'switch node',
  unit: 'V',
  time,
  value: Float64Array.of(0, 12, 12, 0),
  least: Float64Array.of(-1, 11, 11, -1),
  most: Float64Array.of(0, 14, 14, 0),
  reads: features,
  from: features,
  to: features,
  probing: [],
};

describe('the axis of a place', () => {
  test('holds every value with room above for words, and is no point where nothing moves', () => {
    const axis = axisOf([-1, 14, NaN], 'switch node', 'V');
    expect(axis.min).toBeLessThan(-1);
    expect(axis.max).toBeGreaterThan(14);
    expect(axis.max - 14).toBeGreaterThan(-1 - axis.min);
    const flat = axisOf([7.5, 7.5], 'output', 'V');
    expect(flat.max).toBeGreaterThan(7.5);
    expect(flat.min).toBeLessThan(7.5);
    const nothing = axisOf([0, 0], 'output', 'V');
    expect(nothing.max).toBeGreaterThan(nothing.min);
  });
});

describe('what to expect at a place', () => {
  test('the board as stated between the least and the most, each with a label that stands within the time shown', () => {
    const { curves, x, y } = expectedChart(node);
    expect(curves.map(({ words }) => words)).toEqual(['least within tolerance', 'most within tolerance', 'as stated']);
    expect([x.min, x.max]).toEqual([0, 3e-6]);
    for (const { y: drawn, labelAt } of curves) {
      const values = drawn.map((value) => value ?? NaN);
      expect(Math.min(...values)).toBeGreaterThanOrEqual(y.min);
      expect(Math.max(...values)).toBeLessThanOrEqual(y.max);
      expect(labelAt).toBeGreaterThan(0);
      expect(labelAt).toBeLessThan(3e-6);
    }
  });

  test('an edge as it is and through two probes: nothing of the longer lead’s ring is cut off', () => {
    const { curves, y } = edgeChart({
      time,
      edge: Float64Array.of(0, 12, 12, 12),
      withSpring: Float64Array.of(0, 12.5, 12, 12),
      withLead: Float64Array.of(0, 19, 6, 12),
      ring: 60e6,
    });
    expect(curves).toHaveLength(3);
    expect(y.max).toBeGreaterThan(19);
  });
});

describe('a place of a board beside that of another', () => {
  const shown = { name: 'output voltage', unit: 'V' as const, x: [0, 1e-6], y: [7.4, 7.6] };

  test('both are within the axis; alone there is one curve', () => {
    expect(placeChart(shown, 'this board').curves).toHaveLength(1);
    const other = { ...shown, y: [2, 3] };
    const { curves, y } = placeChart(shown, 'this board', { trace: other, words: 'a board without fault' });
    expect(curves.map(({ words }) => words)).toEqual(['a board without fault', 'this board']);
    expect([y.min < 2, y.max > 7.6]).toEqual([true, true]);
  });

  test('a place that the other does not have is shown alone', () => {
    expect(placeChart(shown, 'this board', { trace: undefined, words: 'other' }).curves).toHaveLength(1);
  });
});
