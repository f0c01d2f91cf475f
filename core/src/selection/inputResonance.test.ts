import { describe, expect, test } from '@jest/globals';
import { complete, VOLTAGE } from '../../testing/loopStage.js';
import { behind, inputImpedances } from '../smallsignal/inputImpedance.js';
import { magnitude } from '../linalg/complex.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { capacitanceOf } from '../parts/capacitorBank.js';
import { dampingBulk, inputInductance, metImpedances, weakestAtInput } from './inputResonance.js';

const SOURCE = { inductance: 2e-6, resistance: 0.01 };
const stage = (parts: object = {}, over: object = {}): CompleteStage =>
  complete(over, VOLTAGE, { source: SOURCE, ...parts });

describe('bulk that damps', () => {
  test('four times the capacitance, and the resistance of the textbook (R. W. Erickson, D. Maksimović, ch. 10)', () => {
    // R0 = √(2 µH/20 µF); R/R0 = √((2 + n)(4 + 3n)/(2n²(4 + n))) at n = 4.
    const { capacitance, resistance } = dampingBulk(2e-6, 20e-6);
    expect(capacitance).toBeCloseTo(80e-6, 12);
    expect(resistance / Math.sqrt(0.1)).toBeCloseTo(Math.sqrt((6 * 16) / (2 * 16 * 8)), 9);
  });
  test('leaves the peak that is promised: R0 √(2(2 + n))/n, by the impedance of the circuit itself', () => {
    const { capacitance, resistance } = dampingBulk(2e-6, 22e-6);
    const ideal = stage({
      source: { inductance: 2e-6, resistance: 1e-6 },
      inputCapacitors: [
        { capacitance: 22e-6, esr: 0 },
        { capacitance, esr: resistance },
      ],
    });
    const met = metImpedances(ideal);
    const highest = Math.max(...(met?.points ?? []).map(({ filter }) => magnitude(filter)));
    expect(highest / ((Math.sqrt(2e-6 / 22e-6) * Math.sqrt(12)) / 4)).toBeCloseTo(1, 2);
  });
});

test('behind another bank the impedances are those that are worked from nothing', () => {
  const condition = { inputVoltage: 12, load: { kind: 'current' as const, current: 12 } };
  const frequencies = [1e3, 10e3, 24e3, 100e3];
  const other = stage({ inputCapacitors: [{ capacitance: 47e-6, esr: 0.05 }] });
  const [one, again] = [stage(), other].map((of) => inputImpedances(of, condition, frequencies));
  if (typeof one !== 'object' || typeof again !== 'object') throw new Error('no impedances');
  const moved = behind(one, other, 12);
  moved.points.forEach(({ filter, closed }, k) => {
    const direct = again.points[k];
    expect(magnitude(filter) / magnitude(direct?.filter ?? { re: NaN, im: NaN })).toBeCloseTo(1, 9);
    expect(magnitude(closed) / magnitude(direct?.closed ?? { re: NaN, im: NaN })).toBeCloseTo(1, 6);
  });
  expect(moved.nearest.closed.frequency).toBe(again.nearest.closed.frequency);
  expect(moved.nearest.closed.share).not.toBeCloseTo(one.nearest.closed.share, 2);
});

test('the inductance before a stage is that of its source and of its filter', () => {
  const filter = { inputFilter: { inductance: 1e-6, resistance: 0.01 } };
  expect(inputInductance(stage(filter).stage)).toBeCloseTo(3e-6, 12);
  expect(inputInductance(complete().stage)).toBe(0);
});

test('banks count with what their bias leaves of them, each as often as it is there', () => {
  const biasCurve = [
    [0, 1],
    [10, 0.5],
  ] as const;
  const { inputCapacitors } = stage({
    inputCapacitors: [{ capacitance: 10e-6, count: 3, biasCurve }, { capacitance: 47e-6 }],
  });
  expect(capacitanceOf(inputCapacitors, 0)).toBeCloseTo(77e-6, 9);
  expect(capacitanceOf(inputCapacitors, 10)).toBeCloseTo(62e-6, 9);
});

describe('the weakest at the input', () => {
  const rated = (volts: number): object => ({ onResistance: 0.01, drainSourceVoltageMax: volts });
  test('is the main switch or a bank, whichever is rated lower; what states nothing does not count', () => {
    const bank = [{ capacitance: 22e-6, ratedVoltage: 35 }];
    expect(weakestAtInput(stage({ highSide: rated(30), inputCapacitors: bank }))).toEqual({
      rating: 30,
      words: 'high-side switch',
    });
    expect(weakestAtInput(stage({ highSide: rated(40), inputCapacitors: bank }))?.words).toBe('input capacitors');
    expect(weakestAtInput(stage())).toBeUndefined();
  });
  test('is not the switch of a boost, which blocks the output', () => {
    const boost = {
      topology: 'boost',
      targets: { inputVoltage: { min: 5, max: 5 }, outputVoltage: 12, outputCurrent: { min: 1, max: 2 } },
    };
    expect(weakestAtInput(stage({ lowSide: rated(20) }, boost))).toBeUndefined();
  });
});
