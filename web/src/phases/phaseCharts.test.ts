import { describe, expect, test } from '@jest/globals';
import {
  cancellationChart,
  countChart,
  drawnCounts,
  equivalentChart,
  inputRmsChart,
  quantile,
  sharingChart,
  sheddingChart,
  sweepChart,
} from './phaseCharts';

const at = (
  chart: {
    readonly curves: readonly {
      readonly words: string;
      readonly x: readonly number[];
      readonly y: readonly (number | undefined)[];
    }[];
  },
  words: string,
  duty: number,
): number => {
  const curve = chart.curves.find((one) => one.words === words);
  const k = curve?.x.findIndex((one) => one >= duty - 1e-9) ?? -1;
  return curve?.y[k] ?? NaN;
};

describe('pictures of phases', () => {
  // N (D − m/N)((m + 1)/N − D) / (D (1 − D)) (standard result): 2/3 at N = 2, D = 0.25; nulls at k/N.
  test('cancellation of every number drawn, nulls of the design marked, its duty ratios a band', () => {
    const chart = cancellationChart(4, [0.2, 0.3]);
    expect(at(chart, '2', 0.25)).toBeCloseTo(2 / 3, 6);
    expect(at(chart, '4, this design', 0.1)).toBeCloseTo(0.66666667, 6);
    expect(at(chart, '1', 0.37)).toBeCloseTo(1, 6);
    expect(chart.marks.filter(({ y, here }) => y === 0 && !here).map(({ x }) => x)).toEqual([0.25, 0.5, 0.75]);
    expect(chart.regions).toEqual([{ fromX: 0.2, toX: 0.3, words: 'this design' }]);
    // A design that hardly moves is seen all the same.
    const [band] = cancellationChart(2, [0.1, 0.1]).regions ?? [];
    expect((band?.toX ?? 0) - (band?.fromX ?? 0)).toBeGreaterThan(0.003);
    expect(cancellationChart(2, []).regions).toEqual([]);
  });
  // sqrt((D − m/N)((m + 1)/N − D)) of the load (standard result): 0.5 and 0.25 at the most for one and two phases.
  test('current of the input capacitors', () => {
    const chart = inputRmsChart(2, [0.25], 0);
    expect(at(chart, '1', 0.5)).toBeCloseTo(0.5, 3);
    expect(at(chart, '2, this design', 0.25)).toBeCloseTo(0.25, 3);
  });
  test('the usual numbers are drawn, with that of the design, six at most', () => {
    expect(drawnCounts(5)).toEqual([1, 2, 3, 4, 5, 6]);
    expect(drawnCounts(12)).toEqual([1, 2, 3, 4, 6, 12]);
    expect(drawnCounts(1)).toEqual([1, 2, 3, 4, 6]);
  });
  test('numbers of phases: the recommended one is filled and named, those that miss something are small', () => {
    const count = (phases: number, misses: readonly string[]) =>
      ({ phases, misses, figures: { loss: phases, area: 1, price: 1 } }) as Parameters<typeof countChart>[0][number];
    const chart = countChart(
      [count(1, ['a']), count(2, []), count(3, [])],
      2,
      'lost',
      'W',
      ({ figures }) => figures.loss,
    );
    expect(chart.marks.map(({ here, small, label }) => [here, small, label])).toEqual([
      [false, true, undefined],
      [true, false, 'recommended'],
      [false, false, undefined],
    ]);
    expect(chart.y.max).toBeGreaterThan(3);
  });
  test('the sweep begins with what is not coupled, and the equivalent inductances are those published', () => {
    const chart = sweepChart(
      {
        uncoupled: { winding: 8, summed: 6 },
        points: [
          { kind: 'inverse', coefficient: 0.5, winding: 9, summed: 12 },
          { kind: 'direct', coefficient: 0.5, winding: 10, summed: NaN },
        ],
      },
      0.4,
    );
    // What has no operating point leaves a gap, and the axis as it is.
    expect(chart.y.max).toBeGreaterThan(12);
    expect(chart.y.max).toBeLessThan(16);
    expect(chart.marks).toEqual([{ x: 0.4, y: 0, here: true }]);
    expect(chart.curves.map(({ words, x, y }) => [words, x, y])).toEqual([
      ['inverse, winding', [0, 0.5], [8, 9]],
      ['inverse, sum', [0, 0.5], [6, 12]],
      ['direct, winding', [0, 0.5], [8, 10]],
      ['direct, sum', [0, 0.5], [6, NaN]],
    ]);
    const equivalent = equivalentChart({ kind: 'inverse', coefficient: 0.6, inductance: 500e-9, windings: 2 }, [0.2]);
    // P.-L. Wong et al. (2001): 376.47 nH and 200 nH of 500 nH at D = 0.2.
    expect(at(equivalent, 'steady state', 0.2)).toBeCloseTo(0.75294, 4);
    expect(at(equivalent, 'to a load step', 0)).toBeCloseTo(0.4, 9);
  });
  test('shedding and sharing', () => {
    const point = (load: number, efficiency: number) => ({
      load,
      active: 1,
      lossOfAll: 1,
      loss: 1,
      efficiencyOfAll: efficiency - 0.1,
      efficiency,
    });
    const shed = sheddingChart({
      inputVoltage: 12,
      points: [point(1, 0.8), point(10, 0.9)],
      thresholds: [{ from: 1, to: 2, add: 5, drop: 4 }],
      mean: undefined,
    });
    expect(shed.marks).toEqual([{ x: 5, y: 0.9, here: false, label: '2 at work' }]);
    expect(shed.y.min).toBeCloseTo(0.7, 9);
    const sample = (open: number, shared: number) => ({ open, shared, openPeak: 1, sharedPeak: 1, residue: 0 });
    const shares = sharingChart({
      inputVoltage: 12,
      outputCurrent: 1,
      equalPeak: 1,
      saturation: undefined,
      spread: '',
      tried: 2,
      unsolved: 0,
      samples: [sample(1.2, 1.05), sample(1.1, 1.02)],
    });
    expect(shares.curves[0]).toMatchObject({ x: [1.1, 1.2], y: [0.5, 1] });
    expect([
      quantile([3, 1, 2, 4], 0.5),
      quantile([3, 1, 2, 4], 1),
      quantile([3, 1, 2, 4], 0.95),
      quantile([5], 0.1),
    ]).toEqual([2, 4, 4, 5]);
  });
});
