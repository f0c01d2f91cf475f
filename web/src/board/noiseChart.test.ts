import { expect, test } from '@jest/globals';
import { noiseChart } from './noiseChart';

const FOUND = {
  edge: undefined,
  lines: [
    { frequency: 400e3, level: 92 },
    { frequency: 800e3, level: 71 },
    { frequency: 1.2e6, level: -Infinity },
  ],
};

test('harmonics and their limit fit the picture; a harmonic that is none is not drawn down for ever', () => {
  const line = [
    { frequency: 150e3, level: 66 },
    { frequency: 30e6, level: 60 },
  ];
  const { x, y, curves } = noiseChart(FOUND, line, 0);
  expect([x.min, x.max, x.logarithmic]).toEqual([150e3, 30e6, true]);
  expect([y.min, y.max]).toEqual([0, 100]);
  expect(curves.map(({ words }) => words)).toEqual(['harmonics of the stage', 'limit']);
  expect(curves[1]?.x[0]).toBeCloseTo(150e3, 3);
  expect(curves[1]?.y[0]).toBeCloseTo(66, 6);
  // Without a limit, or with a single point of one, there is none to draw.
  expect(noiseChart(FOUND, [], 0).curves).toHaveLength(1);
  // ±5 % of 400 kHz are 40 kHz, of which the receiver sees 9.
  expect(noiseChart(FOUND, line, 0.05).curves[0]?.y[0]).toBeCloseTo(92 - 10 * Math.log10(40 / 9), 9);
});
