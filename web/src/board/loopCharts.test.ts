import { describe, expect, test } from '@jest/globals';
import type { WorstLoop } from '@yundro/core';
import { USUAL_LOOP } from './boardStore';
import { areaChart, inductanceOf } from './loopCharts';

const LOOP: WorstLoop = {
  devices: ['highSide1', 'lowSide1'],
  hops: [{ from: 'in', to: '0', elements: ['inputCapacitor1'] }],
  current: 10,
  closing: { highSide1: 8, lowSide1: 10 },
  main: 'highSide1',
  instant: 0,
  rms: 6,
  blocking: { highSide1: 24.8, lowSide1: 24 },
  blocked: 24,
  corner: { inputVoltage: 24, outputCurrent: 8, temperature: 25 },
  edge: 4e-9,
  edgeStated: true,
  rate: 2.5e9,
  rings: { resistance: 0.02, capacitance: 400e-12, blocked: 24, edge: 4e-9, current: 8, recoveryCharge: 15e-9 },
  rating: 40,
};

describe('peak voltage against the area of a loop', () => {
  test('rises with the area, more without a plane, and the mark is the loop as it is laid out', () => {
    const chart = areaChart(LOOP, USUAL_LOOP);
    const [open, over] = chart?.curves.map(({ y }) => y as readonly number[]) ?? [];
    if (!open || !over || !chart) throw new Error('no curves');
    for (const curve of [open, over])
      curve.forEach((value, k) => expect(value).toBeGreaterThanOrEqual((curve[k - 1] ?? 0) - 1e-9));
    expect(open.at(-1)).toBeGreaterThan(over.at(-1) ?? Infinity);
    expect(chart.marks[0]?.x).toBeCloseTo(50e-6, 12);
    expect(chart.marks[0]?.y).toBeGreaterThan(LOOP.blocked);
    expect(chart.regions[0]).toMatchObject({ fromY: 40, limit: true });
  });
  test('is not drawn where the device says nothing of its capacitance, nor a limit where it has no rating', () => {
    expect(areaChart({ ...LOOP, rings: undefined }, USUAL_LOOP)).toBeUndefined();
    expect(areaChart({ ...LOOP, rating: undefined }, USUAL_LOOP)?.regions).toEqual([]);
  });
  test('a plane under the loop takes most of its inductance away', () => {
    expect(inductanceOf(USUAL_LOOP)).toBeLessThan(0.3 * inductanceOf({ ...USUAL_LOOP, height: undefined }));
  });
});
