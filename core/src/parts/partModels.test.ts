import { describe, expect, test } from '@jest/globals';
import type { CapacitorBank, Inductor } from '../stage/partsSchema.js';
import { bankModel, chargeAverageAtBias, leastShare, onCurve, remainingAtBias } from './capacitorBank.js';
import { inductanceCurveOf, saturatedSwing } from './inductanceCurve.js';
import { COPPER, copperAt, coreLossOf, STATED_AT } from './inductorLoss.js';

const bias: readonly (readonly [number, number])[] = [
  [0, 1],
  [10, 0.5],
  [20, 0.3],
];
const bank = {
  capacitance: 10e-6,
  esr: 0.006,
  esl: 0.9e-9,
  count: 3,
  kind: 'ceramic',
  biasCurve: bias,
} as unknown as CapacitorBank;

describe('a bank of capacitors', () => {
  test('a curve is straight between its points and level beyond them', () => {
    expect([-1, 0, 5, 10, 12, 20, 99].map((x) => Number(onCurve(bias, x).toFixed(12)))).toEqual([
      1, 1, 0.75, 0.5, 0.46, 0.3, 0.3,
    ]);
    expect(() => onCurve([], 1)).toThrow(RangeError);
  });
  test('parts side by side add their capacitance, at the bias whichever its sign, and share ESR and ESL', () => {
    const { capacitance, esr, esl } = bankModel(bank, -5);
    expect(capacitance).toBeCloseTo(3 * 0.75 * 10e-6, 15);
    expect(esr).toBeCloseTo(0.002, 12);
    expect(esl).toBeCloseTo(0.3e-9, 20);
    expect(remainingAtBias({ ...bank, biasCurve: undefined }, 5)).toBe(1);
  });
  test('the charge average is the area under the curve over the voltage', () => {
    expect(chargeAverageAtBias(bias, 10)).toBeCloseTo(0.75, 12);
    // 10 V at 0.75 on average, 10 V more at 0.4.
    expect(chargeAverageAtBias(bias, 20)).toBeCloseTo((7.5 + 4) / 20, 12);
    expect(chargeAverageAtBias(bias, 0)).toBe(1);
    expect(chargeAverageAtBias(bias, 40)).toBeCloseTo((7.5 + 4 + 6) / 40, 12);
  });
  test('tolerance, temperature and age take away one after another, never all', () => {
    expect(leastShare({ tolerance: 0.1, temperatureDrop: 0.15, agingDrop: 0.05 })).toBeCloseTo(0.9 * 0.85 * 0.95, 12);
    expect(leastShare({})).toBe(1);
    expect(leastShare({ tolerance: 1.5 })).toBeCloseTo(0.01, 12);
  });
});

const inductor = (over: object): Inductor => ({ inductance: 10e-6, resistance: 0.01, ...over });

describe('an inductor that loses inductance with current', () => {
  const soft = inductanceCurveOf(inductor({ saturationCurrent: 8, saturationDrop: 0.3 }));
  const table = inductanceCurveOf(
    inductor({
      inductanceCurve: [
        [2, 10e-6],
        [6, 6e-6],
        [10, 5e-6],
      ],
    }),
  );
  if (!soft || !table) throw new Error('no curve');
  test('soft saturation goes through its two points, for either sign', () => {
    expect(soft.inductance(0)).toBe(10e-6);
    expect(soft.inductance(8)).toBeCloseTo(7e-6, 15);
    expect(soft.inductance(-8)).toBe(soft.inductance(8));
    expect(soft.flux(-3)).toBe(-soft.flux(3));
  });
  test('a table is level before its first and after its last point, straight between', () => {
    expect([0, 1, 2, 4, 6, 8, 50].map((at) => Number((1e6 * table.inductance(at)).toFixed(9)))).toEqual([
      10, 10, 10, 8, 6, 5.5, 5,
    ]);
    // Areas: 2 A at 10 µH, 4 A at 8 µH, 2 A at 5.75 µH.
    expect(table.flux(8)).toBeCloseTo(20e-6 + 32e-6 + 11.5e-6, 15);
  });
  test.each([
    ['soft', soft],
    ['table', table],
  ])('%s: the flux is the integral of the inductance', (_, curve) => {
    for (const current of [0.5, 3, 5.5, 9]) {
      const step = 1e-5;
      const slope = (curve.flux(current + step) - curve.flux(current - step)) / (2 * step);
      expect(slope / curve.inductance(current)).toBeCloseTo(1, 6);
    }
  });
  test('a swing has its flux between valley and peak, and the average over the flux', () => {
    const { peak, valley } = saturatedSwing(soft, 20e-6, 6, false);
    expect(soft.flux(peak) - soft.flux(valley)).toBeCloseTo(20e-6, 12);
    let sum = 0;
    const parts = 2000;
    for (let k = 0; k < parts; k += 1) {
      const current = valley + ((k + 0.5) / parts) * (peak - valley);
      sum += (current * soft.inductance(current) * (peak - valley)) / parts;
    }
    expect(sum / 20e-6).toBeCloseTo(6, 5);
    // More than the linear ripple, and pushed upwards.
    expect(peak - valley).toBeGreaterThan(2);
    expect((peak + valley) / 2).toBeGreaterThan(6);
  });
  test('a current that stops begins at zero', () => {
    const { peak, valley } = saturatedSwing(soft, 20e-6, 1, true);
    expect(valley).toBe(0);
    expect(soft.flux(peak)).toBeCloseTo(20e-6, 12);
  });
  test('a part that states neither table nor drop has no curve', () => {
    expect(inductanceCurveOf(inductor({ saturationCurrent: 8 }))).toBeUndefined();
    expect(inductanceCurveOf(inductor({ saturationDrop: 0.3 }))).toBeUndefined();
  });
});

describe('what an inductor turns into heat', () => {
  test('copper by its temperature coefficient, about where it is stated', () => {
    expect(copperAt(0.02, STATED_AT)).toBe(0.02);
    expect(copperAt(0.02, STATED_AT + 100)).toBeCloseTo(0.02 * (1 + 100 * COPPER), 12);
  });
  test('core by powers of frequency and swing, the exponents of Steinmetz where none are stated', () => {
    const part = inductor({ coreLossCoefficient: 0.1, coreLossFrequencyExponent: 1.4, coreLossFluxExponent: 2.3 });
    expect(coreLossOf(part, 100e3, 1e-6)).toBeCloseTo(0.1, 12);
    expect((coreLossOf(part, 200e3, 1e-6) ?? NaN) / 0.1).toBeCloseTo(2 ** 1.4, 9);
    expect((coreLossOf(part, 100e3, 3e-6) ?? NaN) / 0.1).toBeCloseTo(3 ** 2.3, 9);
    expect(coreLossOf(inductor({ coreLossCoefficient: 0.1 }), 200e3, 2e-6)).toBeCloseTo(0.1 * 2 * 4, 12);
    expect(coreLossOf(inductor({}), 200e3, 2e-6)).toBeUndefined();
  });
});
