import { describe, expect, test } from '@jest/globals';
import { benchStage } from '../../testing/benchStages.js';
import { asBuilt } from '../board/asBuilt.js';
import { ReadingPredictor } from '../board/predictReading.js';
import { operatingPoint } from '../steady/operatingPoint.js';
import { predictedBand } from './predictedBand.js';

const complete = benchStage();
const LEADS = { input: 0, output: 0 };
const line = { inputVoltage: 12, outputCurrent: 3 };

describe('what is predicted of a line of the log', () => {
  const [found] = predictedBand(complete.stage, [line], LEADS);

  test('is what the steady state has at that point', () => {
    const solved = operatingPoint(complete, { inputVoltage: 12, load: { kind: 'current', current: 3 } });
    if (solved.kind === 'unsolved') throw new Error(JSON.stringify(solved));
    expect(found?.inductorRipple.predicted).toBeCloseTo(solved.point.inductorCurrent.ripple, 6);
    expect(found?.outputVoltage.predicted).toBeCloseTo(solved.point.outputVoltage, 4);
  });

  test('lies within its band, which boards in tolerance make: as wide as the inductance wavers', () => {
    for (const { predicted, low, high } of Object.values(found ?? {})) {
      expect(low).toBeLessThanOrEqual(predicted);
      expect(high).toBeGreaterThanOrEqual(predicted);
    }
    const { predicted = 0, low = 0, high = 0 } = found?.inductorRipple ?? {};
    // An inductance of ±20 %: 24 boards reach most of the way.
    expect(high / predicted).toBeGreaterThan(1.1);
    expect(high / predicted).toBeLessThan(1.3);
    expect(low / predicted).toBeGreaterThan(0.78);
    expect(low / predicted).toBeLessThan(0.9);
  });

  test('a board of the same kind is inside, one of half the inductance is not', () => {
    const { low = 0, high = 0 } = found?.inductorRipple ?? {};
    const inside = Array.from({ length: 20 }, (_, k) => {
      const ripple = new ReadingPredictor(asBuilt(complete, 77, k).stage).at(12, 3, LEADS)?.inductorRipple ?? 0;
      return ripple >= low && ripple <= high;
    }).filter(Boolean).length;
    // Of another 20 a few may lie beyond the extremes of 24.
    expect(inside).toBeGreaterThanOrEqual(16);
    const half = benchStage({}, { inductor: { inductance: 5e-6, resistance: 0.012 } });
    expect(new ReadingPredictor(half.stage).at(12, 3, LEADS)?.inductorRipple).toBeGreaterThan(high);
  });

  test('tells how far it is, and has nothing to say of a line without input voltage or load', () => {
    const told: number[] = [];
    const lines = predictedBand(
      complete.stage,
      [{ outputCurrent: 3 }, { inputVoltage: 12 }, line],
      LEADS,
      23,
      (share) => told.push(share),
    );
    expect(lines.map((one) => one !== undefined)).toEqual([false, false, true]);
    expect(told[0]).toBe(0);
    expect(told.every((share, k) => share < 1 && share >= (told[k - 1] ?? 0))).toBe(true);
    expect(told.length).toBeGreaterThan(20);
  });

  test('of a stage that lacks a part nothing is predicted', () => {
    const bare = { ...complete.stage, parts: {} };
    expect(predictedBand(bare, [line], LEADS)).toEqual([undefined]);
  });
});
