import { describe, expect, test } from '@jest/globals';
import type { Mosfet } from '../stage/partsSchema.js';
import { edgeTimes } from './switchTerms.js';

const MOSFET: Mosfet = {
  onResistance: 5e-3,
  gateDrainCharge: 6e-9,
  gateSourceCharge: 8e-9,
  thresholdVoltage: 2,
  plateauVoltage: 3,
  gateDriveVoltage: 10,
  gateResistance: 1.5,
};
/** The same each time it is asked for would be answered from what is known. */
const anew = (over: Partial<Mosfet> = {}): Mosfet => ({ ...MOSFET, ...over });
const without = (key: keyof Mosfet): Mosfet =>
  Object.fromEntries(Object.entries(MOSFET).filter(([name]) => name !== key)) as Mosfet;

describe('times of the edges', () => {
  // By hand, R (Qgs (1 − Vth/Vpl)/(V − (Vth + Vpl)/2) + Qgd/(V − Vpl)) with 2 ohm of driver and 1.5 of its own, and
  // R (Qgd/Vpl + Qgs (1 − Vth/Vpl)/((Vth + Vpl)/2)) with 1 ohm and 1.5.
  test('are those of driver and gate resistance together', () => {
    const times = edgeTimes(anew(), undefined);
    expect(times?.on).toBeCloseTo(3.5 * (8e-9 / 3 / 7.5 + 6e-9 / 7), 15);
    expect(times?.fall).toBeCloseTo((3.5 * 6e-9) / 7, 15);
    expect(times?.off).toBeCloseTo(2.5 * (6e-9 / 3 + 8e-9 / 3 / 2.5), 15);
  });
  test('take what the stage states of its driver, and a part that states no charge or resistance of its own has none', () => {
    const driver = { voltage: 6, turnOnResistance: 4, turnOffResistance: 3 };
    const times = edgeTimes(anew(), driver);
    expect(times?.on).toBeCloseTo(5.5 * (8e-9 / 3 / 3.5 + 6e-9 / 3), 15);
    expect(times?.off).toBeCloseTo(4.5 * (6e-9 / 3 + 8e-9 / 3 / 2.5), 15);
    expect(edgeTimes(without('gateResistance'), driver)?.on).toBeCloseTo(4 * (8e-9 / 3 / 3.5 + 6e-9 / 3), 15);
    expect(edgeTimes(without('gateSourceCharge'), driver)?.on).toBeCloseTo((5.5 * 6e-9) / 3, 15);
  });
  test('of one device are those of the driver that is asked about, not of the one before', () => {
    const mosfet = anew();
    const slow = { turnOnResistance: 20, turnOffResistance: 20 };
    const first = edgeTimes(mosfet, undefined);
    expect(edgeTimes(mosfet, slow)?.on).toBeGreaterThan(3 * (first?.on ?? Infinity));
    expect(edgeTimes(mosfet, undefined)).toEqual(first);
    // Asked again with the same it is the same object: ranking asks thousands of times.
    expect(edgeTimes(mosfet, undefined)).toBe(edgeTimes(mosfet, undefined));
  });
  test.each(['gateDrainCharge', 'thresholdVoltage', 'plateauVoltage', 'gateDriveVoltage'] as const)(
    'are unknown without %s',
    (key) => {
      expect(edgeTimes(without(key), undefined)).toBeUndefined();
    },
  );
  test('are unknown where the drive does not rise above the plateau, or the plateau above the threshold', () => {
    expect(edgeTimes(anew({ gateDriveVoltage: 3 }), undefined)).toBeUndefined();
    expect(edgeTimes(anew({ gateDriveVoltage: 2.5 }), undefined)).toBeUndefined();
    expect(edgeTimes(anew({ plateauVoltage: 2 }), undefined)).toBeUndefined();
    expect(edgeTimes(anew({ plateauVoltage: 1.5 }), undefined)).toBeUndefined();
    expect(edgeTimes(anew({ gateDriveVoltage: 3.1 }), undefined)).toBeDefined();
  });
  test('are never shorter than package and loop allow: 2 ns at 40 V and below or unstated, 8 ns at 400 V (common practice)', () => {
    const strong = { turnOnResistance: 1e-3, turnOffResistance: 1e-3 };
    const least = (drainSourceVoltageMax?: number): number | undefined =>
      edgeTimes(anew({ gateResistance: 0, ...(drainSourceVoltageMax && { drainSourceVoltageMax }) }), strong)?.on;
    expect(least()).toBe(2e-9);
    expect(least(20)).toBe(2e-9);
    expect(least(40)).toBe(2e-9);
    expect(least(400)).toBeCloseTo(8e-9, 15);
    expect(least(126.5)).toBeCloseTo(4e-9, 11);
  });
});
