import { describe, expect, test } from '@jest/globals';
import type { LoopReport } from '@yundro/core';
import { gainChart, inputChart, otherCharts, phaseChart, planeChart } from './loopCharts';

const unit = (size: number, degrees: number) => ({
  re: size * Math.cos((degrees * Math.PI) / 180),
  im: size * Math.sin((degrees * Math.PI) / 180),
});
/** A loop that falls by 20 dB a decade through one at 10 kHz, with 50° to spare. */
const report = {
  points: [1e2, 1e3, 1e4, 1e5].map((frequency) => ({
    frequency,
    plant: unit(10, -20),
    compensator: unit(1e3 / frequency, -90),
    loop: unit(1e4 / frequency, -130),
    outputImpedance: unit(0.02, 45),
    line: unit(1e-2, 10),
    inductorCurrent: unit(2, 0),
  })),
  crossings: [{ frequency: 1e4, phaseMargin: 50, direction: 'falling' }],
  crossover: { kind: 'found', value: 1e4, frequency: 1e4 },
  phaseMargin: { kind: 'found', value: 50, frequency: 1e4 },
  gainMargin: { kind: 'none', reason: 'not reached' },
} as unknown as LoopReport;

describe('pictures of the loop', () => {
  test('gain: every curve in dB, the crossover marked, the scale in steps of 20 dB', () => {
    const { curves, marks, y } = gainChart(report);
    expect(curves.find(({ words }) => words === 'loop')?.y.map((value) => Math.round(value ?? NaN) + 0)).toEqual([
      40, 20, 0, -20,
    ]);
    expect(marks).toMatchObject([{ x: 1e4, y: 0, label: 'crossover' }]);
    expect([y.min, y.max]).toEqual([-40, 40]);
  });
  test('every crossing is marked, and the one that is judged says so', () => {
    const several = {
      ...report,
      crossings: [
        { frequency: 2e3, phaseMargin: 80, direction: 'falling' },
        { frequency: 4e3, phaseMargin: 120, direction: 'rising' },
        { frequency: 1e4, phaseMargin: 50, direction: 'falling' },
      ],
    } as unknown as LoopReport;
    expect(gainChart(several).marks.map(({ x, label }) => [x, label])).toEqual([
      [2e3, ''],
      [4e3, ''],
      [1e4, 'crossover judged'],
    ]);
  });
  test('a trace laid over widens the scale and is drawn apart', () => {
    const trace = {
      words: 'measured, a',
      frequencies: [1e3, 1e4],
      values: [unit(1e3, 0), unit(1, 0)],
      style: 'trace' as const,
    };
    const { curves, y } = gainChart(report, [trace]);
    const drawn = curves.find(({ words }) => words === 'measured, a');
    expect(drawn?.colour).not.toBe(curves.find(({ words }) => words === 'loop')?.colour);
    expect(y.max).toBe(60);
  });
  test('phase: the margin is marked where the loop stands', () => {
    const { marks } = phaseChart(report);
    expect(marks[0]?.y).toBeCloseTo(-130, 6);
    expect(marks[0]?.label).toBe('phase margin 50°');
  });
  test('the plane shows what lies near the unit circle, and marks −1', () => {
    const { curves, marks } = planeChart(report);
    expect(curves.find(({ words }) => words === 'loop gain')?.x.length).toBe(3);
    expect(marks).toMatchObject([{ x: -1, y: 0 }]);
  });
  test('line and current in dB', () => {
    const [[, line], [, current]] = otherCharts(report) as never as [
      [string, ReturnType<typeof gainChart>],
      [string, ReturnType<typeof gainChart>],
    ];
    expect(line.curves[0]?.y[0]).toBeCloseTo(-40, 6);
    expect(current.curves[0]?.y[0]).toBeCloseTo(20 * Math.log10(2), 6);
  });
  test('input side: a scheme without held control leaves its curves out', () => {
    const points = [1e2, 1e3].map((frequency) => ({ frequency, filter: unit(0.1, 0), closed: unit(5, 180) }));
    const { curves, marks } = inputChart({
      kind: 'solved',
      points,
      nearest: { closed: { frequency: 1e3, share: 0.02 } },
    });
    expect(curves.map(({ words }) => words)).toEqual(['what feeds it', 'loop closed']);
    expect(marks[0]?.y).toBeCloseTo(0.1, 9);
  });
});
