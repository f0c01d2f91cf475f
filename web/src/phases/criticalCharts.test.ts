import { describe, expect, test } from '@jest/globals';
import { completeStage, criticalStudy, stageFromDocument } from '@yundro/core';
import { criticalFrequencyChart, criticalWaveformCharts, moved } from './criticalCharts';

const MOSFET = { onResistance: 5e-3, outputCharge: 10e-9, outputChargeVoltage: 20 };
const read = stageFromDocument({
  format: 'yundro-stage',
  version: 1,
  topology: 'buck',
  phases: 2,
  switchingFrequency: 500e3,
  targets: { inputVoltage: { min: 8, nominal: 24, max: 30 }, outputVoltage: 5, outputCurrent: { min: 1, max: 12 } },
  parts: { inductor: { inductance: 2.2e-6 }, outputCapacitors: [{ capacitance: 1e-4 }], highSide: MOSFET, lowSide: MOSFET },
}); // prettier-ignore
if (!read.ok) throw new Error('not read');
const complete = completeStage(read.value);
if (!complete.ok) throw new Error('not complete');
const study = criticalStudy(complete.value);
if (typeof study === 'string') throw new Error(study);

describe('pictures of critical conduction', () => {
  test('a waveform that is moved goes round: cut at the ends of the period, and what leaves on one side comes in on the other', () => {
    // A triangle over a period of 4: up in 1, down in 3.
    const { x, y } = moved([0, 1, 4], [0, 3, 0], 4, 0.5);
    expect(x).toEqual([0, 2, 2, 3, 4]);
    [2, 0, 0, 3, 2].forEach((value, k) => expect(y[k]).toBeCloseTo(value, 12));
    // Not moved, it begins with what follows the jump and ends with what comes before it.
    expect(moved([0, 1, 1, 4], [0, 0, 5, 5], 4, 0)).toEqual({ x: [0, 1, 1, 4], y: [0, 0, 5, 5] });
  });
  test('every phase covers the whole period and reaches the peak', () => {
    const [currents] = criticalWaveformCharts(study, 'valley', 2);
    const { peak, period } = study.shown.valley.period;
    expect(currents.curves).toHaveLength(2);
    for (const { x, y } of currents.curves) {
      expect(x[0]).toBeCloseTo(0, 15);
      expect(x.at(-1)).toBeCloseTo(period, 12);
      expect(Math.max(...y.map(Number))).toBeCloseTo(peak, 6);
    }
  });
  test('a curve of frequency for each input voltage, all of it within the picture', () => {
    const { curves, y } = criticalFrequencyChart(study, 'no-voltage');
    expect(curves.map(({ words }) => words).join(' ')).toMatch(/^8\.00.V 24\.0.V 30\.0.V$/);
    for (const curve of curves)
      for (const value of curve.y) {
        expect(value).toBeGreaterThan(y.min);
        expect(value).toBeLessThan(y.max);
      }
  });
});
