import { describe, expect, test } from '@jest/globals';
import { complete, VOLTAGE } from '../../testing/loopStage.js';
import { capacitanceCurveOf } from '../parts/capacitorBank.js';
import { bandAt, bandsOf } from './biasBands.js';
import { startUp } from './scenario.js';
import { simulate } from './simulate.js';

const bank = {
  capacitance: 100e-6,
  esr: 0.003,
  esl: 0,
  count: 2,
  biasCurve: [
    [0, 1],
    [3.3, 0.6],
    [6.3, 0.2],
  ] as [number, number][],
};

describe('the bands of a capacitance curve', () => {
  const curve = capacitanceCurveOf(bank as never);
  if (!curve) throw new Error('a curve is given');
  const bands = bandsOf(curve, 6.3);

  test('bear the charge and the energy of the curve, worked by hand', () => {
    // q(3.3 V) = 200 µF · 3.3 V · (1 + 0.6)/2; E = C₀ (v²/2 − 0.4/3.3 · v³/3)
    expect(curve.integral(3.3)).toBeCloseTo(200e-6 * 3.3 * 0.8, 12);
    const energy = 200e-6 * (3.3 ** 2 / 2 - ((0.4 / 3.3) * 3.3 ** 3) / 3);
    expect(curve.energy(3.3)).toBeCloseTo(energy, 12);
    expect(bands.energy(3.3) / energy).toBeCloseTo(1, 3);
    expect(bands.energy(-3.3)).toBe(bands.energy(3.3));
    const charge = bands.from.reduce((sum, low, k) => {
      const high = bands.from[k + 1];
      return high === undefined ? sum : sum + (bands.capacitances[k] ?? 0) * (high - low);
    }, 0);
    expect(charge).toBeCloseTo(curve.integral(6.3), 12);
  });
  test('are as many as keep each within a few per cent of the curve', () => {
    expect(bands.from.length).toBeGreaterThan(20);
    for (let v = 0; v < 6.3; v += 0.05) {
      const within = (bands.capacitances[bandAt(bands, v)] ?? 0) / curve.value(v);
      expect(Math.abs(within - 1)).toBeLessThan(0.08);
    }
    expect(bands.capacitances.at(-1)).toBeCloseTo(40e-6, 12);
  });
});

describe('a start with capacitors that lose capacitance as they are charged', () => {
  const start = (parts: object) => {
    const result = simulate(
      complete({}, VOLTAGE, { outputCapacitors: [parts] }),
      { inputVoltage: 12, load: { kind: 'resistance', resistance: 1 } },
      startUp(400),
    );
    if (result.kind === 'failed') throw new Error(result.reason);
    return result;
  };
  const made = start(bank);
  // As the loop has the bank: what it is at 3.3 V.
  const level = start({ ...bank, biasCurve: undefined, capacitance: 60e-6 });

  test('every joule is accounted for, and more of them come out of the source than into the capacitance at its bias', () => {
    for (const { energy } of [made, level]) expect(Math.abs(energy.residual / energy.source)).toBeLessThan(1e-7);
    // Stored over the run: 200 µF at nothing falling to 120 µF at 3.3 V, against 120 µF throughout.
    const more = 200e-6 * (3.3 ** 2 / 2 - ((0.4 / 3.3) * 3.3 ** 3) / 3) - (120e-6 * 3.3 ** 2) / 2;
    expect((made.energy.stored - level.energy.stored) / more).toBeCloseTo(1, 1);
    expect(made.measures.peakInductorCurrent).toBeGreaterThan(1.1 * level.measures.peakInductorCurrent);
  });
});
